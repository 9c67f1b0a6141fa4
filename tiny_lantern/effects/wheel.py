"""Wheel: the hues in turn along the Line, turning with time."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.cycle import MOST, cycle, cycle_numbers, fraction, q16
from tiny_lantern.effects.kind import EffectKind, Light, Number, Span, at_level, ratio, slot, whole
from tiny_lantern.effects.shapes import hue
from tiny_lantern.kernel.nodes import turn

FINEST_TURNS = 10_000
MOST_TURNS = 1000


def _light() -> Light:
    most = MOST_TURNS * FINEST_TURNS
    angle = turn(slot(), whole("turns", -most, most), whole("line_parts", 1, MOST)) - cycle()
    angle = angle.called("angle")
    return at_level(hue(angle), ratio("level"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    above, below = fraction(values["turns"], min(FINEST_TURNS, MOST // span.count))
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "level": q16(values["level"]),
        "turns": above,
        "line_parts": span.count * below,
    }


KIND = EffectKind(
    kind="wheel",
    help="The hues in turn along the Line, turning with time.",
    rank=60,
    parameters=(
        Number("level", "level", 1.0, 0, 1, "ratio"),
        Number("period_s", "period", 6.0, 0.02, 3600, "s"),
        Number("turns", "turns", 1.0, -MOST_TURNS, MOST_TURNS),
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 2},
)
