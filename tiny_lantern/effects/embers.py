"""Embers: glow that swells and sinks slowly, from one colour toward another."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, between, chance, step
from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle, cycle_numbers, q16
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, at_level, colour, ratio, slot
from tiny_lantern.effects.shapes import mixed, raised
from tiny_lantern.kernel.nodes import ONE


def _light() -> Light:
    """Each light wanders between drawn heights along half a raised cosine; what is hot is nearer the second colour."""
    eased = raised(cycle() >> 1)
    heat = curved(between(chance(slot(), step()), chance(slot(), step() + 1), eased)).called("heat")
    low = ratio("low")
    level = (low + (ONE - low) * (heat * heat)).least(ONE)
    return at_level(mixed(colour("colour"), colour("colour_to"), heat), level)


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        "low": q16(values["low"]),
        "seed": values["seed"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="embers",
    help="Glow that swells and sinks slowly from one colour toward another: for grates and camp fires.",
    rank=33,
    parameters=(
        ColourParameter("colour", "cool", "#7a0c00"),
        ColourParameter("colour_to", "hot", "#ff7a1a"),
        Number("interval_s", "interval", 1.4, 0.05, 600, "s"),
        Number("low", "lowest", 0.08, 0, 1, "ratio"),
        CURVE,
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.6},
)
