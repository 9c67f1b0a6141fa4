"""Double pulse: two swells close together, then rest, as a heart beats."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle, cycle_numbers, q16
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, at_level, colour, ratio
from tiny_lantern.effects.shapes import pulse
from tiny_lantern.kernel.nodes import ONE, Type, given


def _light() -> Light:
    width, gap = given("width", 1, ONE, Type.Q16), ratio("gap")
    later = (cycle() - gap).mod(ONE)
    beat = curved(pulse(cycle(), width).most(pulse(later, width) * ratio("second"))).called("beat")
    low = ratio("low")
    return at_level(colour("colour"), (low + (ONE - low) * beat).least(ONE))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "width": max(1, q16(values["width"])),
        "gap": q16(values["gap"]),
        "second": q16(values["second"]),
        "low": q16(values["low"]),
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="double_pulse",
    help="Two swells close together, then rest, as a heart beats: for lanterns that should seem alive.",
    rank=35,
    parameters=(
        ColourParameter("colour", "colour", "#ff3b30"),
        Number("period_s", "period", 1.2, 0.1, 3600, "s"),
        Number("width", "each swell", 0.22, 0.01, 1, "ratio"),
        Number("gap", "second after", 0.25, 0, 1, "ratio"),
        Number("second", "second's height", 0.6, 0, 1, "ratio"),
        Number("low", "lowest", 0.04, 0, 1, "ratio"),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.0},
)
