"""Television: the light of a screen on a wall, with cuts and slow changes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, beat, beat_numbers, between, chance, in_beat, step
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
from tiny_lantern.effects.shapes import mixed
from tiny_lantern.kernel.nodes import ONE, constant

HUE, MOVE = 1 << 24, 1 << 25


def _light() -> Light:
    """A height and a hue drawn for each scene, and a slower waver inside it."""
    waver = between(chance(beat(), constant(MOVE)), chance(beat() + 1, constant(MOVE)), in_beat()).called("waver")
    low = ratio("low")
    scene = ((chance(step()) + waver) >> 1).called("scene")
    level = (low + (ONE - low) * curved(scene)).clamp(0, ONE)
    return at_level(mixed(colour("colour"), colour("colour_to"), chance(step(), constant(HUE))), level)


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        **beat_numbers(values["beat_s"], span.tick_hz),
        "low": q16(values["low"]),
        "seed": values["seed"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="television",
    help="The light of a screen on the wall of a room: scenes that cut, and changes within them.",
    rank=72,
    parameters=(
        ColourParameter("colour", "one colour", "#6fa8ff"),
        ColourParameter("colour_to", "another", "#ffe2c4"),
        Number("interval_s", "a scene lasts", 2.5, 0.1, 600, "s"),
        Number("beat_s", "wavers in", 0.6, 0.05, 60, "s"),
        Number("low", "lowest", 0.15, 0, 1, "ratio"),
        CURVE,
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.6},
)
