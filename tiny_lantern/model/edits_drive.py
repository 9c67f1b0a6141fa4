"""Edits of boards, ways to drive, channels and pins."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, TypeVar

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.drive import Board, Channel, Driver, DriverPin, LinePin, Reserved
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, shifted, with_part, without_all
from tiny_lantern.model.edits_sources import hang_on, refed, with_sources
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.input import Input
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.pin_needs import DATA, board_needs, pins_of
from tiny_lantern.model.rail import Rail

RAIL_SHARE = 0.05
P = TypeVar("P", Driver, Input)


def add_board(build: Build, part: BoardPart, name: str = "Board") -> Build:
    """Add a board, fed by the first supply of its logic voltage."""
    build = with_part(build, part)
    supply = next((supply.id for supply in build.supplies if abs(supply.set_v - 5.0) < 0.5), None)
    fed_by = FedBy(id=supply) if supply is not None else None
    board = made(Board, id=fresh_id(build, name), name=name, part_id=part.id, fed_by=fed_by)
    return with_data_pins(revise(build, boards=(*build.boards, board)))


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
    lines = tuple(each for each in board.lines if each.pin in names)
    new = revise(board, part_id=part.id, reserved=kept, lines=lines)
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
    """Lead a role of a driver, or the data line of a piece, to another pin, where it is pinned down; what is on that
    pin takes the old one.

    Raises:
        LanternError: the board has no such pin, or it is kept for something else.
    """
    board = item(build.boards, board_of_owner(build, driver_id), "board")
    kept = next((each.what for each in board.reserved if each.pin == pin), None)
    if kept is not None:
        raise LanternError(f"pin {pin} is kept for {kept}", "pin", "another pin")
    pins = pins_of(build, board.id)
    before = pins.pop((driver_id, role), None)
    for key, other in list(pins.items()):
        if other.pin == pin:
            if before is None:
                del pins[key]
            else:
                pins[key] = revise(other, pin=before.pin)
    pins[driver_id, role] = made(DriverPin, role=role, pin=pin, pinned=True)
    return _with_all_pins(build, board.id, pins)


def board_of_owner(build: Build, owner_id: str) -> str:
    """The board that has the pins of a driver, or of the data line that begins with a piece.

    Raises:
        LanternError: there is no such driver or piece on a data line.
    """
    lines = {piece.id: board_id for board_id, pieces in on_data_lines(build).items() for piece in pieces}
    return lines[owner_id] if owner_id in lines else item(build.drivers, owner_id, "driver").board_id


def with_pins(build: Build, board_id: str, pins: Mapping[tuple[str, str], str]) -> Build:
    """Give the drivers and data lines of a board their pins; those pinned down stay as they are.

    Args:
        build: the build.
        board_id: the board.
        pins: the pin of each driver's id, or of that of the first piece on a data line, and role.
    """
    fixed = {key: pin for key, pin in pins_of(build, board_id).items() if pin.pinned}
    new = {(owner, role): DriverPin(role=role, pin=pin) for (owner, role), pin in pins.items()}
    return _with_all_pins(build, board_id, fixed | {key: pin for key, pin in new.items() if key not in fixed})


def _with_all_pins(build: Build, board_id: str, pins: Mapping[tuple[str, str], DriverPin]) -> Build:
    """The build with just these pins of a board."""
    own: dict[str, list[DriverPin]] = {}
    for (owner, _), pin in pins.items():
        own.setdefault(owner, []).append(pin)
    drivers, inputs = _pinned(build.drivers, board_id, own), _pinned(build.inputs, board_id, own)
    board = item(build.boards, board_id, "board")
    owners: tuple[Driver | Input, ...] = (*build.drivers, *build.inputs)
    lines = tuple(
        LinePin(piece_id=owner, pin=pin.pin, pinned=pin.pinned)
        for (owner, role), pin in pins.items()
        if role == DATA and all(each.id != owner for each in owners)
    )
    boards = replaced(build.boards, board_id, revise(board, lines=lines)) if lines != board.lines else build.boards
    return revise(build, drivers=drivers, boards=boards, inputs=inputs)


def _pinned(things: tuple[P, ...], board_id: str, own: Mapping[str, Sequence[DriverPin]]) -> tuple[P, ...]:
    """Drivers or inputs, those of a board with just these pins."""
    return tuple(
        revise(each, pins=tuple(own.get(each.id, ())))
        if each.board_id == board_id and tuple(own.get(each.id, ())) != each.pins
        else each
        for each in things
    )


def without_idle_pins(build: Build) -> Build:
    """The build without pins that their drivers, or data lines that are no more, no longer need."""
    for board in build.boards:
        needed = {(need.driver_id, need.role) for need in board_needs(build, board.id)}
        pins = pins_of(build, board.id)
        if pins.keys() - needed:
            build = _with_all_pins(build, board.id, {key: pin for key, pin in pins.items() if key in needed})
    return build


def with_data_pins(build: Build) -> Build:
    """The build with a pin for every data line that has none: the first free one that does nothing else; none where a
    board has none left.

    Args:
        build: the build.
    """
    for board in build.boards:
        pins = pins_of(build, board.id)
        part = build.shelf.find(BoardPart, board.part_id)
        lacking = [need for need in board_needs(build, board.id) if need.role == DATA
                   and (need.driver_id, DATA) not in pins and _is_piece(build, need.driver_id)]  # fmt: skip
        taken = {pin.pin for pin in pins.values()} | {each.pin for each in board.reserved}
        free = [pin for pin in part.pins if pin.output and pin.name not in taken]
        free.sort(key=lambda pin: bool(pin.taken_by) + bool(pin.adc) + bool(pin.compare))
        for need, pin in zip(lacking, free, strict=False):
            pins[need.driver_id, DATA] = DriverPin(role=DATA, pin=pin.name)
        if lacking:
            build = _with_all_pins(build, board.id, pins)
    return build


def data_outputs(build: Build, parallel: bool) -> Build:
    """An output and a pin for each piece on a data line, or one for all of a board's.

    Args:
        build: the build.
        parallel: whether each has its own.
    """
    return with_data_pins(revise(build, data=revise(build.data, parallel=parallel)))


def _is_piece(build: Build, owner_id: str) -> bool:
    return any(piece.id == owner_id for piece in build.pieces)
