"""Lamps with a programme of their own on a rail that keeps them alive while dark: the window, droop, headroom, heat."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.electrical.nearly import at_least, at_most

Floats = NDArray[np.float64]
SLOWEST_HZ, FASTEST_HZ = 100.0, 1000.0


@dataclass(frozen=True)
class HoldLamps:
    """Lamps one after another on a rail: how many, what each draws held and full, the lead and each next length (out
    and return together), and between which voltages each is held, each limit with its own spread."""

    count: int
    hold_a: float
    full_a: float
    lead_ohm: float
    segment_ohm: float
    hold_v: float = 1.5
    hold_spread_v: float = 0.0
    dark_v: float = 1.7
    dark_spread_v: float = 0.1

    @property
    def window_v(self) -> tuple[float, float]:
        """Between which voltages every lamp is held and dark. [V]"""
        return self.hold_v + self.hold_spread_v, self.dark_v - self.dark_spread_v


@dataclass(frozen=True)
class HoldSource:
    """The hold regulator: its output and tolerance, what lies between it and the rail, and its input."""

    out_v: float
    tolerance: float = 0.0
    diode_v: float = 0.0
    switch_ohm: float = 0.0
    in_v: float = 5.0
    in_droop_v: float = 0.0
    dropout_v: float = 1.25
    theta_k_per_w: float = 100.0


@dataclass(frozen=True)
class FullSource:
    """The supply of the full state and its switch."""

    supply_v: float
    switch_ohm: float
    theta_k_per_w: float = 62.0


@dataclass(frozen=True)
class HeldRail:
    """The held state, solved: each lamp's voltage, (n,), how far all are inside the window, and which outputs do."""

    lamp_v: Floats
    low_margin_v: float
    high_margin_v: float
    allowed_v: tuple[float, float]

    @property
    def holds(self) -> bool:
        """Whether every lamp stays alive and dark."""
        return self.low_margin_v >= -1e-12 and self.high_margin_v >= -1e-12

    @property
    def window_exists(self) -> bool:
        """Whether any output would hold all of them."""
        return at_most(self.allowed_v[0], self.allowed_v[1])


@dataclass(frozen=True)
class RailHeat:
    """Headroom of the hold regulator, its heat and the full switch's, with both currents."""

    headroom_v: float
    headroom_ok: bool
    hold_a: float
    full_a: float
    regulator_w: float
    regulator_c: float
    switch_w: float
    switch_c: float


def rail_drops(lamps: HoldLamps, lamp_a: float, before_ohm: float) -> Floats:
    """Voltage lost from the source to each lamp of a ladder whose lamps draw alike. (n,) [V]

    Args:
        lamps: the lamps.
        lamp_a: what each draws. [A]
        before_ohm: resistance before the lead. [ohm]

    Source: superposition on a discrete ladder; any circuits text.
    """
    beyond = lamp_a * np.arange(lamps.count - 1, 0, -1)
    steps = np.concatenate([[lamp_a * lamps.count * (before_ohm + lamps.lead_ohm)], beyond * lamps.segment_ohm])
    return np.asarray(np.cumsum(steps))


def held_rail(lamps: HoldLamps, source: HoldSource) -> HeldRail:
    """The held state at both ends of the regulator's tolerance.

    ``(V_out · (1 − tol) − drop) ≥ foot`` and ``(V_out · (1 + tol) − drop) ≤ top``  (1) for the lamp farthest down and
    highest up.

    Args:
        lamps: the lamps.
        source: the regulator.

    Source: Kirchhoff's voltage law along the ladder.
    """
    drops = rail_drops(lamps, lamps.hold_a, source.switch_ohm) + source.diode_v
    foot_v, top_v = lamps.window_v
    most, least = float(drops.max()), float(drops.min())
    return HeldRail(
        source.out_v - drops,
        source.out_v * (1 - source.tolerance) - most - foot_v,  # (1)
        top_v - (source.out_v * (1 + source.tolerance) - least),
        ((foot_v + most) / (1 - source.tolerance), (top_v + least) / (1 + source.tolerance)),
    )


def full_rail(lamps: HoldLamps, source: FullSource) -> Floats:
    """Each lamp's voltage in the full state. (n,) [V]

    Args:
        lamps: the lamps.
        source: the supply and its switch.
    """
    return np.asarray(source.supply_v - rail_drops(lamps, lamps.full_a, source.switch_ohm))


def rail_heat(lamps: HoldLamps, hold: HoldSource, full: FullSource, ambient_c: float) -> RailHeat:
    """Headroom ``V_in − droop − V_out``, regulator ``(V_in − V_out) · I`` and switch ``R · I²``  (1).

    Args:
        lamps: the lamps.
        hold: the hold regulator.
        full: the full supply and its switch.
        ambient_c: temperature of the air. [°C]

    Source: a linear regulator's data sheet.
    """
    hold_a, full_a = lamps.count * lamps.hold_a, lamps.count * lamps.full_a
    headroom_v = hold.in_v - hold.in_droop_v - hold.out_v
    regulator_w, switch_w = (hold.in_v - hold.out_v) * hold_a, full.switch_ohm * full_a**2  # (1)
    return RailHeat(
        headroom_v, at_least(headroom_v, hold.dropout_v), hold_a, full_a,
        regulator_w, junction_c(regulator_w, ambient_c, hold.theta_k_per_w),
        switch_w, junction_c(switch_w, ambient_c, full.theta_k_per_w),
    )  # fmt: skip


def pulsed_a(lamps: HoldLamps, duty: float) -> float:
    """Average current while pulsed between hold and full: ``d · I_full + (1 − d) · I_hold``  (1). [A]

    Args:
        lamps: the lamps.
        duty: share of the time in the full state. [-]

    Source: average of two states.
    """
    return lamps.count * (duty * lamps.full_a + (1 - duty) * lamps.hold_a)  # (1)


def pulse_in_range(pulse_hz: float) -> bool:
    """Whether lamps may be pulsed so fast: 100 Hz to 1 kHz.

    Args:
        pulse_hz: pulses a second. [Hz]
    """
    return at_least(pulse_hz, SLOWEST_HZ) and at_most(pulse_hz, FASTEST_HZ)
