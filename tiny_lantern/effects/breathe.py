"""Breathe: rises and falls as a raised cosine between its lowest level and full."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, EVEN, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle, cycle_numbers, q16
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, at_level, colour, ratio
from tiny_lantern.effects.shapes import raised
from tiny_lantern.kernel.nodes import ONE


def _light() -> Light:
    wave = curved(raised(cycle()))
    low = ratio("low")
    return at_level(colour("colour"), (low + (ONE - low) * wave).least(ONE))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "low": q16(values["low"]),
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="breathe",
    help="Rises and falls as a raised cosine between its lowest level and full.",
    rank=30,
    parameters=(
        ColourParameter("colour", "colour", "#ffb648"),
        Number("period_s", "period", 4.0, 0.02, 3600, "s"),
        Number("low", "lowest", 0.05, 0, 1, "ratio"),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.2, "low": 0.0},
    fresh={"curve": EVEN},
)
