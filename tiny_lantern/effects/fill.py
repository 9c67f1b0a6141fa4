"""Fill and drain: the lights fill up from one end, and drain again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle, cycle_numbers, q16
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    at_level,
    colour,
    count,
    slot,
    whole,
)
from tiny_lantern.kernel.nodes import ONE, Type, given, muldiv, select

FINE = 256


def _light() -> Light:
    """How full it is in 256ths of a light, on its curve, and how much of that is this light's."""
    share = given("share", 1, ONE, Type.Q16)
    rising = muldiv(cycle(), ONE, share.seen_as(Type.I32)).clamp(0, ONE)
    rest = (ONE - share).most(1)
    falling = muldiv((ONE - cycle()).seen_as(Type.Q16), ONE, rest.seen_as(Type.I32)).clamp(0, ONE)
    full = curved(select(cycle() < share, rising, falling)).seen_as(Type.I32).called("full")
    there = muldiv(full, count() * FINE, ONE)
    at = select(whole("backward", 0, 1), count() - 1 - slot(), slot())
    own = (there - at * FINE).clamp(0, FINE).called("own")
    return at_level(colour("colour"), muldiv(own, ONE, FINE).clamp(0, ONE).seen_as(Type.Q16))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "share": max(1, q16(values["share"])),
        "backward": values["backward"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="fill",
    help="The lights fill up one after another from the first, and drain again: tanks, tides, progress.",
    rank=56,
    parameters=(
        ColourParameter("colour", "colour", "#3aa6ff"),
        Number("period_s", "period", 4.0, 0.05, 3600, "s"),
        Number("share", "filling for", 0.5, 0.01, 1, "ratio"),
        Number("backward", "fills from", 0, 0, 1, whole=True, words=("the first", "the last")),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.6},
)
