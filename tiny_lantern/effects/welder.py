"""Welder: bursts of hard, blinding flicker with pauses between."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, beat, beat_numbers, chance, step
from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle_numbers, q16
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    at_level,
    colour,
    ratio,
)
from tiny_lantern.kernel.nodes import ONE, constant, select

FIRST = 1 << 24


def _light() -> Light:
    """Windows of time with an arc or without, as is drawn; in an arc a level is drawn every few frames."""
    burning = (chance(step()) < ratio("share")).called("burning")
    low = ratio("low")
    level = low + (ONE - low) * curved(chance(beat(), constant(FIRST)))
    return at_level(colour("colour"), select(burning, level.least(ONE), 0))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        **beat_numbers(values["beat_s"], span.tick_hz),
        "share": q16(values["share"]),
        "low": q16(values["low"]),
        "seed": values["seed"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="welder",
    help="Bursts of hard blue-white flicker with pauses between: a workshop at night. Mind the flash check.",
    rank=70,
    parameters=(
        ColourParameter("colour", "colour", "#cfe4ff"),
        Number("interval_s", "bursts of", 0.7, 0.05, 600, "s"),
        Number("share", "burning", 0.5, 0, 1, "ratio"),
        Number("beat_s", "flickers every", 0.05, 0.02, 10, "s"),
        Number("low", "lowest", 0.2, 0, 1, "ratio"),
        CURVE,
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.4, "share": 0.7},
)
