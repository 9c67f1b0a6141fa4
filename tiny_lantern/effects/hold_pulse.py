"""Hold pulse: self-changing lamps full, then held just above forgetting, and dark for a moment to begin anew."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.cycle import MOST, cycle_numbers, cycle_parts, q16, tick_parts
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, at_level, colour, tick, whole
from tiny_lantern.kernel.nodes import ONE, Type, constant, given, mulmod, select

LEAST_HOLD = 0.004


def _light() -> Light:
    """Full, then held for the rest of the period; dark for the first frames of the effect where they begin anew."""
    at = mulmod(tick(), tick_parts(), cycle_parts())
    held = given("held", 1, ONE, Type.Q16)
    level = select(at < whole("full_parts", 0, MOST), constant(ONE, Type.Q16), held)
    return at_level(colour("colour"), select(tick() < whole("dark_ticks", 0, MOST), 0, level))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    numbers = cycle_numbers(values["period_s"], span.tick_hz)
    return {
        **numbers,
        "full_parts": round(values["full"] * numbers["cycle_parts"]),
        "held": max(1, q16(values["hold"])),
        "dark_ticks": min(MOST, round(values["restart_s"] * span.tick_hz)),
    }


KIND = EffectKind(
    kind="hold_pulse",
    help="Self-changing lamps at full, then held so that they stay dark and remember. A pulse to zero restarts them.",
    rank=74,
    parameters=(
        ColourParameter("colour", "colour", "#ffffff"),
        Number("period_s", "period", 8.0, 0.1, 3600, "s"),
        Number("full", "full for", 0.6, 0, 1, "ratio"),
        Number("hold", "held at", 0.02, LEAST_HOLD, 1, "ratio"),
        Number("restart_s", "dark first for", 0.0, 0, 10, "s"),
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.4},
)
