"""Binary count: the lights count upward, each a digit."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.chance import step
from tiny_lantern.effects.cycle import cycle_numbers
from tiny_lantern.effects.kind import ColourParameter, EffectKind, Light, Number, Span, colour, count, slot, whole
from tiny_lantern.effects.shapes import chosen
from tiny_lantern.kernel.nodes import constant, select

DIGITS = 31


def _light() -> Light:
    """The digit of each light is what is left of the count, halved as often as the light's number, after twos."""
    place = select(whole("last_first", 0, 1), count() - 1 - slot(), slot())
    digit = constant(0)
    for number in range(DIGITS):
        digit = select(place.equals(number), step().div(1 << number).mod(2), digit)
    return chosen(digit, colour("colour"), colour("colour_to"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, int]:
    return {**cycle_numbers(values["interval_s"], span.tick_hz), "last_first": values["last_first"]}


KIND = EffectKind(
    kind="binary",
    help="The lights count upward in twos, each one a digit: clocks and puzzles.",
    rank=66,
    parameters=(
        ColourParameter("colour", "ones", "#ffb648"),
        ColourParameter("colour_to", "zeros", "#000000"),
        Number("interval_s", "count every", 0.5, 0.02, 3600, "s"),
        Number("last_first", "counts from", 1, 0, 1, whole=True, words=("the first", "the last")),
    ),
    light=_light,
    numbers=_numbers,
    sample={"interval_s": 0.2},
)
