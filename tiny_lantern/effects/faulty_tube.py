"""Faulty tube: mostly lit, with stutters, as an old tube at the end of its life."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import SEED, beat, beat_numbers, chance, step
from tiny_lantern.effects.cycle import cycle_numbers, q16
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    at_level,
    colour,
    ratio,
)
from tiny_lantern.kernel.nodes import HALF, ONE, constant, select

SECOND = 1 << 25


def _light() -> Light:
    """Windows that are sound or stutter, as is drawn; the first one always stutters, as a tube strikes."""
    stutters = (chance(step()) < ratio("share")).most(step().equals(0)).called("stutters")
    off = (chance(beat(), constant(SECOND)) < HALF).least(stutters).called("off")
    return at_level(colour("colour"), select(off, ratio("low"), ONE))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    return {
        **cycle_numbers(values["interval_s"], span.tick_hz),
        **beat_numbers(values["beat_s"], span.tick_hz),
        "share": q16(values["share"]),
        "low": q16(values["low"]),
        "seed": values["seed"],
    }


KIND = EffectKind(
    kind="faulty_tube",
    help="Mostly lit, with stutters now and then, as an old tube at the end of its life. Mind the flash check.",
    rank=71,
    parameters=(
        ColourParameter("colour", "colour", "#eaf6ff"),
        Number("interval_s", "sound or not for", 2.0, 0.1, 600, "s"),
        Number("share", "stuttering", 0.25, 0, 1, "ratio"),
        Number("beat_s", "stutters every", 0.1, 0.02, 10, "s"),
        Number("low", "between", 0.05, 0, 1, "ratio"),
        SEED,
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.5, "share": 0.5},
)
