"""Self-changing lamps on a rail that holds them."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.hold import (
    FullSource,
    HeldRail,
    HoldLamps,
    HoldSource,
    RailHeat,
    held_rail,
    rail_heat,
)
from tiny_lantern.electrical.drive.mosfet import GateDrive, gate_v, rds_ohm
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult
from tiny_lantern.electrical.driven.switch import mosfet_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.hold import HoldRail

KIND = HoldRail


def solve(case: Case) -> ChannelResult:
    """The rail full, with the heat of its regulator as its gauge.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, HoldRail)
    heat, regulator = heat_of(case), regulator_of(case)
    count = len(case.channels)
    most_a = case.build.shelf.find(TransistorPart, driver.transistor_id).most_a
    on_a = np.array([len(channel.slots) * driver.full_lamp_a for channel in case.channels])
    words = "held" if held_of(case).holds else "not held"
    block = Block(driver.name, 0, count, heat.regulator_c, regulator.limit_c, "°C", words)
    duty = case.duties
    return ChannelResult(
        case, on_a, on_a * duty + (1 - duty) * on_a * driver.hold_lamp_a / driver.full_lamp_a,
        np.full(count, most_a), np.full(count, most_a), np.full(count, driver.full_v), np.zeros(count), (block,),
        driver.full_v, float(on_a.sum()), heat.hold_a,
    )  # fmt: skip


def regulator_of(case: Case) -> RegulatorPart:
    """The hold regulator."""
    assert isinstance(case.driver, HoldRail)
    return case.build.shelf.find(RegulatorPart, case.driver.regulator_id)


def lamps_of(case: Case) -> HoldLamps:
    """The lamps on the rail."""
    driver = case.driver
    assert isinstance(driver, HoldRail)
    count = max(1, sum(len(channel.slots) for channel in case.channels))
    return HoldLamps(
        count, driver.hold_lamp_a, driver.full_lamp_a, driver.lead_ohm, driver.segment_ohm, driver.hold_v,
        driver.hold_spread_v, driver.dark_v, driver.dark_spread_v,
    )  # fmt: skip


def source_of(case: Case) -> HoldSource:
    """The hold regulator behind its diode."""
    driver, part = case.driver, regulator_of(case)
    assert isinstance(driver, HoldRail)
    return HoldSource(
        driver.out_v, part.tolerance, driver.diode_v, 0.0, driver.in_v, 0.0, part.dropout_v, part.theta_k_per_w
    )


def held_of(case: Case) -> HeldRail:
    """Whether every lamp is held, and by how much."""
    return held_rail(lamps_of(case), source_of(case))


def heat_of(case: Case) -> RailHeat:
    """Headroom and heat of the regulator and of the full switch."""
    driver = case.driver
    assert isinstance(driver, HoldRail)
    part = case.build.shelf.find(TransistorPart, driver.transistor_id)
    full = FullSource(driver.full_v, switch_ohm(case, part), part.theta_k_per_w)
    return rail_heat(lamps_of(case), source_of(case), full, case.board.ambient_c)


def switch_ohm(case: Case, part: TransistorPart) -> float:
    """Resistance of the full switch at what its gate gets; the worst that is told where nobody tells. A bipolar one
    that saturates is the resistance that drops its V_CEsat at the full current. [ohm]

    Args:
        case: the driver.
        part: the transistor.
    """
    if part.sort == "bjt":
        lamps = lamps_of(case)
        return part.vce_sat_v / (lamps.count * lamps.full_a)
    mosfet = mosfet_of(part)
    try:
        return rds_ohm(mosfet, gate_v(GateDrive(case.board_part.logic_v, case.board_part.pin_ohm)))
    except LanternError:
        return max(ohm for _, ohm in part.rds_table) if part.rds_table else 0.0
