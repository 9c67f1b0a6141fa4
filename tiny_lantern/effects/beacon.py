"""Beacon: a number of flashes in a row, then dark for the rest of the period."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.cycle import MOST, cycle_numbers, cycle_parts, tick_parts
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, tick, whole
from tiny_lantern.kernel.nodes import mulmod, select

HAIR, MOST_FLASHES = 1e-6, 20


def _light() -> Light:
    at = mulmod(tick(), tick_parts(), cycle_parts()).called("within")
    every = whole("every_parts", 1, MOST)
    lit = (at.mod(every) < whole("lit_parts", 0, MOST)).least(at.div(every) < whole("flashes", 1, MOST_FLASHES))
    red, green, blue = (select(lit, channel, 0) for channel in colour("colour"))
    return red, green, blue


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    numbers = cycle_numbers(values["period_s"], span.tick_hz)
    parts = numbers["cycle_parts"]
    share = (values["flash_s"] + values["gap_s"]) / values["period_s"]
    return {
        **numbers,
        "every_parts": min(MOST, max(1, round(share * parts))),
        "lit_parts": min(MOST, math.ceil(values["flash_s"] / values["period_s"] * parts - HAIR)),
        "flashes": values["flashes"],
    }


KIND = EffectKind(
    kind="beacon",
    help="A number of flashes in a row, then dark for the rest: buoys and harbour lights have such characters.",
    rank=44,
    parameters=(
        ColourParameter("colour", "colour", "#ffffff"),
        Number("flashes", "flashes", 2, 1, MOST_FLASHES, whole=True),
        Number("flash_s", "each for", 0.5, 0.02, 60, "s"),
        Number("gap_s", "dark between", 0.5, 0.02, 60, "s"),
        Number("period_s", "period", 6.0, 0.1, 3600, "s"),
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 2.0, "flash_s": 0.3, "gap_s": 0.3},
)
