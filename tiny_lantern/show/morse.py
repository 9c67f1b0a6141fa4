"""Text in Morse code as durations, on and off in turn."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.model.errors import LanternError

CODE = {
    "A": ".-", "B": "-...", "C": "-.-.", "D": "-..", "E": ".", "F": "..-.", "G": "--.", "H": "....", "I": "..",
    "J": ".---", "K": "-.-", "L": ".-..", "M": "--", "N": "-.", "O": "---", "P": ".--.", "Q": "--.-", "R": ".-.",
    "S": "...", "T": "-", "U": "..-", "V": "...-", "W": ".--", "X": "-..-", "Y": "-.--", "Z": "--..",
    "0": "-----", "1": ".----", "2": "..---", "3": "...--", "4": "....-", "5": ".....", "6": "-....", "7": "--...",
    "8": "---..", "9": "----.", ".": ".-.-.-", ",": "--..--", ":": "---...", "?": "..--..", "'": ".----.",
    "-": "-....-", "/": "-..-.", "(": "-.--.", ")": "-.--.-", '"': ".-..-.", "=": "-...-", "+": ".-.-.", "@": ".--.-.",
}  # fmt: skip
DASH, WITHIN, BETWEEN_LETTERS, BETWEEN_WORDS = 3, 1, 3, 7
PARIS_UNITS_MIN_S = 1.2


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

    Source: ITU-R M.1677-1: dot 1, dash 3, gaps 1, 3 and 7 units.
    """
    words = text.upper().split()
    unknown = next((letter for word in words for letter in word if letter not in CODE), None)
    if unknown is not None or not words:
        what = f"“{unknown}” has no Morse code" if unknown else "there is nothing to send"
        raise LanternError(what, "text", "letters, figures and . , : ? ' - / ( ) \" = + @")
    units: list[int] = []
    for at, word in enumerate(words):
        if at:
            units.append(BETWEEN_WORDS)
        for number, letter in enumerate(word):
            if number:
                units.append(BETWEEN_LETTERS)
            marks = [DASH if mark == "-" else 1 for mark in CODE[letter]]
            units += [each for mark in marks for each in (mark, WITHIN)][:-1]
    return Morse(tuple(units))


def unit_s(words_per_minute: float) -> float:
    """Length of a unit: ``1.2 / wpm``, from PARIS and its gap of 50 units  (1). [s]

    Args:
        words_per_minute: the speed. [1/min]

    Source: the PARIS standard of sending speed.
    """
    return PARIS_UNITS_MIN_S / words_per_minute  # (1)
