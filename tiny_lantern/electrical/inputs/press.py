"""A press sensor in a divider: the fixed resistor, the voltages, and where to switch."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from tiny_lantern.electrical.lamp.eseries import E24, preferred
from tiny_lantern.electrical.nearly import whole

TRIP_SHARE = 1 / 8


@dataclass(frozen=True)
class PressSensor:
    """A sensor by its resistance at rest and pressed, to the supply or to ground, read by an input; ``input_ohm`` loads
    the node, None where it does not."""

    rest_ohm: float
    pressed_ohm: float
    supply_v: float
    sensor_to: Literal["supply", "ground"]
    reference_v: float
    adc_bits: int
    input_ohm: float | None = None


@dataclass(frozen=True)
class Divider:
    """Voltages at rest and pressed, and where to switch with the whole width between the two trip points a quarter of
    the swing; counts of each."""

    fixed_ohm: float
    rest_v: float
    pressed_v: float
    sensor: PressSensor

    @property
    def swing_v(self) -> float:
        """How far it moves. [V]"""
        return abs(self.pressed_v - self.rest_v)

    @property
    def threshold_v(self) -> float:
        """Midway. [V]"""
        return (self.rest_v + self.pressed_v) / 2

    @property
    def hysteresis_v(self) -> float:
        """From one trip point to the other. [V]"""
        return 2 * TRIP_SHARE * self.swing_v

    @property
    def rises(self) -> bool:
        """Whether the reading rises when pressed."""
        return self.pressed_v > self.rest_v

    @property
    def press_at_v(self) -> float:
        """Where it counts as pressed, towards pressed from midway. [V]"""
        return self.threshold_v + TRIP_SHARE * (self.pressed_v - self.rest_v)

    @property
    def release_at_v(self) -> float:
        """Where it counts as let go, towards rest from midway. [V]"""
        return self.threshold_v - TRIP_SHARE * (self.pressed_v - self.rest_v)

    def counts(self, volts: float) -> int:
        """A voltage as the input reads it: ``floor(V / V_ref · 2^n)``, 0 to 2^n − 1  (1). [-]

        Args:
            volts: the voltage. [V]

        Source: an ideal analogue to digital converter.
        """
        steps = 1 << self.sensor.adc_bits
        return min(max(whole(volts / self.sensor.reference_v * steps), 0), steps - 1)  # (1)


def fixed_ohm(sensor: PressSensor) -> float:
    """The fixed resistor of the widest swing: ``√(R_rest · R_pressed)``  (1). [ohm]

    Args:
        sensor: the sensor.

    Source: the swing of a divider is largest at the geometric mean.
    """
    return math.sqrt(sensor.rest_ohm * sensor.pressed_ohm)  # (1)


def fixed_e24_ohm(sensor: PressSensor) -> float:
    """The nearest value of the series of twenty-four. [ohm]"""
    return preferred(fixed_ohm(sensor), E24).nearest


def divider(sensor: PressSensor, fixed: float) -> Divider:
    """The sensor with a fixed resistor.

    Args:
        sensor: the sensor.
        fixed: the resistor. [ohm]
    """
    return Divider(fixed, _node_v(sensor, sensor.rest_ohm, fixed), _node_v(sensor, sensor.pressed_ohm, fixed), sensor)


def _node_v(sensor: PressSensor, sensor_ohm: float, fixed: float) -> float:
    above, below = (sensor_ohm, fixed) if sensor.sensor_to == "supply" else (fixed, sensor_ohm)
    if sensor.input_ohm is not None:
        below = below * sensor.input_ohm / (below + sensor.input_ohm)
    return sensor.supply_v * below / (above + below)
