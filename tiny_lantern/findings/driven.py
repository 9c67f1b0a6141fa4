"""What the rules on driving read: every driver solved, and what the show asks of its channels."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import TYPE_CHECKING, Any

from tiny_lantern.electrical.driven.contract import Case, ChannelResult
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Fix
from tiny_lantern.model.drive import Channel, Driver
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import change_board_part, change_driver
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.working import Step, Working

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

ROW_TRANSISTOR = "mosfet-high"


def driven(evidence: Evidence, *kinds: type[Driver]) -> Iterator[tuple[Any, ChannelResult]]:
    """Every driver of some kinds with its result."""
    for driver in evidence.build.drivers:
        if isinstance(driver, kinds):
            yield driver, evidence.drive.by_driver[driver.id]


def at_channel(channel: Channel, driver: Driver) -> Place:
    """Where a channel is: its first lamp, its piece, and what drives it."""
    first: SlotRef = channel.slots[0]
    return Place(first, None, (Ref("pieces", first.piece_id), Ref("drivers", driver.id)))


def at_driver(build: Build, driver: Driver) -> Place:
    """Where a driver is: its first lamp where it has one."""
    channels = build.channels_of[driver.id]
    return at_channel(channels[0], driver) if channels else Place.on("drivers", driver.id)


def called(case: Case, at: int) -> str:
    """A channel by its lamp's place, with the die where it is one of several.

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    channel, lamp = case.channels[at], case.lamps[at]
    name = lamp.piece.name if len(channel.slots) > 1 else lamp.piece.place_name(channel.slots[0].index)
    return f"{name}, {channel.die}" if channel.die else name


def one_step(title: str, formula: str, values: str, result: str) -> partial[Working]:
    """A working of one line."""
    return partial(Working, title, (Step(formula, values, result),))


def tenth_up(value: float) -> float:
    """A voltage rounded up to a tenth of a volt, as a supply is set. [V]"""
    return math.ceil(value * 10 - 1e-6) / 10


def pins_again(build: Build, board_id: str, driver_ids: tuple[str, ...] = ()) -> Build:
    """The board's pins assigned anew, some drivers' pins let go of."""
    from tiny_lantern.model.base import revise  # with the plan below, only when a mend is tried
    from tiny_lantern.plans.pins import assign_pins

    drivers = tuple(
        revise(driver, pins=tuple(revise(pin, pinned=False) for pin in driver.pins))
        if driver.id in driver_ids
        else driver
        for driver in build.drivers
    )
    return assign_pins(revise(build, drivers=drivers), board_id)


def use_board(build: Build, board_id: str, part: BoardPart) -> Build:
    """Another kind of board in a board's place, its pins assigned anew.

    Raises:
        LanternError: it has too few pins.
    """
    return pins_again(change_board_part(build, board_id, part), board_id)


def assign_again(board_id: str, *driver_ids: str) -> Fix:
    """The button that assigns pins anew."""
    return Fix("Assign pins again", partial(pins_again, board_id=board_id, driver_ids=driver_ids))


def row_transistors(build: Build, driver_id: str) -> Build:
    """A matrix with a transistor for each row, from the shelf."""
    from tiny_lantern.catalogue.shelf import all_parts  # with the plan below, only when a mend is tried
    from tiny_lantern.plans.rewire import change_way

    part = all_parts(build).find(TransistorPart, ROW_TRANSISTOR)
    fitted = {"rows_by": "transistor", "row_transistor_id": part.id, "row_ohm": part.rds_table[-1][1]}
    return change_way(with_part(build, part), driver_id, **fitted)


def other_transistor(build: Build, driver_id: str, part: TransistorPart) -> Build:
    """A driver with another transistor; an edit.

    Args:
        build: the build.
        driver_id: the driver.
        part: the transistor.
    """
    return change_driver(with_part(build, part), driver_id, transistor_id=part.id)
