"""LEDs side by side: on one resistor, or each on its own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Parallel:
    """LEDs side by side, solved: current of each, voltages of the shared node and of the pin, heat of the resistors."""

    led_a: Floats
    node_v: float
    pin_v: float
    resistor_w: Floats

    @property
    def total_a(self) -> float:
        """Current of all. [A]"""
        return float(self.led_a.sum())

    @property
    def lit_count(self) -> int:
        """How many carry current. [-]"""
        return int((self.led_a > 0).sum())

    @property
    def share(self) -> Floats | None:
        """The part of the whole that each takes, (n,); None when all is dark. [-]"""
        return self.led_a / self.total_a if self.total_a > 0 else None


def on_one_resistor(supply_v: float, output_ohm: float, resistor_ohm: float, leds: Sequence[Led]) -> Parallel:
    """LEDs side by side behind one resistor: the one of lowest voltage takes most.

    Args:
        supply_v: voltage of the pin or supply. [V]
        output_ohm: its resistance. [ohm]
        resistor_ohm: the common resistor. [ohm]
        leds: the LEDs.

    Source: nodal analysis of the shared node.
    """
    foot_v, ohm = _lines(leds, [0.0] * len(leds))
    node_v = settled_v(supply_v, output_ohm + resistor_ohm, foot_v, ohm)
    led_a = branch_currents(node_v, foot_v, ohm)
    total_a = float(led_a.sum())
    return Parallel(led_a, node_v, supply_v - output_ohm * total_a, np.array([total_a**2 * resistor_ohm]))


def on_own_resistors(
    supply_v: float, output_ohm: float, resistors_ohm: Sequence[float], leds: Sequence[Led]
) -> Parallel:
    """LEDs side by side, each behind its own resistor; the pin's resistance stays shared.

    Args:
        supply_v: voltage of the pin or supply. [V]
        output_ohm: its resistance. [ohm]
        resistors_ohm: one for each LED, (n,). [ohm]
        leds: the LEDs.

    Source: nodal analysis of the pin.
    """
    foot_v, ohm = _lines(leds, resistors_ohm)
    pin_v = settled_v(supply_v, output_ohm, foot_v, ohm)
    led_a = branch_currents(pin_v, foot_v, ohm)
    return Parallel(led_a, pin_v, pin_v, led_a**2 * np.array(resistors_ohm))


def _lines(leds: Sequence[Led], more_ohm: Sequence[float]) -> tuple[Floats, Floats]:
    foot_v = np.array([led.foot_v for led in leds])
    return foot_v, np.array([led.series_ohm + more for led, more in zip(leds, more_ohm, strict=True)])
