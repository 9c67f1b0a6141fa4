"""Shapes that effects are put together from: pulses, ramps and ways from one colour to another."""

from __future__ import annotations

from tiny_lantern.effects.kind import Light, whole
from tiny_lantern.kernel.nodes import HALF, ONE, Node, Type, muldiv, select
from tiny_lantern.kernel.tables import cosine

LONGEST, THIRD = 100_000, ONE // 3


def raised(phase: Node) -> Node:
    """A raised cosine: 0 at the ends of a turn, 1 in its middle; Q16.

    Args:
        phase: in turns, Q16. [-]
    """
    return ((ONE - cosine(phase)) >> 1).clamp(0, ONE).called("wave")


def pulse(phase: Node, width: Node) -> Node:
    """A raised cosine in the first part of a turn, dark in the rest; Q16.

    Args:
        phase: how far in the turn, Q16 from 0 to below 1. [-]
        width: the part of it that is lit, Q16 from 1 count up. [-]
    """
    inside = muldiv(phase, ONE, width.seen_as(Type.I32)).clamp(0, ONE)
    return select(phase < width, raised(inside), 0).called("pulse")


def dash(behind: Node) -> Node:
    """The level of a light so many places behind the front of a dash: full for its length, then an even tail; Q16.

    Args:
        behind: how many places, from 0. [-]
    """
    length, tail = whole("length", 1, LONGEST), whole("tail", 0, LONGEST)
    return ONE - muldiv((behind - length + 1).most(0), ONE, tail + 1).clamp(0, ONE).seen_as(Type.Q16)


def hue(angle: Node) -> Light:
    """The colour at an angle in turns: raised cosines a third of a turn apart, so that their sum hardly changes.

    Args:
        angle: in turns, Q16. [-]
    """
    red, green, blue = ((HALF + (cosine(angle - number * THIRD) >> 1)).clamp(0, ONE) for number in range(3))
    return red, green, blue


def mixed(one: Light, other: Light, share: Node) -> Light:
    """A colour on the way from one to another.

    Args:
        one: red, green and blue where the share is 0, Q16, (3,). [-]
        other: those where it is 1, (3,). [-]
        share: Q16 from 0 to 1. [-]
    """
    rest = ONE - share
    red, green, blue = ((a * rest + b * share).least(ONE) for a, b in zip(one, other, strict=True))
    return red, green, blue


def chosen(condition: Node, one: Light, other: Light) -> Light:
    """One colour where a condition is not zero, else another.

    Args:
        condition: a whole number. [-]
        one: red, green and blue, Q16, (3,). [-]
        other: the same, (3,). [-]
    """
    red, green, blue = (select(condition, a, b) for a, b in zip(one, other, strict=True))
    return red, green, blue
