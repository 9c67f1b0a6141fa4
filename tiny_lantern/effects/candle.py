"""Candle: light that wavers as a flame does, from calm to draughty."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, between, chance, step
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
    ratio,
    slot,
    whole,
)
from tiny_lantern.kernel.nodes import ONE, select


def _light() -> Light:
    """Depths drawn at every interval, joined by straight lines as far as they are smoothed."""
    own = select(whole("apart", 0, 1), slot(), 0)
    now, then = chance(own, step()), chance(own, step() + 1)
    wavers = between(now, then, (cycle() * ratio("smoothing")).least(ONE)).called("wavers")
    level = (ONE - curved(wavers) * ratio("draught")).most(ratio("low"))
    return at_level(colour("colour"), level)


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        "draught": q16(values["draught"]),
        "low": q16(values["low"]),
        "smoothing": q16(values["smoothing"]),
        "apart": values["apart"],
        "seed": values["seed"],
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="candle",
    help="Light that wavers as a flame does, from calm to draughty: for lanterns and windows.",
    rank=32,
    parameters=(
        ColourParameter("colour", "colour", "#ff9329"),
        Number("draught", "draught", 0.55, 0, 1, "ratio"),
        Number("low", "lowest", 0.2, 0, 1, "ratio"),
        Number("interval_s", "interval", 0.12, 0.02, 60, "s"),
        Number("smoothing", "smoothed", 1.0, 0, 1, "ratio"),
        Number("apart", "wavers", 1, 0, 1, whole=True, words=("all as one", "each alone")),
        CURVE,
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.2, "draught": 0.9},
)
