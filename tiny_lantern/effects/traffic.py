"""Traffic cycle: three lights that stop, make ready, let go and warn."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.cycle import MOST, cycle_numbers, cycle_parts, tick_parts
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, slot, tick, whole
from tiny_lantern.effects.shapes import chosen
from tiny_lantern.kernel.nodes import Type, constant, mulmod, select

LAMPS = 3


def _light() -> Light:
    """Stop, stop and ready, go, ready."""
    at, which = mulmod(tick(), tick_parts(), cycle_parts()), slot().mod(LAMPS)
    stop, ready, go = (whole(name, 0, MOST) for name in ("stop_parts", "ready_parts", "go_parts"))
    stops = at < ready
    waits = (1 - (at < stop)).least(at < ready)
    goes = (1 - (at < ready)).least(at < go)
    warns = 1 - (at < go)
    lit = select(which.equals(0), stops, select(which.equals(1), waits.most(warns), goes))
    own = chosen(which.equals(0), colour("stop"), chosen(which.equals(1), colour("ready"), colour("go")))
    dark = constant(0, Type.Q16)
    return chosen(lit, own, (dark, dark, dark))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    times = [values[f"{name}_s"] for name in ("stop", "ready", "go", "warn")]
    numbers = cycle_numbers(sum(times), span.tick_hz)
    ends = [round(sum(times[: number + 1]) / sum(times) * numbers["cycle_parts"]) for number in range(3)]
    return {**numbers, "stop_parts": ends[0], "ready_parts": ends[1], "go_parts": ends[2]}


KIND = EffectKind(
    kind="traffic",
    help="Three lights that stop, make ready, let go and warn: every three lights of the span are one signal.",
    rank=47,
    parameters=(
        ColourParameter("stop", "stop", "#ff2d20"),
        ColourParameter("ready", "ready", "#ffb000"),
        ColourParameter("go", "go", "#17c964"),
        Number("stop_s", "stops for", 6.0, 0.1, 600, "s"),
        Number("ready_s", "both for", 1.5, 0.1, 600, "s"),
        Number("go_s", "goes for", 6.0, 0.1, 600, "s"),
        Number("warn_s", "warns for", 2.0, 0.1, 600, "s"),
    ),
    light=_light,
    numbers=_numbers,
    sample={"stop_s": 0.8, "ready_s": 0.3, "go_s": 0.6, "warn_s": 0.3},
)
