"""Small builds whose lamps are driven."""

from __future__ import annotations

from typing import Any

from tests.support.builds import part
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver
from tiny_lantern.model.edits import change_parts, with_part
from tiny_lantern.model.edits_drive import (
    add_board,
    add_rail,
    change_channel,
    change_driver,
    change_rail,
    feed_board,
)
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.lamps import HoldGroup, LampGroup, Matrix, SwitchedLoad
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece
from tiny_lantern.plans.usual import USUAL_A
from tiny_lantern.plans.ways import drive_piece, with_resistors

SMALL, LARGE, TINY, ROUTED = "board-8bit-small", "board-8bit-large", "board-8bit-tiny", "board-routed-3v3"
OFFSET = "board-paired-3v3"


def lamps(count: int = 4, part_id: str = "led-red-5mm", **more: Any) -> LampGroup:
    """Single lamps."""
    return LampGroup(id="lamps", name="Lamps", part_id=part_id, lamp_count=count, **more)


def driven(kind: str, piece: Piece | None = None, board: str = LARGE, **changes: Any) -> Build:
    """One piece on a board, driven in a way, with some of the driver's fields changed."""
    piece = piece or lamps()
    build = add_board(add_piece(Build(), part(piece.part_id), piece), part(board))
    build = asking(drive_piece(build, build.pieces[0].id, kind), USUAL_A)
    for name, value in changes.items():
        if name.endswith("_id") and value is not None:
            build = with_part(build, part(value))
    return change_driver(build, build.drivers[0].id, **changes) if changes else build


def asking(build: Build, wanted_a: float) -> Build:
    """The build whose lamps are asked for a current, whatever gives it, where they were asked for less."""
    channels = tuple(
        revise(each, wanted_a=wanted_a) if each.wanted_a < wanted_a <= most_of(build, each) else each
        for each in build.channels
    )
    if channels == build.channels:
        return build
    return with_resistors(revise(build, channels=channels), build.drivers[0].id)


def most_of(build: Build, channel: Channel) -> float:
    """What a channel's lamp bears. [A]"""
    lamp = build.shelf.find(Part, build.line.piece(channel.slots[0].piece_id).part_id)
    return getattr(lamp, "most_a", 0.0)


def first(build: Build) -> tuple[Driver, Channel]:
    """The first driver and its first channel."""
    driver = build.drivers[0]
    return driver, build.channels_of[driver.id][0]


def with_channel(build: Build, **changes: Any) -> Build:
    """The first channel changed."""
    return change_channel(build, first(build)[1].id, **changes)


def lit(build: Build, colour: str = "#ffffff", kind: str = "steady", length_s: float = 10.0, **look: Any) -> Build:
    """A show that lights every lamp."""
    last = build.line.slot_count - 1
    return add_effect(build, look_of(kind, colour=colour, **look), 0, last, 0.0, length_s)


def matrix(rows: int = 8, columns: int = 8) -> Matrix:
    """A dot matrix."""
    return Matrix(id="matrix", name="Matrix", part_id="matrix-red-8x8", rows=rows, columns=columns)


def hold(count: int = 5) -> HoldGroup:
    """Self-changing lamps."""
    return HoldGroup(id="hold", name="Festoon", part_id="lamp-self-changing", lamp_count=count)


def flood(part_id: str = "floodlight-12v") -> SwitchedLoad:
    """A load."""
    return SwitchedLoad(id="flood", name="Flood", part_id=part_id)


def railed(count: int = 10, supply: str = "bench-30v-5a", target_v: float = 5.0, **changes: Any) -> Build:
    """Lamps behind a sink chip on a rail of their own, with some of its fields changed."""
    build = add_supply(driven("sink", lamps(count), led_v=5.0), part(supply), "Source")
    build = feed_board(build, build.boards[0].id, None)
    build = add_rail(build, part("regulator-low-drop"), build.supplies[0].id, target_v)
    return change_rail(build, build.rails[0].id, **changes) if changes else build


def heavy(amps: float) -> Build:
    """One load of so many amps at 12 V behind a relay."""
    build = driven("relay", flood())
    return change_parts(build, revise(build.shelf.of(LoadPart)[0], power_w=12.0 * amps))
