"""The thin wires that carry the show: from a board to its first pixels, from piece to piece, from board to board."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import boards_of_pieces, on_data_lines
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.piece import Piece
from tiny_lantern.sheets.conductor import CONTROL, Connection, End


def data_rows(build: Build) -> Iterator[Connection]:
    """The data leads: each piece's from its board where every piece has an output of its own, else from the piece
    before it, where no joint passes the data on."""
    names = {board.id: board.name for board in build.boards}
    joined = {(joint.from_strip_id, joint.to_strip_id) for joint in build.joints}
    for board_id, pieces in on_data_lines(build).items():
        before: Piece | None = None
        for piece in pieces:
            last, before = before, piece
            if last is None or build.data.parallel:
                yield Connection(
                    f"data/{piece.id}", CONTROL, End(names.get(board_id, "Board"), "data"), End(piece.name, "data in"),
                    "level shifter" if build.data.shifted else "", "data", slot=build.line.span(piece.id).first,
                )  # fmt: skip
            elif (last.id, piece.id) not in joined:
                yield Connection(
                    f"data/{piece.id}", CONTROL, End(last.name, "data out"), End(piece.name, "data in"), role="data",
                    cut_m=_apart_m(last, piece),
                )  # fmt: skip


def chain_rows(build: Build) -> Iterator[Connection]:
    """What hands the number of the frame from each board that plays to the next."""
    playing = set(boards_of_pieces(build).values())
    for one, other in pairwise(board for board in build.boards if board.id in playing):
        yield Connection(
            f"chain/{other.id}", CONTROL, End(one.name, "to the next board"), End(other.name, "from the board before"),
            role="data",
        )  # fmt: skip


def _apart_m(one: Piece, other: Piece) -> float:
    """From the last light of a piece to the first of another, straight. [m]"""
    return math.dist(slot_places(one)[-1], slot_places(other)[0])
