"""Bitmaps of a matrix as bytes, written in hex, decimal or binary, and read back."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

from tiny_lantern.model.errors import LanternError

Form = Literal["hex", "decimal", "binary"]
ACCEPTED = "bytes such as 0x3C, 60 or 0b00111100"


def pattern_in_bytes(rows: Sequence[Sequence[int]], form: Form) -> str:
    """Rows of bytes as text, with commas.

    Args:
        rows: the bytes of each row.
        form: how a byte is written.
    """
    write = {"hex": "0x{:02X}", "decimal": "{}", "binary": "0b{:08b}"}[form]
    return ", ".join(write.format(value) for row in rows for value in row)


def byte_of(word: str) -> int:
    """A byte as a person writes it: ``0x3C``, ``60``, ``0b00111100``.

    Raises:
        LanternError: it is none.
    """
    text = word.strip().lower()
    bases = (("0x", 16, r"[0-9a-f]{1,2}"), ("0b", 2, r"[01]{1,8}"), ("", 10, r"\d{1,3}"))
    for prefix, base, digits in bases:
        if text.startswith(prefix) and (prefix or not text.startswith(("0x", "0b"))):
            body = text.removeprefix(prefix)
            if re.fullmatch(digits, body) and int(body, base) <= 255:
                return int(body, base)
            break
    raise LanternError(f"“{word.strip()[:20]}” is no byte", "bytes", ACCEPTED)


def inverted(rows: Sequence[str]) -> list[str]:
    """A bitmap with every light turned over.

    Args:
        rows: rows of ones and zeros.
    """
    return ["".join("10"[int(mark)] for mark in row) for row in rows]


def mirrored(rows: Sequence[str]) -> list[str]:
    """A bitmap left to right.

    Args:
        rows: rows of ones and zeros.
    """
    return [row[::-1] for row in rows]


def panel_by_panel(values: Sequence[Sequence[int]]) -> list[list[int]]:
    """Bytes of rows that run across several panels of eight columns as those of one panel after another.

    Args:
        values: the bytes of each row. [-]
    """
    return [[row[panel]] for panel in range(len(values[0]) if values else 0) for row in values]


def across_panels(text: str, panels: int) -> str:
    """Bytes of one panel after another as rows that run across all of them.

    Args:
        text: the bytes, with commas or spaces.
        panels: how many panels stand side by side. [-]

    Raises:
        LanternError: a word is no byte, or the panels are not of one height.
    """
    values = [byte_of(word) for word in _words(text)]
    rows = len(values) // panels
    if rows * panels != len(values):
        raise LanternError(f"{len(values)} bytes make no {panels} panels", "bytes", f"a multiple of {panels}")
    return ", ".join(str(values[panel * rows + row]) for row in range(rows) for panel in range(panels))


def _words(text: str) -> list[str]:
    return [word for word in re.split(r"[\s,;]+", text.strip()) if word]


def pattern_of_bytes(text: str, columns: int, active_low: bool = False) -> list[str]:
    """Bytes as rows of ones and zeros.

    Args:
        text: the bytes, with commas or spaces.
        columns: columns of the bitmap. [-]
        active_low: whether a 0 lights.

    Raises:
        LanternError: a word is no byte, or the bytes make no whole rows.
    """
    words = _words(text)
    each_row = columns // 8
    if columns <= 0 or columns % 8:
        raise LanternError(f"{columns} columns make no whole bytes", "bitmap", "8, 16, 24 … columns")
    if not words or len(words) % each_row:
        raise LanternError(f"{len(words)} bytes make no whole rows of {columns} columns", "bytes",
                           f"a multiple of {each_row}")  # fmt: skip
    values = [255 - byte_of(word) if active_low else byte_of(word) for word in words]
    bits = [f"{value:08b}" for value in values]
    return ["".join(bits[at : at + each_row]) for at in range(0, len(bits), each_row)]
