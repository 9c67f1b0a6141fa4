"""Comparing figures that came about in different ways: closer than a billionth is equal."""

from __future__ import annotations

import math

NEARLY = 1e-9


def same(one: float, other: float) -> bool:
    """Whether two figures are equal but for the last digits of the arithmetic."""
    return abs(one - other) <= NEARLY * max(abs(one), abs(other))


def at_least(value: float, limit: float) -> bool:
    """Whether a value meets a lower limit; equal meets it."""
    return value >= limit or same(value, limit)


def at_most(value: float, limit: float) -> bool:
    """Whether a value meets an upper limit; equal meets it."""
    return value <= limit or same(value, limit)


def whole(value: float) -> int:
    """The whole number at or below a value; one that is whole but for the last digits is that whole number."""
    near = round(value)
    return near if abs(value - near) <= NEARLY else math.floor(value)
