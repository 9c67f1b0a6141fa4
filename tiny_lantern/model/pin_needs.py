"""Which pins the ways to drive of a board and its data lines need, and which they have."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from tiny_lantern.model.data_lines import first_on_lines
from tiny_lantern.model.drive import Dimmed, Driver, DriverPin, PinNeed, bits_for
from tiny_lantern.model.input import Input
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.ways.chain import Chain

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build


DATA = "data"


def board_needs(build: Build, board_id: str) -> list[PinNeed]:
    """The pins that all drivers of a board need, each driver's in the order of its outputs, then those of its data
    lines, each by the first piece on it, and those of its inputs."""
    own = (driver for driver in build.drivers if driver.board_id == board_id)
    lines = (PinNeed(piece.id, DATA) for piece in first_on_lines(build).get(board_id, ()))
    heard = (need for each in build.inputs if each.board_id == board_id for need in each.needs())
    return [*(need for driver in own for need in _needs_of(build, driver)), *lines, *heard]


def pins_of(build: Build, board_id: str) -> dict[tuple[str, str], DriverPin]:
    """The pin of each need of a board that has one, by its owner (a driver, an input, or the first piece on a data
    line) and its role."""
    board = next(board for board in build.boards if board.id == board_id)
    owners: tuple[Driver | Input, ...] = (*build.drivers, *build.inputs)
    own = {(each.id, pin.role): pin for each in owners if each.board_id == board_id for pin in each.pins}
    first = [piece.id for piece in first_on_lines(build).get(board_id, ())]
    lines = {line.piece_id: line for line in board.lines if line.piece_id in first}
    if not build.data.parallel:  # one line, whatever piece begins it now
        lines = dict(zip(first, board.lines, strict=False))
    return own | {
        (owner, DATA): DriverPin(role=DATA, pin=line.pin, pinned=line.pinned) for owner, line in lines.items()
    }


def owner_name(build: Build, owner_id: str) -> str:
    """The name of what has a pin: a driver, an input, or the first piece on a data line."""
    owners: tuple[Driver | Input | Piece, ...] = (*build.drivers, *build.inputs, *build.pieces)
    return next(each.name for each in owners if each.id == owner_id)


def behind(build: Build, driver: Driver) -> tuple[Driver, ...]:
    """The chains whose latches a multiplexer selects beside the driver's own; none where there is no multiplexer."""
    return tuple(
        other
        for other in build.drivers
        if isinstance(other, Chain) and other.bus_of == driver.id and other.select_by == "multiplexer"
    )


def _needs_of(build: Build, driver: Driver) -> Iterator[PinNeed]:
    yield from driver.needs(build.channels_of[driver.id])
    others = behind(build, driver)
    if others:
        yield from (PinNeed(driver.id, f"select {bit}") for bit in range(bits_for(1 + len(others))))
    if isinstance(driver, Dimmed) and driver.knob:
        yield PinNeed(driver.id, "knob", reads=True)
