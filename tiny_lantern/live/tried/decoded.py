"""What went over a line, read off its edges: bits at the rising clock, as bytes between two latches."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from tiny_lantern.live.tried.program import Edge

BYTE = 8


@dataclass(frozen=True)
class Bit:
    """One bit, when it was taken in. [µs]"""

    at_us: float
    level: int


def bits_on(edges: Iterable[Edge], data: int, clock: int) -> list[Bit]:
    """The bits on a data line, each at its rising clock.

    Args:
        edges: what the pins did.
        data: the number of the data pin.
        clock: that of the clock.
    """
    found, level, was = [], 0, 0.0
    for edge in edges:
        if edge.kind != "S":
            continue
        if edge.pin == data:
            level = int(edge.level)
        elif edge.pin == clock:
            if edge.level > was:
                found.append(Bit(edge.at_us, level))
            was = edge.level
    return found


def bytes_of(bits: list[Bit]) -> list[tuple[float, int]]:
    """Eight bits at a time as a byte, the first sent the highest, with when it began. [µs]

    Args:
        bits: the bits.
    """
    whole = len(bits) // BYTE * BYTE
    return [
        (bits[at].at_us, sum(bit.level << (BYTE - 1 - place) for place, bit in enumerate(bits[at : at + BYTE])))
        for at in range(0, whole, BYTE)
    ]
