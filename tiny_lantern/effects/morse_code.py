"""Text in Morse code: which marks each letter has, and how long a text is on and off in turn."""

from __future__ import annotations

CODE = {
    "A": ".-", "B": "-...", "C": "-.-.", "D": "-..", "E": ".", "F": "..-.", "G": "--.", "H": "....", "I": "..",
    "J": ".---", "K": "-.-", "L": ".-..", "M": "--", "N": "-.", "O": "---", "P": ".--.", "Q": "--.-", "R": ".-.",
    "S": "...", "T": "-", "U": "..-", "V": "...-", "W": ".--", "X": "-..-", "Y": "-.--", "Z": "--..",
    "0": "-----", "1": ".----", "2": "..---", "3": "...--", "4": "....-", "5": ".....", "6": "-....", "7": "--...",
    "8": "---..", "9": "----.", ".": ".-.-.-", ",": "--..--", ":": "---...", "?": "..--..", "'": ".----.",
    "-": "-....-", "/": "-..-.", "(": "-.--.", ")": "-.--.-", '"': ".-..-.", "=": "-...-", "+": ".-.-.", "@": ".--.-.",
}  # fmt: skip
ACCEPTED = "letters, figures and . , : ? ' - / ( ) \" = + @"
DASH, WITHIN, BETWEEN_LETTERS, BETWEEN_WORDS = 3, 1, 3, 7
PARIS_UNITS_MIN_S = 1.2


def units_of(text: str) -> tuple[int, ...]:
    """Durations in units, on and off in turn, from the first mark to the last; case does not matter, and several spaces
    between words are one. [-]

    Raises:
        ValueError: there is nothing to send, or a character has no code.

    Source: ITU-R M.1677-1: dot 1, dash 3, gaps 1, 3 and 7 units.
    """
    words = text.upper().split()
    unknown = next((letter for word in words for letter in word if letter not in CODE), None)
    if unknown is not None:
        raise ValueError(f"“{unknown}” has no Morse code")
    if not words:
        raise ValueError("there is nothing to send")
    units: list[int] = []
    for at, word in enumerate(words):
        if at:
            units.append(BETWEEN_WORDS)
        for number, letter in enumerate(word):
            if number:
                units.append(BETWEEN_LETTERS)
            marks = [DASH if mark == "-" else 1 for mark in CODE[letter]]
            units += [each for mark in marks for each in (mark, WITHIN)][:-1]
    return tuple(units)


def unit_s(words_per_minute: float) -> float:
    """Length of a unit: ``1.2 / wpm``, from PARIS and its gap of 50 units  (1). [s]

    Args:
        words_per_minute: the speed. [1/min]

    Source: the PARIS standard of sending speed.
    """
    return PARIS_UNITS_MIN_S / words_per_minute  # (1)
