"""Loads behind relays."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.relay import CoilBoard, Coils, coils
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult
from tiny_lantern.model.build import Supply
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import source_of
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
    volts, ohm, most_a = _feeding(case, part)
    board = CoilBoard(volts, ohm, part.coil_ohm, part.driver_drop_v, part.must_operate_v, most_a)
    return coils(board, len(case.channels) if on is None else on)


def _feeding(case: Case, part: RelayPart) -> tuple[float, float, float]:
    """What feeds the coils: its voltage, its resistance, and what it gives at most. [V], [ohm], [A]"""
    assert isinstance(case.driver, RelayBoard)
    source, shelf = source_of(case.build, case.driver.coils_fed_by), case.build.shelf
    if source is None:
        return part.coil_v, 0.0, float("inf")
    if isinstance(source.thing, Rail):
        return source.volts, source.thing.output_ohm, shelf.find(RegulatorPart, source.thing.regulator_id).most_a
    if isinstance(source.thing, Supply):
        supply = shelf.find(SupplyPart, source.thing.part_id)
        return source.volts, supply.output_ohm, supply.rated_a
    board = shelf.find(BoardPart, source.thing.part_id)
    return source.volts, 0.0, board.logic_a if source.fed_by.pin == "logic" else board.cable_a
