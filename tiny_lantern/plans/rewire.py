"""Changing a way to drive with all that follows: its pins, and whether the board can hold what it shows."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_drive import change_driver, without_idle_pins
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.pin_needs import board_needs
from tiny_lantern.model.steering import outputs_used, steered_by
from tiny_lantern.model.ways.chain import Chain
from tiny_lantern.plans.pins import assign_pins

BYTE = 8
SHAPES = {"rows", "columns", "rows_by", "chip_id"}


def change_way(build: Build, driver_id: str, **changes: Any) -> Build:
    """Change fields of a way to drive; its chips follow its rows, columns and kind of chip, pins that it needs no
    longer are let go, and those that it needs now are found.

    Raises:
        LanternError: the board has too few pins or too little memory for it, or it would share the lines of itself.
    """
    driver: Driver = item(build.drivers, driver_id, "driver")
    before = board_needs(build, driver.board_id)
    build = change_driver(build, driver_id, **changes, **_chips_after(build, driver, changes))
    _no_ring(build, driver_id)
    assert_memory(build, driver.board_id)
    if board_needs(build, driver.board_id) == before:
        return build
    return assign_pins(without_idle_pins(build), driver.board_id)


def on_board(build: Build, driver_id: str, board_id: str) -> Build:
    """Have another board drive it: pins are found there, and lines that were shared with others are so no longer.

    Args:
        build: the build.
        driver_id: the way to drive.
        board_id: the board that it goes to.

    Raises:
        LanternError: a board has too few pins or too little memory.
    """
    driver: Driver = item(build.drivers, driver_id, "driver")
    if driver.board_id == board_id:
        return build
    left = [other.id for other in build.drivers if isinstance(other, Chain) and other.bus_of == driver_id]
    steered = [other.id for other in steered_by(build, driver)]
    for other_id in steered:
        build = change_driver(build, other_id, inputs_on=None)
    alone = {name: None for name in ("bus_of", "inputs_on") if name in type(driver).model_fields}
    build = change_driver(build, driver_id, board_id=board_id, pins=(), **alone)
    for other_id in left:
        build = change_driver(build, other_id, bus_of=None)
    assert_memory(build, board_id)
    build = assign_pins(without_idle_pins(build), board_id)
    return assign_pins(build, driver.board_id) if left or steered else build


def _chips_after(build: Build, driver: Driver, changes: Mapping[str, Any]) -> dict[str, int]:
    """How many chips it takes after changes that bear on them."""
    if not isinstance(driver, Chain) or "chips" in changes or not SHAPES & changes.keys():
        return {}
    used = outputs_used(build, driver)
    return {"chips": revise(driver, **changes).chips_for(used, build.shelf)}


def _no_ring(build: Build, driver_id: str) -> None:
    """Data and clock are shared with a chain that has its own, on the same board."""
    by_id = {driver.id: driver for driver in build.drivers}
    for driver in build.drivers:
        if not isinstance(driver, Chain) or driver.bus_of is None:
            continue
        owner = by_id[driver.bus_of]
        own_lines = isinstance(owner, Chain) and owner.bus_of is None and owner.board_id == driver.board_id
        if not own_lines or owner.id == driver.id:
            told = f"{by_id[driver_id].name} cannot share the lines of {owner.name}"
            raise LanternError(told, "shares lines", "a chain of the same board that has data and clock of its own")


def frame_bytes(build: Build, board_id: str) -> int:
    """How many bytes the chains of a board hold for one frame: a bit for each output and each level's bit. [-]"""
    total = 0
    for driver in build.drivers:
        if isinstance(driver, Chain) and driver.board_id == board_id:
            outputs = driver.chips * build.shelf.find(ChipPart, driver.chip_id).outputs
            total += -(-outputs // BYTE) * driver.levels_bits
    return total


def assert_memory(build: Build, board_id: str) -> None:
    """Refuse chains whose frame is longer than the board's memory.

    Raises:
        LanternError: it is, with how many bytes there are.
    """
    board = item(build.boards, board_id, "board")
    held, needed = build.shelf.find(BoardPart, board.part_id).memory_bytes, frame_bytes(build, board_id)
    if needed > held:
        raise LanternError(
            f"one frame of the chains on {board.name} takes {needed} bytes", "memory",
            f"at most {held} bytes on this board: fewer chips, fewer bits, or a larger board",
        )  # fmt: skip
