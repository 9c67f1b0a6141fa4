"""Alternate: neighbours take turns in two colours."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import step
from tiny_lantern.effects.cycle import cycle_numbers
from tiny_lantern.effects.kind import MOST_LIGHTS, ColourParameter, EffectKind, Light, Number, Span, colour, slot, whole
from tiny_lantern.effects.shapes import chosen


def _light() -> Light:
    turned = (slot().div(whole("width", 1, MOST_LIGHTS)) + step().mod(2)).mod(2)
    return chosen(turned, colour("colour_to"), colour("colour"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    return {**cycle_numbers(values["interval_s"], span.tick_hz), "width": values["width_px"]}


KIND = EffectKind(
    kind="alternate",
    help="Neighbours, or rows of neighbours, take turns in two colours: bunting, signals, old shop fronts.",
    rank=42,
    parameters=(
        ColourParameter("colour", "colour", "#ffb648"),
        ColourParameter("colour_to", "and", "#000000"),
        Number("interval_s", "change every", 0.6, 0.02, 3600, "s"),
        Number("width_px", "how many together", 1, 1, MOST_LIGHTS, whole=True),
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.4},
)
