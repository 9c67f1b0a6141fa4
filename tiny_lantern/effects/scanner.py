"""Scanner: a dash that runs to and fro, each end lit once, with a tail."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import FINEST, MOST, fraction
from tiny_lantern.effects.kind import (
    MOST_LIGHTS,
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    at_level,
    colour,
    count,
    slot,
    tick,
    whole,
)
from tiny_lantern.effects.shapes import LONGEST, dash
from tiny_lantern.kernel.nodes import mulmod


def _light() -> Light:
    """The way there and back has 2n - 2 places, and each light two of them: behind whichever was passed the later."""
    way = (2 * count() - 2).most(1)
    passed = mulmod(tick(), whole("tick_parts", 0, MOST), whole("way_parts", 1, MOST))
    front = passed.div(whole("light_parts", 1, FINEST)).least(2 * MOST_LIGHTS)
    front = front.called("front")
    out, back = (front - slot()).mod(way), (front + slot()).mod(way)
    behind = out.least(back).called("behind")
    return at_level(colour("colour"), curved(dash(behind)))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    way = max(1, 2 * span.count - 2)
    parts, light_parts = fraction(values["speed_px_per_s"] / span.tick_hz, min(FINEST, MOST // way))
    return {
        "length": values["length_px"],
        "tail": values["tail_px"],
        "tick_parts": parts,
        "light_parts": light_parts,
        "way_parts": way * light_parts,
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="scanner",
    help="A dash that runs to and fro over the lights, each end lit once a turn, with a tail behind it.",
    rank=55,
    parameters=(
        ColourParameter("colour", "colour", "#ff3b30"),
        Number("length_px", "length", 1, 1, LONGEST, whole=True),
        Number("tail_px", "tail", 4, 0, LONGEST, whole=True),
        Number("speed_px_per_s", "lights a second", 12.0, 0, 100_000),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"speed_px_per_s": 14, "tail_px": 3},
)
