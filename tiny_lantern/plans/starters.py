"""Small driven builds to start from: lamps on a register, a matrix sign, a wearable on a battery, mixed lamps."""

from __future__ import annotations

from collections.abc import Callable

from tiny_lantern.catalogue.kinds import add_first, kind_of
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.catalogue.starters import starter
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import change_piece, change_strip, rename_piece
from tiny_lantern.model.edits_power import add_supply, change_supply_part
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.plans.ways import drive_piece

BOARD, SUPPLY = "board-8bit-small", "mains-5v-4a"


def _begun(title: str) -> Build:
    """A board on a supply of 5 V."""
    build = add_supply(Build(name=title), shelf().find(SupplyPart, SUPPLY), "Supply")
    build = add_board(build, shelf().find(BoardPart, BOARD))
    return feed_board(build, build.boards[0].id, build.supplies[0].id)


def _with(build: Build, kind: str, part_id: str, name: str, way: str, **changes: object) -> Build:
    """A build with one piece more, driven in a way."""
    build = add_first(build, kind_of(kind), shelf().find(Part, part_id))
    piece = build.pieces[-1]
    build = change_piece(build, piece.id, **changes) if changes else build
    build = rename_piece(build, piece.id, name)
    return drive_piece(build, build.pieces[-1].id, way)


def _lit(build: Build, kind: str, first: int, count: int, **look: object) -> Build:
    """A build with one effect more, over so many lights and the whole show."""
    return add_effect(build, look_of(kind, **look), first, first + count - 1, 0.0, build.show_s)


def on_a_register() -> Build:
    """Ten red lamps on a latch register, lit one after another."""
    build = _with(_begun("Lamps on a register"), "single", "led-red-5mm", "Quay lamps", "register", lamp_count=10)
    return _lit(build, "chase", 0, 10, colour="#ff0000", length_px=2, spacing_px=5, tail_px=0, speed_px_per_s=4)


def matrix_sign() -> Build:
    """A dot matrix with a text that runs over it, its rows on transistors."""
    build = _with(_begun("A matrix sign"), "matrix", "matrix-red-8x8", "Sign", "scanned")
    return _lit(build, "text", 0, build.pieces[0].slot_count, colour="#ff0000")


def on_a_battery() -> Build:
    """A metre of strip that is worn, on a battery."""
    build = change_build(starter(0), name="A wearable on a battery")
    battery = next(part for part in shelf().of(SupplyPart) if part.source == "battery" and part.nominal_v == 5.0)
    build = change_supply_part(build, build.supplies[0].id, battery)
    build = change_strip(build, build.strips[0].id, pixel_count=24)
    feed = build.feeds[0]
    feed = revise(feed, positive=revise(feed.positive, length_m=0.3), negative=revise(feed.negative, length_m=0.3))
    build = revise(build, feeds=(feed,), effects=())
    return _lit(build, "breathe", 0, 24, colour="#301808")


def mixed_lamps() -> Build:
    """A model with lamps of several kinds on one board."""
    build = _begun("A model with mixed lamps")
    white = next(part for part in shelf().of(LampPart) if part.id == "led-white-5mm")
    build = _with(build, "single", white.id, "Street lamps", "pwm", lamp_count=3)
    build = _with(build, "single", "led-red-5mm", "Signals", "pin", lamp_count=4)
    build = _lit(build, "breathe", 0, 3, colour="#ffffff")
    return _lit(build, "alternate", 3, 4, colour="#ff0000")


DRIVEN: dict[str, Callable[[], Build]] = {
    "register": on_a_register, "matrix": matrix_sign, "battery": on_a_battery, "mixed": mixed_lamps,
}  # fmt: skip
