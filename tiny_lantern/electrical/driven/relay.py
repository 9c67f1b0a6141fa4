"""Loads behind relays."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.relay import CoilBoard, Coils, coils
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.ways.relay import RelayBoard

KIND = RelayBoard


def solve(case: Case) -> ChannelResult:
    """Each contact with its load, and all coils on the logic supply.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, RelayBoard)
    part = relay_of(case)
    count = len(case.channels)
    on_a = np.array([lamp.load_a if lamp.led is None else channel.wanted_a
                     for channel, lamp in zip(case.channels, case.lamps, strict=True)])  # fmt: skip
    worst = float(on_a.max()) if count else 0.0
    board = Block(driver.name, 0, count, worst, part.contact_a, "A", "contact")
    volts = [lamp.part.nominal_v if isinstance(lamp.part, LoadPart) else 0.0 for lamp in case.lamps]
    rail_v = volts[0] if volts else part.coil_v
    return ChannelResult(
        case, on_a, on_a * case.duties, np.full(count, part.contact_a), np.full(count, part.contact_a),
        np.array(volts), np.zeros(count), (board,), rail_v, float(on_a.sum()), all_coils(case).total_a,
    )  # fmt: skip


def relay_of(case: Case) -> RelayPart:
    """The relay board."""
    assert isinstance(case.driver, RelayBoard)
    return case.build.shelf.find(RelayPart, case.driver.relay_id)


def all_coils(case: Case, on: int | None = None) -> Coils:
    """Coils on at once, on what feeds the board.

    Args:
        case: the driver with its channels.
        on: how many are on, all of them when None. [-]
    """
    part = relay_of(case)
    rail = next((each for each in case.build.rails if each.id == case.board.rail_id), None)
    supply = next((each for each in case.build.supplies if each.id == case.board.supply_id), None)
    if rail is not None:
        gives_a = case.build.shelf.find(RegulatorPart, rail.regulator_id).most_a
        board = CoilBoard(
            rail.target_v, rail.output_ohm, part.coil_ohm, part.driver_drop_v, part.must_operate_v, gives_a
        )
    elif supply is None:
        board = CoilBoard(part.coil_v, 0.0, part.coil_ohm, part.driver_drop_v, part.must_operate_v, float("inf"))
    else:
        own = case.build.shelf.find(SupplyPart, supply.part_id)
        board = CoilBoard(
            supply.set_v, own.output_ohm, part.coil_ohm, part.driver_drop_v, part.must_operate_v, own.rated_a
        )
    return coils(board, len(case.channels) if on is None else on)
