"""Turn signal: the lights sweep on, stay, and go dark together; from the middle as a hazard."""

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
    colour,
    count,
    ratio,
    slot,
    whole,
)
from tiny_lantern.kernel.nodes import ONE, Type, given, muldiv, select

WAYS = 2


def _light() -> Light:
    """``way`` 0 sweeps from the first light, 1 from the last, 2 from the middle to both ends."""
    way, last = whole("way", 0, WAYS), count() - 1
    twice = 2 * slot() - last
    outward = twice.most(0 - twice)
    forward = select(way.equals(0), 2 * slot(), 2 * (last - slot()))
    far = select(way.equals(WAYS), outward, forward).most(0)
    swept = muldiv(cycle(), ONE, given("sweep", 1, ONE, Type.I32)).clamp(0, ONE).seen_as(Type.Q16)
    reached = far <= muldiv(2 * count(), curved(swept).seen_as(Type.I32), ONE)
    lit = reached.least(cycle() < ratio("lit"))
    red, green, blue = (select(lit, channel, 0) for channel in colour("colour"))
    return red, green, blue


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "sweep": max(1, q16(values["sweep"])),
        "lit": q16(values["lit"]),
        "way": values["way"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="turn_signal",
    help="The lights sweep on one after another, stay, and go dark together; from the middle outward as a hazard.",
    rank=45,
    parameters=(
        ColourParameter("colour", "colour", "#ff9500"),
        Number("period_s", "period", 0.8, 0.1, 60, "s"),
        Number("sweep", "sweeps for", 0.35, 0, 1, "ratio"),
        Number("lit", "lit until", 0.6, 0, 1, "ratio"),
        Number("way", "sweeps from", 0, 0, WAYS, whole=True, words=("the first", "the last", "the middle")),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.0},
)
