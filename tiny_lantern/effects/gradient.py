"""Gradient: from one colour to another and back along the lights, travelling."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import MOST, cycle, cycle_numbers, fraction
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, slot, whole
from tiny_lantern.effects.shapes import mixed, raised
from tiny_lantern.kernel.nodes import turn

FINEST_TURNS, MOST_TURNS = 10_000, 1000


def _light() -> Light:
    most = MOST_TURNS * FINEST_TURNS
    along = turn(slot(), whole("turns", -most, most), whole("line_parts", 1, MOST))
    return mixed(colour("colour"), colour("colour_to"), curved(raised(along - cycle())))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    above, below = fraction(values["turns"], min(FINEST_TURNS, MOST // span.count))
    return {
        **cycle_numbers(values["period_s"], span.tick_hz), "turns": above, "line_parts": span.count * below,
        **curve_numbers(values["curve"]),
    }  # fmt: skip


KIND = EffectKind(
    kind="gradient",
    help="From one colour to another and back along the lights, travelling slowly: water, dusk, banners.",
    rank=61,
    parameters=(
        ColourParameter("colour", "colour", "#0b3d91"),
        ColourParameter("colour_to", "to colour", "#7fe3ff"),
        Number("period_s", "period", 8.0, 0.02, 3600, "s"),
        Number("turns", "turns", 1.0, -MOST_TURNS, MOST_TURNS),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 2},
)
