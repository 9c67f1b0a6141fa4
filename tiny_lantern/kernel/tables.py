"""The tables that the kernel knows, as Q16 numbers, and the functions that read between their entries."""

from __future__ import annotations

import math
from functools import cache

from tiny_lantern.kernel.nodes import ONE, Node, Type, table

ENTRIES = 257
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


def sine(angle: Node) -> Node:
    """The sine of an angle given in turns; Q16 to Q16, whole turns left out."""
    return _between("sine", angle.mod(ONE))


def cosine(angle: Node) -> Node:
    """The cosine of an angle given in turns; Q16 to Q16."""
    return sine(angle + ONE // 4)


def luminance_of(lightness: Node) -> Node:
    """The luminance of a lightness, both 0 to 1; what is outside counts as the nearer end."""
    return _between("lightness", lightness.clamp(0, ONE))


def _between(name: str, at: Node) -> Node:
    """The straight line between the two entries beside a place of 0 to 1."""
    raw = at.seen_as(Type.I32)
    index, rest = raw >> 8, raw.mod(256)
    values = table_values(name)
    low, high = (table(name, values, at) for at in (index, (index + 1).least(ENTRIES - 1)))
    return (low + ((((high - low) * rest) + 128) >> 8)).clamp(min(values), max(values))
