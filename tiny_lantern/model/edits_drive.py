"""Edits of boards, ways to drive, channels and pins."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.model.base import made, revise, same_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.drive import Board, Channel, Driver, DriverPin, Reserved
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, shifted, with_part, without_all
from tiny_lantern.model.edits_sources import hang_on, refed, with_sources
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.pin_needs import board_needs
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.ways.registry import AnyDriver

RAIL_SHARE = 0.05


def add_board(build: Build, part: BoardPart, name: str = "Board") -> Build:
    """Add a board, fed by the first supply of its logic voltage."""
    build = with_part(build, part)
    supply = next((supply.id for supply in build.supplies if abs(supply.set_v - 5.0) < 0.5), None)
    fed_by = FedBy(id=supply) if supply is not None else None
    board = made(Board, id=fresh_id(build, name), name=name, part_id=part.id, fed_by=fed_by)
    return revise(build, boards=(*build.boards, board))


def another_board(build: Build, part: BoardPart) -> Build:
    """Add a board with a name of its own, the last in the chain."""
    taken = {board.name for board in build.boards}
    return add_board(build, part, numbered_name("Board", taken) if "Board" in taken else "Board")


def shift_board(build: Build, board_id: str, by: int) -> Build:
    """Move a board by some places in the chain; every piece stays on its own board's data line.

    Args:
        build: the build.
        board_id: the board.
        by: how many places, earlier ones below 0. [-]
    """
    item(build.boards, board_id, "board")
    hangs_on = {piece.id: owner for owner, pieces in on_data_lines(build).items() for piece in pieces}
    pieces = tuple(
        revise(piece, board_id=hangs_on[piece.id]) if piece.id in hangs_on else piece for piece in build.pieces
    )
    return revise(build, pieces=pieces, boards=shifted(build.boards, board_id, by))


def change_board(build: Build, board_id: str, **changes: Any) -> Build:
    """Change fields of a board."""
    old = item(build.boards, board_id, "board")
    return revise(build, boards=replaced(build.boards, board_id, revise(old, **changes)))


def feed_board(build: Build, board_id: str, source_id: str | None) -> Build:
    """Feed a board from a supply or a rail, or by its cable.

    Args:
        build: the build.
        board_id: the board.
        source_id: the supply or the rail; None for its cable.
    """
    return hang_on(build, "fed_by", board_id, None if source_id is None else FedBy(id=source_id))


def change_board_part(build: Build, board_id: str, part: BoardPart) -> Build:
    """Make a board another one; pins that it does not have are given up."""
    build = with_part(build, part)
    names = {pin.name for pin in part.pins}
    drivers = tuple(
        revise(driver, pins=tuple(pin for pin in driver.pins if pin.pin in names))
        if driver.board_id == board_id
        else driver
        for driver in build.drivers
    )
    board = item(build.boards, board_id, "board")
    kept = tuple(each for each in board.reserved if each.pin in names)
    new = revise(board, part_id=part.id, reserved=kept)
    return revise(build, drivers=drivers, boards=replaced(build.boards, board_id, new))


def remove_board(build: Build, board_id: str) -> Build:
    """Remove a board with all that it drives; the lamps stay."""
    item(build.boards, board_id, "board")
    return without_all(build, board_id)


def add_rail(build: Build, part: RegulatorPart, supply_id: str, target_v: float) -> Build:
    """Add a rail trimmed to a voltage, with a window of a twentieth on both sides.

    Args:
        build: the build.
        part: its regulator.
        supply_id: the supply or the rail that it comes from.
        target_v: what it is trimmed to. [V]

    Raises:
        LanternError: there is no such supply, or the regulator cannot give that.
    """
    build = with_part(build, part)
    name = f"Rail {len(build.rails) + 1}"
    rail = made(
        Rail, id=fresh_id(build, name), name=name, fed_by=FedBy(id=supply_id), regulator_id=part.id, target_v=target_v,
        low_v=round(target_v * (1 - RAIL_SHARE), 3), high_v=round(target_v * (1 + RAIL_SHARE), 3),
    )  # fmt: skip
    return with_sources(revise(build, rails=(*build.rails, rail)))


def change_rail(build: Build, rail_id: str, **changes: Any) -> Build:
    """Change fields of a rail."""
    old = item(build.rails, rail_id, "rail")
    return revise(build, rails=replaced(build.rails, rail_id, revise(old, **changes)))


def remove_rail(build: Build, rail_id: str) -> Build:
    """Remove a rail; what hung on it hangs on another source of its voltage, a board on its cable."""
    item(build.rails, rail_id, "rail")
    return with_sources(without_all(build, rail_id))


def change_driver(build: Build, driver_id: str, **changes: Any) -> Build:
    """Change fields of a way to drive; where it wants another voltage then, it hangs on a source that gives it."""
    old: Driver = item(build.drivers, driver_id, "driver")
    new = revise(build, drivers=replaced(build.drivers, driver_id, revise(old, **changes)))
    return refed(new, build, driver_id)


def remove_driver(build: Build, driver_id: str) -> Build:
    """Remove a way to drive; its lamps stay, driven by nothing."""
    item(build.drivers, driver_id, "driver")
    return without_all(build, driver_id)


def change_channel(build: Build, channel_id: str, **changes: Any) -> Build:
    """Change fields of a channel; its resistor is that of all that lie behind it."""
    old: Channel = item(build.channels, channel_id, "channel")
    build = revise(build, channels=replaced(build.channels, channel_id, revise(old, **changes)))
    return with_one_resistor(build, channel_id) if "resistor_ohm" in changes else build


def with_one_resistor(build: Build, channel_id: str) -> Build:
    """The build with the resistor of a channel for every channel that lies behind it."""
    own: Channel = item(build.channels, channel_id, "channel")
    driver = item(build.drivers, own.driver_id, "driver")
    outputs = driver.behind_one_resistor(own.output)
    if len(outputs) < 2:
        return build
    behind = {channel.id for channel in build.channels_of[driver.id] if channel.output in outputs}
    fitted = (revise(each, resistor_ohm=own.resistor_ohm) if each.id in behind else each for each in build.channels)
    return revise(build, channels=tuple(fitted))


def change_channels(build: Build, driver_id: str, **changes: Any) -> Build:
    """Change the same fields of all channels of a driver."""
    channels = tuple(
        revise(channel, **changes) if channel.driver_id == driver_id else channel for channel in build.channels
    )
    return revise(build, channels=channels)


def reserve_pin(build: Build, board_id: str, pin: str, what: str) -> Build:
    """Keep a pin for something else, or let it go where nothing is said.

    Args:
        build: the build.
        board_id: its board.
        pin: the pin.
        what: the thing, and the timer that it takes where it takes one: ``sounder, timer 2``.

    Raises:
        LanternError: the board has no such pin, or a lamp is on it.
    """
    board: Board = item(build.boards, board_id, "board")
    words, _, timer = what.partition(", timer ")
    others = tuple(kept for kept in board.reserved if kept.pin != pin)
    new = (made(Reserved, pin=pin, what=words.strip(), timer=timer.strip()),) if words.strip() else ()
    return change_board(build, board_id, reserved=(*others, *new))


def move_pin(build: Build, driver_id: str, role: str, pin: str) -> Build:
    """Lead a role of a driver to another pin, where it is pinned down; what is on that pin takes the old one.

    Raises:
        LanternError: the board has no such pin, or it is kept for something else.
    """
    driver: Driver = item(build.drivers, driver_id, "driver")
    board = item(build.boards, driver.board_id, "board")
    kept = next((each.what for each in board.reserved if each.pin == pin), None)
    if kept is not None:
        raise LanternError(f"pin {pin} is kept for {kept}", "pin", "another pin")
    before = next((each.pin for each in driver.pins if each.role == role), None)
    drivers = []
    for other in build.drivers:
        if other.board_id != driver.board_id:
            drivers.append(other)
            continue
        pins = []
        for each in other.pins:
            if other.id == driver_id and each.role == role:
                continue
            if each.pin == pin:
                if before is None:
                    continue
                each = revise(each, pin=before)
            pins.append(each)
        if other.id == driver_id:
            pins.append(made(DriverPin, role=role, pin=pin, pinned=True))
        drivers.append(revise(other, pins=tuple(pins)) if tuple(pins) != other.pins else other)
    return revise(build, drivers=tuple(drivers))


def with_pins(build: Build, board_id: str, pins: Mapping[tuple[str, str], str]) -> Build:
    """Give the drivers of a board their pins; those pinned down stay as they are.

    Args:
        build: the build.
        board_id: the board.
        pins: the pin of each driver's id and role.
    """
    drivers: list[AnyDriver] = []
    for driver in build.drivers:
        if driver.board_id != board_id:
            drivers.append(driver)
            continue
        fixed = [pin for pin in driver.pins if pin.pinned]
        roles = {pin.role for pin in fixed}
        new = [
            DriverPin(role=role, pin=pin)
            for (owner, role), pin in pins.items()
            if owner == driver.id and role not in roles
        ]
        own = any(owner == driver.id for owner, _ in pins)
        drivers.append(revise(driver, pins=(*fixed, *new)) if own or fixed != list(driver.pins) else driver)
    return revise(build, drivers=tuple(drivers))


def without_idle_pins(build: Build) -> Build:
    """The build without pins that their drivers no longer need."""
    needed = {(need.driver_id, need.role) for board in build.boards for need in board_needs(build, board.id)}
    drivers = []
    for driver in build.drivers:
        pins = tuple(pin for pin in driver.pins if (driver.id, pin.role) in needed)
        drivers.append(driver if pins == driver.pins else revise(driver, pins=pins))
    return build if same_members(drivers, build.drivers) else revise(build, drivers=tuple(drivers))
