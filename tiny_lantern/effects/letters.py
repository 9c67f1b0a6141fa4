"""Letters as columns of dots, from the bitmap letters that ship."""

from __future__ import annotations

from functools import cache
from importlib import resources

HIGH, SPACE, GAP = 7, 2, 1
ACCEPTED = "letters, figures and signs of western languages"


@cache
def letters() -> dict[str, tuple[int, ...]]:
    """The columns of each letter from the left, the topmost dot the lowest bit. [-]"""
    text = (resources.files("tiny_lantern.effects") / "letters.txt").read_text(encoding="utf-8")
    found = {}
    for block in text.split("\n\n"):
        lines = [line for line in block.splitlines() if line and not line.startswith("# ")]
        if lines and lines[0].startswith("U+"):
            found[chr(int(lines[0][2:], 16))] = _columns(lines[1:])
    return found


def _columns(rows: list[str]) -> tuple[int, ...]:
    columns = [sum((row[at] == "#") << bit for bit, row in enumerate(rows)) for at in range(len(rows[0]))]
    lit = [at for at, column in enumerate(columns) if column]
    return tuple(columns[lit[0] : lit[-1] + 1]) if lit else (0,) * SPACE


@cache
def text_columns(text: str) -> tuple[int, ...]:
    """A text as columns of dots with a dark one between letters, the topmost dot the lowest bit. [-]

    Raises:
        ValueError: there is no text, or no such letter.
    """
    known = letters()
    unknown = next((letter for letter in text if letter not in known), None)
    if unknown is not None:
        raise ValueError(f"there is no letter “{unknown}” of dots")
    if not text.strip():
        raise ValueError("there is no text")
    columns: list[int] = []
    for letter in text:
        columns += [*known[letter], *(0,) * GAP]
    return tuple(columns[:-GAP])
