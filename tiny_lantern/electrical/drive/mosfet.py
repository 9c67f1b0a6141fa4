"""A field-effect transistor as a switch: what its gate really gets, its resistance then, and its heat."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tiny_lantern.electrical.drive.bjt import StringLoad
from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.model.errors import LanternError

BARELY_V = 1.5


@dataclass(frozen=True)
class Mosfet:
    """A transistor by its resistance at some gate voltages, its threshold (take the largest), its edges and heat."""

    rds_table: Sequence[tuple[float, float]]
    threshold_v: float
    rise_s: float = 0.0
    fall_s: float = 0.0
    theta_k_per_w: float = 62.0
    limit_c: float = 150.0


@dataclass(frozen=True)
class GateDrive:
    """What drives a gate: a pin behind its resistance, a series resistor, and a pull resistor on the gate's side."""

    pin_v: float
    pin_ohm: float
    series_ohm: float = 0.0
    pull_ohm: float | None = None


@dataclass(frozen=True)
class SwitchedGate:
    """A switch that is on: gate voltage, resistance, current, and its heat while conducting and while switching."""

    gate_v: float
    barely_on: bool
    rds_ohm: float
    current_a: float
    drain_v: float
    conduction_w: float
    switching_w: float
    junction_c: float
    over_limit: bool

    @property
    def heat_w(self) -> float:
        """All of its heat. [W]"""
        return self.conduction_w + self.switching_w


def gate_v(drive: GateDrive) -> float:
    """The voltage that a gate gets: ``V_pin · R_pull / (R_pull + R_series + R_pin)``  (1), all of it without a pull
    resistor. [V]

    Args:
        drive: what drives it.

    Source: a voltage divider; a gate draws nothing at rest.
    """
    if drive.pull_ohm is None:
        return drive.pin_v
    return drive.pin_v * drive.pull_ohm / (drive.pull_ohm + drive.series_ohm + drive.pin_ohm)  # (1)


def rds_ohm(mosfet: Mosfet, at_gate_v: float) -> float:
    """Resistance at a gate voltage, straight between the points of its table, the last value above the last one. [ohm]

    Args:
        mosfet: the transistor.
        at_gate_v: voltage from gate to source. [V]

    Raises:
        LanternError: the voltage is below the first point, where nobody tells the resistance.

    Source: linear interpolation of the data sheet's figures; they do not count the rise with temperature.
    """
    points = sorted(mosfet.rds_table)
    if at_gate_v < points[0][0] - 1e-9:
        raise LanternError(
            f"at {at_gate_v:.3g} V on the gate the resistance is not told", "gate", f"{points[0][0]:g} V or more"
        )
    volts, ohms = zip(*points, strict=True)
    return float(np.interp(at_gate_v, volts, ohms))


def switched_by_gate(
    mosfet: Mosfet, drive: GateDrive, load: StringLoad | float, supply_v: float, duty: float = 1.0, pwm_hz: float = 0.0,
    ambient_c: float = 25.0,
) -> SwitchedGate:  # fmt: skip
    """A switch on its load: ``P = I² · R_DS(on) · duty + ½ · V · I · (t_r + t_f) · f``  (1).

    Args:
        mosfet: the transistor.
        drive: what drives its gate.
        load: strings that lie in series with it, or a current that is given. [A]
        supply_v: voltage that it switches. [V]
        duty: share of the time that it is on. [-]
        pwm_hz: how often it switches a second. [Hz]
        ambient_c: temperature of the air. [°C]

    Raises:
        LanternError: the gate gets less than its table tells.

    Source: conduction and hard-switching losses; any text on power electronics.
    """
    at_gate_v = gate_v(drive)
    on_ohm = rds_ohm(mosfet, at_gate_v)
    current_a = load.current_a(shared_ohm=on_ohm) if isinstance(load, StringLoad) else load
    conduction_w = current_a**2 * on_ohm * duty
    switching_w = 0.5 * supply_v * current_a * (mosfet.rise_s + mosfet.fall_s) * pwm_hz
    warm_c = junction_c(conduction_w + switching_w, ambient_c, mosfet.theta_k_per_w)  # (1)
    return SwitchedGate(
        at_gate_v, barely_on(mosfet, at_gate_v), on_ohm, current_a, current_a * on_ohm, conduction_w, switching_w,
        warm_c, warm_c > mosfet.limit_c,
    )  # fmt: skip


def barely_on(mosfet: Mosfet, at_gate_v: float) -> bool:
    """Whether a gate voltage is less than 1.5 V over the threshold, where the resistance is anyone's guess.

    Args:
        mosfet: the transistor.
        at_gate_v: voltage from gate to source. [V]
    """
    return at_gate_v < mosfet.threshold_v + BARELY_V
