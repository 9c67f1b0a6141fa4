"""Fade: from one colour to another, once, over the whole length of the effect."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, EVEN, curve_numbers, curved
from tiny_lantern.effects.cycle import MOST, fraction
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, tick, whole
from tiny_lantern.kernel.nodes import ONE, Type, muldiv

FINEST_SHARE = 32_767


def _light() -> Light:
    gone = muldiv(tick(), whole("tick_share", ONE, FINEST_SHARE * ONE), whole("length_parts", 1, MOST))
    share = curved(gone.clamp(0, ONE).seen_as(Type.Q16)).called("gone")
    left = ONE - share
    ends = zip(colour("colour"), colour("colour_to"), strict=True)
    red, green, blue = ((begin * left + end * share).least(ONE) for begin, end in ends)
    return red, green, blue


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    arrives = span.length_ticks > 1 and values["arrives"]
    above, below = fraction(span.length_ticks - 1 if arrives else span.length_ticks, FINEST_SHARE)
    return {"length_parts": max(1, above), "tick_share": below * ONE, **curve_numbers(values["curve"])}


KIND = EffectKind(
    kind="fade",
    help="From one colour to another, once, over the whole length of the effect.",
    rank=20,
    parameters=(
        ColourParameter("colour", "colour", "#000000"),
        ColourParameter("colour_to", "to colour", "#ffb648"),
        CURVE,
        Number("arrives", "ends", 0, 0, 1, whole=True, words=("a step before it", "on its colour")),
    ),
    light=_light,
    numbers=_numbers,
    fresh={"arrives": 1, "curve": EVEN},
)
