"""Random colour: each light, or all of them, takes another hue every so often."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, chance, step
from tiny_lantern.effects.cycle import cycle_numbers, q16
from tiny_lantern.effects.kind import EffectKind, Light, Number, Span, at_level, ratio, slot, whole
from tiny_lantern.effects.shapes import hue
from tiny_lantern.kernel.nodes import select


def _light() -> Light:
    drawn = chance(select(whole("apart", 0, 1), slot(), 0), step())
    return at_level(hue(drawn), ratio("level"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        "level": q16(values["level"]),
        "apart": values["apart"],
        "seed": values["seed"],
    }


KIND = EffectKind(
    kind="random_colour",
    help="Each light, or all of them as one, takes another hue every so often.",
    rank=64,
    parameters=(
        Number("level", "level", 1.0, 0, 1, "ratio"),
        Number("interval_s", "every", 1.0, 0.02, 3600, "s"),
        Number("apart", "hues", 1, 0, 1, whole=True, words=("all as one", "each alone")),
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.5},
)
