"""Morse: a text on all lights, dot by dot, again after the gap of a word."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import step
from tiny_lantern.effects.cycle import cycle_numbers
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, TextParameter, colour, whole
from tiny_lantern.effects.morse_code import ACCEPTED, BETWEEN_WORDS, unit_s, units_of
from tiny_lantern.effects.shapes import chosen
from tiny_lantern.kernel.nodes import item, listed

MOST_UNITS = 20_000


def _light() -> Light:
    marks = listed("marks", 0, 1)
    lit = item(marks, step().mod(whole("mark_count", 1, MOST_UNITS))).called("lit")
    return chosen(lit, colour("colour"), colour("rest"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    units = units_of(values["text"])
    marks = [1 - at % 2 for at, length in enumerate(units) for _ in range(length)] + [0] * BETWEEN_WORDS
    return {
        **cycle_numbers(unit_s(values["words_per_min"]), span.tick_hz), "marks": tuple(marks), "mark_count": len(marks),
    }  # fmt: skip


KIND = EffectKind(
    kind="morse",
    help="A text in Morse code on all its lights, again and again: a message, a station's call. Above 7 words a minute "
    "its dots flash more than three times a second.",
    rank=38,
    parameters=(
        ColourParameter("colour", "colour", "#fff2cc"),
        ColourParameter("rest", "between", "#000000"),
        TextParameter("text", "text", "PIER", units_of, ACCEPTED),
        Number("words_per_min", "words a minute", 6.0, 1, 60),
    ),
    light=_light,
    numbers=_numbers,
    sample={"text": "A", "words_per_min": 10},
)
