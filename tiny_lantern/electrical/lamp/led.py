"""An LED by its straight line: a voltage at a test current, and a slope."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tiny_lantern.model.parts.lamp import Die


@dataclass(frozen=True)
class Led:
    """So many equal LEDs in series, each with a forward voltage at its test current and a slope."""

    forward_v: float
    test_a: float
    slope_ohm: float
    count: int = 1

    @property
    def foot_v(self) -> float:
        """Where conduction begins, of all in series: ``n · (Vf − r_d · I_test)``. [V]"""
        return self.count * (self.forward_v - self.slope_ohm * self.test_a)

    @property
    def series_ohm(self) -> float:
        """Slope of all in series. [ohm]"""
        return self.count * self.slope_ohm

    def side_by_side(self, branches: int) -> Led:
        """So many of it side by side as one that carries the current of all: the same foot, a part of the slope.

        Args:
            branches: how many. [-]
        """
        return Led(self.forward_v, self.test_a * branches, self.slope_ohm / branches, self.count)

    def voltage_v(self, current_a: float) -> float:
        """Forward voltage of all in series at a current. [V]

        ``Vf(I) = Vf0 + r_d · I``  (1).

        Args:
            current_a: the current. [A]

        Source: piecewise linear diode model; any electronics text.
        """
        return self.foot_v + self.series_ohm * current_a  # (1)


@dataclass(frozen=True)
class LedString:
    """LEDs of any kinds in series."""

    leds: tuple[Led, ...]

    @property
    def foot_v(self) -> float:
        """Where conduction begins. [V]"""
        return sum(led.foot_v for led in self.leds)

    @property
    def series_ohm(self) -> float:
        """Slope of all. [ohm]"""
        return sum(led.series_ohm for led in self.leds)

    @property
    def count(self) -> int:
        """How many LEDs there are. [-]"""
        return sum(led.count for led in self.leds)

    def voltage_v(self, current_a: float) -> float:
        """Forward voltage of all at a current. [V]

        Args:
            current_a: the current. [A]
        """
        return sum(led.voltage_v(current_a) for led in self.leds)


def led_of(die: Die, count: int = 1) -> Led:
    """The straight line of a die, so many in series."""
    return Led(die.forward_v, die.test_a, die.slope_ohm, count)


def string_of(leds: Sequence[Led]) -> LedString:
    """LEDs in series."""
    return LedString(tuple(leds))
