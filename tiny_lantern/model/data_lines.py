"""Which pieces hang on which board's data line."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.model.emitters import by_data_line
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

PLAIN_ORDER = "RGB"


def on_data_lines(build: Build) -> dict[str, tuple[Piece, ...]]:
    """The pieces that take their colours from a data line, by the id of its board, in the order of boards; those that
    name none hang on the first, and without any board all of them on one of no name."""
    boards = [board.id for board in build.boards] or [""]
    found: dict[str, list[Piece]] = {board_id: [] for board_id in boards}
    for piece in build.pieces:
        if by_data_line(piece, build.shelf.find(Part, piece.part_id)):
            found[getattr(piece, "board_id", None) or boards[0]].append(piece)
    return {board_id: tuple(pieces) for board_id, pieces in found.items()}


def first_on_lines(build: Build) -> dict[str, tuple[Piece, ...]]:
    """Those of them whose first light hangs on an output of the board itself: all where each has an output of its
    own."""
    return {key: pieces if build.data.parallel else pieces[:1] for key, pieces in on_data_lines(build).items()}


def boards_of_pieces(build: Build) -> dict[str, str]:
    """The board that plays each piece, by the piece's id: the one that drives it, else the one on whose data line it
    is, else the first. Of a build that has boards."""
    board_of = {driver.id: driver.board_id for driver in build.drivers}
    found = {piece.id: build.boards[0].id for piece in build.pieces} if build.boards else {}
    found |= {channel.slots[0].piece_id: board_of[channel.driver_id] for channel in build.channels}
    return found | {piece.id: board_id for board_id, pieces in on_data_lines(build).items() for piece in pieces}


def usual_order(piece: Piece) -> str:
    """The order in which the colours of most of its lights are sent; red first where nothing says otherwise."""
    return getattr(piece, "colour_order", None) or PLAIN_ORDER
