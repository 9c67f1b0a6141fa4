"""The tables that the kernel knows, as Q16 numbers, and the functions that read between their entries."""

from __future__ import annotations

import math
from functools import cache

from tiny_lantern.kernel.nodes import ONE, Node, Type, table

ENTRIES = 257
ENTRY = ONE // (ENTRIES - 1)
L_LINEAR = 8.0


@cache
def table_values(name: str) -> tuple[int, ...]:
    """The entries of a table, 257 of them. [Q16]

    ``sine``: a whole turn from -1 to 1. ``lightness``: the luminance Y of a lightness L* of 0 to 100.

    Raises:
        KeyError: there is none of this name.

    Source: CIE 1976 L*, ``Y = ((L* + 16)/116)³`` above L* 8, else ``L*/903.3``.
    """
    function = {"sine": _sine, "lightness": _luminance}[name]
    return tuple(round(function(at / (ENTRIES - 1)) * ONE) for at in range(ENTRIES))


def _sine(share: float) -> float:
    return math.sin(2 * math.pi * share)


def _luminance(share: float) -> float:
    lightness = 100 * share
    return ((lightness + 16) / 116) ** 3 if lightness > L_LINEAR else lightness / 903.3


def read(name: str, at: int) -> int:
    """A table at a place from 0 to 65536: the straight line between the two entries beside it, rounded. [Q16]

    Args:
        name: which table.
        at: the place, 65536 for its end. [Q16]
    """
    values, (index, rest) = table_values(name), divmod(at, ENTRY)
    return values[index] + ((values[min(index + 1, ENTRIES - 1)] - values[index]) * rest + ENTRY // 2) // ENTRY


def sine(angle: Node) -> Node:
    """The sine of an angle given in turns; Q16 to Q16, whole turns left out."""
    return table("sine", table_values("sine"), angle.mod(ONE).seen_as(Type.Q16))


def cosine(angle: Node) -> Node:
    """The cosine of an angle given in turns; Q16 to Q16."""
    return sine(angle + ONE // 4)


def luminance_of(lightness: Node) -> Node:
    """The luminance of a lightness, both 0 to 1; what is outside counts as the nearer end."""
    return table("lightness", table_values("lightness"), lightness.clamp(0, ONE))
