"""Level bar: a bar that rises and falls, its top in a colour of its own."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle, cycle_numbers, q16
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, count, ratio, slot
from tiny_lantern.effects.shapes import chosen, raised
from tiny_lantern.kernel.nodes import ONE, Node, Type, constant, muldiv


def _lights(share: Node) -> Node:
    """The whole number of lights that is nearest to a share of all."""
    return (muldiv(2 * count(), share.seen_as(Type.I32), ONE) + 1) >> 1


def _light() -> Light:
    low, high = ratio("low"), ratio("high")
    height = (low + (high - low) * curved(raised(cycle()))).clamp(0, ONE).called("height")
    above, top = (_lights(share) <= slot() for share in (height, ratio("top")))
    dark = constant(0, Type.Q16)
    return chosen(above, (dark, dark, dark), chosen(top, colour("colour_to"), colour("colour")))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    return {
        **cycle_numbers(values["period_s"], span.tick_hz),
        "low": q16(values["low"]),
        "high": q16(values["high"]),
        "top": q16(values["top"]),
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="level_bar",
    help="A bar that rises and falls between two heights, its top in a colour of its own: gauges and dials.",
    rank=57,
    parameters=(
        ColourParameter("colour", "colour", "#38c172"),
        ColourParameter("colour_to", "top", "#ff3b30"),
        Number("period_s", "period", 3.0, 0.02, 3600, "s"),
        Number("low", "lowest", 0.1, 0, 1, "ratio"),
        Number("high", "highest", 1.0, 0, 1, "ratio"),
        Number("top", "top from", 0.8, 0, 1, "ratio"),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"period_s": 1.5},
)
