"""A kind of doing as text: its rows' type, and the functions that carry it out, in C and in Python."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Text:
    """One kind of doing: the type of its rows in C, its functions there and in Python, and which of them there are:
    ``begins`` sets it dark, ``sets`` follows a new frame, ``steps`` is called as often as can be."""

    type: str
    c: str
    python: str
    begins: bool = True
    sets: bool = True
    steps: bool = False
