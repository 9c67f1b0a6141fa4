"""Chase: lit dashes that travel along the Line, each with a tail that dies away behind it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import FINEST, MOST, fraction
from tiny_lantern.effects.kind import (
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
)  # fmt: skip
from tiny_lantern.effects.shapes import LONGEST, dash
from tiny_lantern.kernel.nodes import mulmod, select

WIDEST = 1_000_000


def _light() -> Light:
    """How far each light is behind the nearest front: so many at full, then a tail that falls on its curve."""
    spacing = whole("spacing", 1, WIDEST)
    along = select(whole("backward", 0, 1), count() - 1 - slot(), slot()).mod(spacing)
    passed = mulmod(tick(), whole("tick_parts", 0, MOST), whole("spacing_parts", 1, MOST))
    front = passed.div(whole("light_parts", 1, FINEST)).least(WIDEST)  # below the spacing anyway; so its range is known
    ahead = (front.called("front") - along).called("ahead")
    behind = select(ahead < 0, ahead + spacing, ahead).called("behind")
    return at_level(colour("colour"), curved(dash(behind)))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    spacing = values["spacing_px"]
    speed = values["speed_px_per_s"]
    parts, light_parts = fraction(abs(speed) / span.tick_hz, min(FINEST, MOST // spacing))
    return {
        "length": values["length_px"],
        "tail": values["tail_px"],
        "spacing": spacing,
        "backward": int(speed < 0),
        "tick_parts": parts,
        "light_parts": light_parts,
        "spacing_parts": spacing * light_parts,
        **curve_numbers(values["curve"]),
    }


KIND = EffectKind(
    kind="chase",
    help="Lit dashes that travel along the Line, each with a tail that dies away behind it.",
    rank=50,
    parameters=(
        ColourParameter("colour", "colour", "#ffb648"),
        Number("length_px", "length", 6, 1, LONGEST, whole=True),
        Number("tail_px", "tail", 12, 0, LONGEST, whole=True),
        Number("spacing_px", "spacing", 48, 1, WIDEST, whole=True),
        Number("speed_px_per_s", "lights a second", 24.0, -100_000, 100_000),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
    sample={"length_px": 2, "tail_px": 5, "spacing_px": 12, "speed_px_per_s": 12},
)
