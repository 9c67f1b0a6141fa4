"""Blink: on for a part of each period, dark for the rest."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.cycle import MOST, cycle_numbers, cycle_parts, tick_parts
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, tick, whole
from tiny_lantern.kernel.nodes import mulmod, select

HAIR = 1e-6


def _light() -> Light:
    lit = mulmod(tick(), tick_parts(), cycle_parts()) < whole("lit_parts", 0, MOST)
    red, green, blue = (select(lit, channel, 0) for channel in colour("colour"))
    return red, green, blue


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    numbers = cycle_numbers(values["period_s"], span.tick_hz)
    return {**numbers, "lit_parts": math.ceil(values["duty"] * numbers["cycle_parts"] - HAIR)}


KIND = EffectKind(
    kind="blink",
    help="On for a part of each period, dark for the rest.",
    rank=40,
    parameters=(
        ColourParameter("colour", "colour", "#ffb648"),
        Number("period_s", "period", 1.0, 0.02, 3600, "s"),
        Number("duty", "duty", 0.5, 0, 1, "ratio"),
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 0.7},
)
