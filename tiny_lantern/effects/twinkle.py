"""Twinkle: some of the lights glint, each at a time of its own."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, chance
from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import FINEST, MOST, cycle_numbers, q16
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    at_level,
    colour,
    ratio,
    slot,
    tick,
    whole,
)
from tiny_lantern.effects.shapes import raised
from tiny_lantern.kernel.nodes import ONE, Type, muldiv, select, turn

LATEST, MOST_LATE = 4096, 1_500_000


def _light() -> Light:
    """Every light has windows of its own, begun at a drawn time; in each it glints or not, as is drawn for it."""
    late = (chance(slot()) >> 4).seen_as(Type.I32)
    parts, of = whole("tick_parts", 1, FINEST), whole("cycle_parts", 1, MOST)
    own = tick() + muldiv(late, of, parts * LATEST).clamp(0, MOST_LATE)
    own = own.called("own_time")
    window = muldiv(own, parts, of).clamp(0, MOST).called("window")
    glints = chance(slot(), window) < ratio("share")
    low = ratio("low")
    glint = select(glints, curved(raised(turn(own, parts, of))), 0).called("glint")
    return at_level(colour("colour"), (low + (ONE - low) * glint).least(ONE))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "share": q16(values["share"]),
        "low": q16(values["low"]),
        "seed": values["seed"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="twinkle",
    help="Some of the lights glint, each at a time of its own: frost, water, a starless sky of glow-worms.",
    rank=62,
    parameters=(
        ColourParameter("colour", "colour", "#fff2d0"),
        Number("period_s", "a glint lasts", 0.9, 0.05, 3600, "s"),
        Number("share", "glinting", 0.3, 0, 1, "ratio"),
        Number("low", "lowest", 0.0, 0, 1, "ratio"),
        CURVE,
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"share": 0.5, "period_s": 0.8},
)
