"""Lighthouse: a beam that turns round a ring of lights, or past a single one."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

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
    count,
    ratio,
    slot,
)
from tiny_lantern.effects.shapes import pulse
from tiny_lantern.kernel.nodes import ONE, Type, given, turn


def _light() -> Light:
    """How far the beam is past each light, in turns; it is widest in its middle."""
    width = given("width", 2, ONE, Type.Q16)
    past = (cycle() - turn(slot(), 1, count()) + (width >> 1)).mod(ONE).called("past")
    low, beam = ratio("low"), pulse(past, width).called("beam")
    return at_level(colour("colour"), (low + (ONE - low) * curved(beam * beam)).least(ONE))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "width": max(2, q16(values["width"])),
        "low": q16(values["low"]),
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="lighthouse",
    help="A beam that turns round a ring of lights, or past a single lamp, with a glow that stays.",
    rank=46,
    parameters=(
        ColourParameter("colour", "colour", "#fff4d6"),
        Number("period_s", "a turn", 5.0, 0.1, 3600, "s"),
        Number("width", "beam", 0.2, 0.001, 1, "ratio"),
        Number("low", "glow", 0.03, 0, 1, "ratio"),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.6, "width": 0.4},
)
