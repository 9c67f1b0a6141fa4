"""A chip that sinks one set current on each of its outputs: compliance, heat, and what a shared resistor does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.electrical.lamp.eseries import SERIES, Preferred, preferred
from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v
from tiny_lantern.electrical.nearly import at_least
from tiny_lantern.model.errors import LanternError

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
LOW_A, LOW_V, HIGH_A, HIGH_V = 0.005, 0.4, 0.060, 0.8
MARGIN_V = 0.2


@dataclass(frozen=True)
class SinkChip:
    """A chip by its constant, its setting resistor, its own supply and its heat."""

    k_v: float = 18.0
    rext_ohm: float = 1000.0
    vcc_v: float = 5.0
    icc_a: float = 0.012
    theta_k_per_w: float = 60.0
    limit_c: float = 125.0

    @property
    def set_a(self) -> float:
        """The current of each output: ``I = k / R_ext``. [A]"""
        return set_current(self.k_v, self.rext_ohm)


@dataclass(frozen=True)
class SinkOutput:
    """What hangs on one output: a string of LEDs and a resistor that takes heat off the chip."""

    led: Led
    series_ohm: float = 0.0


@dataclass(frozen=True)
class SinkState:
    """A chip with some outputs lit: current and voltage of each, (n,), the LEDs' node, and the chip's heat.

    Where an output is not lit its current is 0 and its voltage not a number.
    """

    lit: Bools
    output_a: Floats
    output_v: Floats
    node_v: float
    chip_w: float
    junction_c: float
    in_compliance: Bools
    over_limit: bool

    @property
    def total_a(self) -> float:
        """Current of all outputs. [A]"""
        return float(self.output_a.sum())


def set_current(k_v: float, rext_ohm: float) -> float:
    """The current that a setting resistor gives: ``I = k / R_ext``  (1). [A]

    Args:
        k_v: the chip's constant. [V]
        rext_ohm: the resistor. [ohm]

    Raises:
        LanternError: the resistor is none.

    Source: a constant-current sink's data sheet.
    """
    if rext_ohm <= 0:
        raise LanternError(f"a setting resistor of {rext_ohm:g} Ω", "setting resistor", "more than 0 Ω, e.g. 1k")
    return k_v / rext_ohm  # (1)


def least_output_v(set_a: float) -> float:
    """The voltage that an output needs to hold its current: 0.4 V up to 5 mA, straight to 0.8 V at 60 mA. [V]

    Args:
        set_a: the set current. [A]

    Source: a constant-current sink's data sheet.
    """
    return float(np.interp(set_a, (LOW_A, HIGH_A), (LOW_V, HIGH_V)))


def sink_state(
    chip: SinkChip, outputs: Sequence[SinkOutput], lit: Bools, led_supply_v: float, common_ohm: float, ambient_c: float
) -> SinkState:
    """A chip with some of its outputs lit.

    A lit output carries ``min(I_set, V_out · I_set / V_min)``  (1): below its least voltage it behaves as a resistor.

    Args:
        chip: the chip.
        outputs: what hangs on each output, in order.
        lit: which are lit, (n,). [-]
        led_supply_v: voltage of the LEDs' supply. [V]
        common_ohm: resistance that all LEDs share. [ohm]
        ambient_c: temperature of the air. [°C]

    Source: nodal analysis of the LEDs' shared feed.
    """
    set_a = chip.set_a
    least_v = least_output_v(set_a)
    foot_v = np.array([output.led.foot_v for output in outputs])
    outer_ohm = np.array([output.led.series_ohm + output.series_ohm for output in outputs])
    ohm = outer_ohm + least_v / set_a  # (1)
    node_v = settled_v(led_supply_v, common_ohm, foot_v[lit], ohm[lit], set_a)
    output_a = np.where(lit, branch_currents(node_v, foot_v, ohm, set_a), 0.0)
    output_v = np.where(lit, np.maximum(0.0, node_v - foot_v - outer_ohm * output_a), np.nan)  # 0 without current
    chip_w = float(np.nansum(output_v * output_a)) + chip.vcc_v * chip.icc_a
    warm_c = junction_c(chip_w, ambient_c, chip.theta_k_per_w)
    held = np.array([bool(on) and at_least(float(volt), least_v) for on, volt in zip(lit, output_v, strict=True)])
    return SinkState(lit, output_a, output_v, node_v, chip_w, warm_c, held, warm_c > chip.limit_c)


def by_number_lit(
    chip: SinkChip, outputs: Sequence[SinkOutput], led_supply_v: float, common_ohm: float, ambient_c: float
) -> list[SinkState]:
    """A chip with its first 0, 1, 2 ... outputs lit: how brightness depends on how many are.

    Args:
        chip: the chip.
        outputs: what hangs on each output, in order.
        led_supply_v: voltage of the LEDs' supply. [V]
        common_ohm: resistance that all LEDs share. [ohm]
        ambient_c: temperature of the air. [°C]
    """
    count = len(outputs)
    return [
        sink_state(chip, outputs, np.arange(count) < lit, led_supply_v, common_ohm, ambient_c)
        for lit in range(count + 1)
    ]


def most_lit_in_compliance(states: Sequence[SinkState]) -> int:
    """The largest number lit at which every lit output holds its current. [-]"""
    return max(int(state.lit.sum()) for state in states if bool(state.in_compliance[state.lit].all()))


def best_led_supply_v(chip: SinkChip, outputs: Sequence[SinkOutput], spread_v: float) -> float:
    """The lowest supply that keeps every output in compliance: ``n·Vf_max + V_min + 0.2 V``  (1). [V]

    Args:
        chip: the chip.
        outputs: what hangs on each output.
        spread_v: how far each LED's voltage may be above its figure. [V]

    Source: a constant-current sink's data sheet; 0.2 V of margin.
    """
    set_a = chip.set_a
    highest_v = max(output.led.voltage_v(set_a) + output.led.count * spread_v for output in outputs)
    return highest_v + least_output_v(set_a) + MARGIN_V  # (1)


@dataclass(frozen=True)
class Setting:
    """A setting resistor, the current that it gives, and what an output needs then."""

    rext_ohm: float
    set_a: float
    least_v: float


def setting(k_v: float, rext_ohm: float) -> Setting:
    """What a setting resistor gives.

    Args:
        k_v: the chip's constant. [V]
        rext_ohm: the resistor. [ohm]

    Raises:
        LanternError: the resistor is none.
    """
    set_a = set_current(k_v, rext_ohm)
    return Setting(rext_ohm, set_a, least_output_v(set_a))


def settings_for(k_v: float, wanted_a: float) -> tuple[float, dict[str, Preferred]]:
    """The setting resistor that a wanted current asks for, and the preferred values around it. [ohm]

    Args:
        k_v: the chip's constant. [V]
        wanted_a: the current wanted. [A]
    """
    ideal = k_v / wanted_a
    return ideal, {name: preferred(ideal, values) for name, values in SERIES.items()}
