"""Preferred values of resistors: the series of twelve and of twenty-four a decade."""

from __future__ import annotations

import math
from dataclasses import dataclass

from tiny_lantern.electrical.nearly import at_least, at_most, same

E12 = (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
E24 = (1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0, 3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5,
       8.2, 9.1)  # fmt: skip
SERIES = {"e12": E12, "e24": E24}


@dataclass(frozen=True)
class Preferred:
    """The values around one that is wanted: at or above, at or below, strictly below, and the nearest. [ohm]"""

    up: float
    down: float
    below: float
    nearest: float


def preferred(wanted_ohm: float, series: tuple[float, ...]) -> Preferred:
    """The preferred values around one that is wanted; one within a billionth of a value of the series is that value.

    Args:
        wanted_ohm: the resistance wanted. [ohm]
        series: the values of one decade, from 1 below 10, (n,). [-]

    Raises:
        ValueError: nothing above zero is wanted.

    Source: IEC 60063, preferred number series for resistors.
    """
    if not wanted_ohm > 0:
        raise ValueError("a resistor has more than zero ohms")
    decade = math.floor(math.log10(wanted_ohm))
    around = [round(value * 10.0**power, 12) for power in range(decade - 1, decade + 3) for value in series]
    up = next(value for value in around if at_least(value, wanted_ohm))
    down = next(value for value in reversed(around) if at_most(value, wanted_ohm))
    below = next(value for value in reversed(around) if value < wanted_ohm and not same(value, wanted_ohm))
    nearest = up if at_most(up - wanted_ohm, wanted_ohm - down) else down
    return Preferred(up, down, below, nearest)
