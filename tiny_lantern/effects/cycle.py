"""Times as whole numbers: cycles and speeds as fractions of frames, exact for the figures that people type."""

from __future__ import annotations

import math
from fractions import Fraction

from tiny_lantern.effects.kind import tick
from tiny_lantern.kernel.nodes import ONE, Node, given, turn

MOST = 2**31 - 1
FINEST = 100_000


def fraction(value: float, most_below: int = FINEST) -> tuple[int, int]:
    """A number as numerator and denominator, the nearest with a denominator of at most so much. [-]

    Args:
        value: the number. [-]
        most_below: the largest denominator. [-]
    """
    room = max(1, min(most_below, MOST // max(1, math.ceil(abs(value)))))
    near = Fraction(value).limit_denominator(room)
    return near.numerator, near.denominator


def q16(value: float) -> int:
    """A share as the integer that stands for it. [Q16]"""
    return round(value * ONE)


def cycle_numbers(period_s: float, tick_hz: float) -> dict[str, int]:
    """What ``cycle`` needs of a period.

    Args:
        period_s: how long a cycle lasts. [s]
        tick_hz: frames a second. [Hz]
    """
    above, below = fraction(period_s * tick_hz)
    return {"cycle_parts": max(1, above), "tick_parts": below}


def cycle_parts() -> Node:
    """Parts that a cycle has."""
    return given("cycle_parts", 1, MOST)


def tick_parts() -> Node:
    """Of those parts, how many pass with a frame."""
    return given("tick_parts", 1, FINEST)


def cycle() -> Node:
    """How far the effect is in its cycle, Q16 from 0 to below 1."""
    return turn(tick(), tick_parts(), cycle_parts()).called("phase")
