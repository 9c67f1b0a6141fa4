"""Text in Morse code as durations, on and off in turn."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.effects.morse_code import ACCEPTED, BETWEEN_WORDS, units_of
from tiny_lantern.model.errors import LanternError


@dataclass(frozen=True)
class Morse:
    """Durations in units: on, off, on, ... from the first mark to the last."""

    units: tuple[int, ...]

    @property
    def total_units(self) -> int:
        """All of it, without a gap after the last mark. [-]"""
        return sum(self.units)

    @property
    def total_with_word_gap(self) -> int:
        """All of it with the gap before another word. [-]"""
        return self.total_units + BETWEEN_WORDS

    def duration_s(self, unit: float) -> float:
        """How long it takes, without the final gap. [s]

        Args:
            unit: length of a unit. [s]
        """
        return self.total_units * unit

    @property
    def on_units(self) -> int:
        """How long it is lit. [-]"""
        return sum(self.units[::2])

    @property
    def marks(self) -> int:
        """Dots and dashes. [-]"""
        return len(self.units[::2])


def morse(text: str) -> Morse:
    """The durations of a text; case does not matter, and several spaces between words are one.

    Raises:
        LanternError: there is nothing to send, or a character has no code.
    """
    try:
        return Morse(units_of(text))
    except ValueError as error:
        raise LanternError(str(error), "text", ACCEPTED) from None
