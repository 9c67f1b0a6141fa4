"""The thin wires that carry the show: from a board to its first pixels, from piece to piece, from board to board; and
those of loose addressable lamps from each to the next."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

from tiny_lantern.circuit.conductor import COMMONS, CONTROL, LAMPS, LAST, Conductor, End, InLine
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.leads import lead_of
from tiny_lantern.circuit.wires.rails import lamp_rail, zero_rail
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import boards_of_pieces, on_data_lines
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.loose import NOMINAL_V, loose_lamps
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pin_needs import DATA, pins_of

LOOSE_WIRES = (  # of each gap: its name, what it does, where it leaves one lamp and enters the next
    ("plus", "lamp supply", "+", "+"), ("0v", "return", "0 V", "0 V"), ("data", "data", "data out", "data in"),
)  # fmt: skip


def data_wires(build: Build) -> Iterator[Conductor]:
    """The data leads: each piece's from its board where every piece has an output of its own, else from the piece
    before it, where no joint passes the data on.

    Args:
        build: the build.
    """
    joined = {(joint.from_strip_id, joint.to_strip_id) for joint in build.joints}
    shifter = (InLine("level shifter"),) if build.data.shifted else ()
    for board_id, pieces in on_data_lines(build).items():
        before: Piece | None = None
        for piece in pieces:
            last, before = before, piece
            if last is None or build.data.parallel:
                start = _from_board(build, board_id, piece)
                slot = build.line.span(piece.id).first
                yield Conductor(f"data/{piece.id}", CONTROL, start, _data_in(piece), shifter, "data", slot=slot)
            elif (last.id, piece.id) not in joined:
                away_m = math.dist(slot_places(last)[-1], slot_places(piece)[0])
                yield Conductor(f"data/{piece.id}", CONTROL, _data_out(last), _data_in(piece), (), "data", hop_m=away_m)


def _from_board(build: Build, board_id: str, piece: Piece) -> End:
    """Where a data line begins: its pin; a board that is not there yet, or a pin, by name only."""
    board = next((board for board in build.boards if board.id == board_id), None)
    pin = pins_of(build, board.id).get((piece.id, DATA)) if board is not None else None
    if board is not None and pin is not None:
        return End(board.name, f"pin {pin.pin}", of=board.id)
    return End(board.name if board is not None else "Board", f"data of {piece.name}", of=f"{board_id} data {piece.id}")


def chain_wires(build: Build) -> Iterator[Conductor]:
    """What hands the number of the frame from each board that plays to the next.

    Args:
        build: the build.
    """
    playing = set(boards_of_pieces(build).values())
    for one, other in pairwise(board for board in build.boards if board.id in playing):
        start = End(one.name, "to the next board", of=one.id)
        yield Conductor(
            f"chain/{other.id}", CONTROL, start, End(other.name, "from the board before", of=other.id), (), "data"
        )


def loose_wires(build: Build) -> Iterator[Wired]:
    """What feeds loose addressable lamps, and the three wires that lead from each to the next.

    Args:
        build: the build.
    """
    for piece, part in loose_lamps(build):
        rail, slot = lamp_rail(build, piece.fed_by, NOMINAL_V), build.line.span(piece.id).first
        key = f"loose/{piece.id}"
        yield Conductor(f"{key}/plus", LAST, rail, lead_of(piece, 0, "+"), role="lamp supply", slot=slot)
        yield Conductor(f"{key}/0v", COMMONS, zero_rail(), lead_of(piece, 0, "0 V"), role="return", slot=slot)
        for number, (here, there) in enumerate(pairwise(slot_places(piece))):
            for name, role, leaves, enters in LOOSE_WIRES:
                yield Conductor(
                    f"{key}/{number}/{name}", LAMPS, lead_of(piece, number, leaves), lead_of(piece, number + 1, enters),
                    role=role, hop_m=math.dist(here, there),
                )  # fmt: skip
        full_a = sum(die.test_a for die in part.dies)
        for number in range(piece.slot_count):
            yield _lamp(piece, number, full_a)


def _lamp(piece: Piece, number: int, full_a: float) -> Fitted:
    plus, zero = lead_of(piece, number, "+"), lead_of(piece, number, "0 V")
    name = f"lamp/{piece.id}/{number}"

    def law(_: Still, at: At) -> tuple[Element, ...]:
        return (Load(name, at(plus), at(zero), full_a),)

    return Fitted(name, (plus, zero), law)


def _data_in(piece: Piece) -> End:
    if isinstance(piece, LampGroup):
        return lead_of(piece, 0, "data in")
    return End(piece.name, "data in", of=piece.id)


def _data_out(piece: Piece) -> End:
    if isinstance(piece, LampGroup):
        return lead_of(piece, piece.slot_count - 1, "data out")
    return End(piece.name, "data out", of=piece.id)
