"""Loose addressable lamps: which pieces they are, and the board on whose data line they hang."""

from __future__ import annotations

from tiny_lantern.model.drive import Board
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.whole import Whole

NOMINAL_V = 5.0


def loose_lamps(build: Whole) -> tuple[tuple[LampGroup, LampPart], ...]:
    """The groups of loose addressable lamps, each with its part."""
    groups = ((piece, build.shelf.find(LampPart, piece.part_id)) for piece in build.pieces if piece.kind == "lamps")
    return tuple((piece, part) for piece, part in groups if isinstance(piece, LampGroup) and part.addressable)


def loose_board(build: Whole, piece: LampGroup) -> Board | None:
    """The board on whose data line loose addressable lamps hang: their own, else the first; None without any."""
    return next((board for board in build.boards if board.id == piece.board_id), next(iter(build.boards), None))
