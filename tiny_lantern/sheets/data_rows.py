"""The thin wires that carry the show: from a board to its first pixels, from piece to piece, from board to board; and
those of loose addressable lamps from each to the next."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

from tiny_lantern.electrical.loose import NOMINAL_V, loose_lamps
from tiny_lantern.electrical.power_tree import loose_source
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import boards_of_pieces, on_data_lines
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.piece import Piece
from tiny_lantern.sheets.conductor import COMMONS, CONTROL, LAMPS, LAST, Connection, End

LOOSE_WIRES = (  # of each gap: its name, what it does, where it leaves one lamp and enters the next
    ("plus", "lamp supply", "+", "+"), ("0v", "return", "0 V", "0 V"), ("data", "data", "data out", "data in"),
)  # fmt: skip


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
                    f"data/{piece.id}", CONTROL, End(names.get(board_id, "Board"), "data"), _data_in(piece),
                    "level shifter" if build.data.shifted else "", "data", slot=build.line.span(piece.id).first,
                )  # fmt: skip
            elif (last.id, piece.id) not in joined:
                yield Connection(
                    f"data/{piece.id}", CONTROL, _data_out(last), _data_in(piece), role="data",
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


def loose_rows(build: Build) -> Iterator[Connection]:
    """What feeds loose addressable lamps, and the three wires that lead from each to the next."""
    for piece, _ in loose_lamps(build):
        source, slot = loose_source(build, piece), build.line.span(piece.id).first
        fed = End(source.name if source is not None else f"{NOMINAL_V:g} V supply", "+")
        first = piece.place_name(0)
        yield Connection(f"loose/{piece.id}/plus", LAST, fed, End(first, "+"), role="lamp supply", slot=slot)
        yield Connection(
            f"loose/{piece.id}/0v", COMMONS, End("0 V rail", ""), End(first, "0 V"), role="return", slot=slot
        )
        for number, (here, there) in enumerate(pairwise(slot_places(piece))):
            one, other = piece.place_name(number), piece.place_name(number + 1)
            for name, role, leaves, enters in LOOSE_WIRES:
                yield Connection(
                    f"loose/{piece.id}/{number}/{name}", LAMPS, End(one, leaves), End(other, enters), role=role,
                    cut_m=math.dist(here, there),
                )  # fmt: skip


def _data_in(piece: Piece) -> End:
    return End(piece.place_name(0) if isinstance(piece, LampGroup) else piece.name, "data in")


def _data_out(piece: Piece) -> End:
    last = piece.slot_count - 1
    return End(piece.place_name(last) if isinstance(piece, LampGroup) else piece.name, "data out")


def _apart_m(one: Piece, other: Piece) -> float:
    """From the last light of a piece to the first of another, straight. [m]"""
    return math.dist(slot_places(one)[-1], slot_places(other)[0])
