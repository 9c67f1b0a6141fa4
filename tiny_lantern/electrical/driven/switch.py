"""Lamps behind a transistor each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from tiny_lantern.electrical.drive.bjt import Bjt, StringLoad, base_drive, switched
from tiny_lantern.electrical.drive.high_side import HighSide, high_side
from tiny_lantern.electrical.drive.mosfet import GateDrive, Mosfet, SwitchedGate, gate_v, switched_by_gate
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, DrivenLamp, Source, resistors
from tiny_lantern.electrical.driven.steering import Steering, steering_of
from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.model.drive import Channel
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.switch import Switch

KIND = Switch


@dataclass(frozen=True)
class OneSwitch:
    """One transistor on its lamp: current, what its pin gives, its heat and temperature, and what its gate gets.

    ``gate_v`` is None for a bipolar one, ``unknown`` says that nobody tells what so little on the gate does.
    """

    current_a: float
    pin_a: float
    heat_w: float
    warm_c: float
    gate_v: float | None = None
    barely_on: bool = False
    unknown: bool = False
    beta: float | None = None
    turns_off: bool = True


def solve(case: Case) -> ChannelResult:
    """Each lamp with its resistor behind a transistor on the lamps' supply.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Switch)
    part = transistor_of(case)
    found = [
        one_switch(driver, part, steering_of(case), case.board.ambient_c, channel, lamp, float(duty))
        for channel, lamp, duty in zip(case.channels, case.lamps, case.duties, strict=True)
    ]
    on_a = np.array([each.current_a for each in found])
    ohms, count = resistors(case), len(found)
    lamps = zip(case.lamps, on_a, strict=True)
    lamp_v = [lamp.as_one.voltage_v(float(amps)) if lamp.as_one else driver.led_v for lamp, amps in lamps]
    blocks = tuple(
        Block(driver.name, at, at + 1, each.warm_c, part.limit_c, "°C", part.name) for at, each in enumerate(found)
    )
    return ChannelResult(
        case, on_a, on_a * case.duties, np.full(count, part.most_a), np.full(count, part.most_a),
        np.array(lamp_v),
        on_a**2 * ohms * case.duties, blocks, driver.led_v, float(on_a.sum()), 0.0,
        np.array([each.pin_a for each in found]),
    )  # fmt: skip


def transistor_of(case: Case) -> TransistorPart:
    """The transistor of a switch."""
    assert isinstance(case.driver, Switch)
    return case.build.shelf.find(TransistorPart, case.driver.transistor_id)


def one_switch(
    driver: Switch, part: TransistorPart, by: Steering, ambient_c: float, channel: Channel, lamp: DrivenLamp,
    duty: float = 1.0,
) -> OneSwitch:  # fmt: skip
    """One transistor on its lamp; one that dims switches as often at its worst duty, just below full, as at any other.

    Args:
        driver: how it is driven.
        part: the transistor.
        by: the pin that drives it, or the output of a register.
        ambient_c: temperature of the air. [°C]
        channel: the channel.
        lamp: its lamp.
        duty: share of the time that it is on. [-]
    """
    load = load_of(driver.led_v, lamp.shared_ohm(channel.resistor_ohm), lamp)
    if part.sort == "bjt":
        bjt = bjt_of(part, by, ambient_c, duty)
        on = switched(bjt, load) if isinstance(load, StringLoad) else None
        current_a = on.current_a if on else float(load)  # type: ignore[arg-type]
        base = base_drive(bjt, current_a, driver.base_ohm or 0.0)
        heat_w = part.vce_sat_v * current_a * duty
        warm_c = junction_c(heat_w, ambient_c, part.theta_k_per_w)
        return OneSwitch(current_a, base.base_a, heat_w, warm_c, beta=base.actual_beta)
    drive = GateDrive(_gate_supply_v(driver, part, by), by.pin_ohm, driver.base_ohm or 0.0, driver.pull_ohm)
    mosfet = mosfet_of(part)
    off = True if part.sort == "mosfet" or driver.has_driver else _turns_off(driver, part, by)
    try:
        on_gate: SwitchedGate = switched_by_gate(
            mosfet, drive, load, driver.led_v, duty, 0.0 if driver.on_off or duty <= 0 else driver.dim_hz, ambient_c
        )
    except LanternError:
        return OneSwitch(0.0, 0.0, 0.0, ambient_c, gate_v(drive), unknown=True, turns_off=off)
    return OneSwitch(
        on_gate.current_a, 0.0, on_gate.heat_w, on_gate.junction_c, on_gate.gate_v, on_gate.barely_on, turns_off=off
    )


def _gate_supply_v(driver: Switch, part: TransistorPart, by: Steering) -> float:
    """What drives a gate: the pin, or a driver from the lamps' supply, which a high side is referred to. [V]"""
    if driver.has_driver:
        return min(driver.led_v, 12.0)
    return by.logic_v if part.sort == "mosfet" else driver.led_v


def _turns_off(driver: Switch, part: TransistorPart, by: Steering) -> bool:
    if driver.pull_ohm is None:
        return False
    stage = HighSide(driver.led_v, by.logic_v, part.threshold_v, driver.pull_ohm, driver.base_ohm or 0.0)
    return high_side(stage).turns_off


def load_of(led_v: float, resistor_ohm: float, lamp: DrivenLamp) -> StringLoad | float:
    """What a transistor switches: lamps behind the resistor that they share, or a load of so many amps.

    Args:
        led_v: the lamps' supply. [V]
        resistor_ohm: the resistor. [ohm]
        lamp: the lamp.
    """
    if lamp.as_one is None and not resistor_ohm:
        return lamp.load_a
    return StringLoad(led_v, resistor_ohm, lamp.straight(led_v, resistor_ohm))


def bjt_of(part: TransistorPart, by: Steering, ambient_c: float, duty: float = 1.0) -> Bjt:
    """A bipolar transistor on a board's pin, or on an output of a register.

    Args:
        part: the transistor.
        by: the pin, or the output of a register.
        ambient_c: temperature of the air. [°C]
        duty: share of the time that it is on. [-]
    """
    return Bjt(
        by.logic_v, by.pin_ohm, part.forced_beta, part.vbe_v, part.vce_sat_v, duty, ambient_c,
        part.theta_k_per_w, part.limit_c, by.pin_recommended_a, by.pin_absolute_a, part.base_limit_a,
    )  # fmt: skip


def mosfet_of(part: TransistorPart) -> Mosfet:
    """A transistor with a gate."""
    return Mosfet(part.rds_table, part.threshold_v, part.rise_s, part.fall_s, part.theta_k_per_w, part.limit_c)


def source(case: Case) -> Source:
    """A lamp's resistor lies behind its transistor, which keeps a part of the voltage where it is bipolar.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Switch)
    part = case.build.shelf.find(TransistorPart, driver.transistor_id)
    return Source(driver.led_v - (part.vce_sat_v if part.sort == "bjt" else 0.0), 0.0)


def comes_round_hz(case: Case) -> float | None:
    """How often its transistors go on and off while they dim; None where they do not. [Hz]

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Switch)
    return None if case.driver.on_off else case.driver.dim_hz
