"""How the leads that the lamps of a group share with others are tied: each from the rail, from lamp to lamp, or from a
board among them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from tiny_lantern.circuit.conductor import MANY, Conductor, End
from tiny_lantern.circuit.wires.leads import away_m, lead_of
from tiny_lantern.model.board_places import home_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import slot_places

TIE_BOARD = "tie board"


def tied(build: Build, board: Board, row: Conductor, ref: SlotRef, refs: Iterable[SlotRef]) -> Iterator[Conductor]:
    """A lamp's wire to a rail, as its piece ties them: as it is, from the lamp before it, or from a board in the middle
    of the lamps and one more wire to that.

    Args:
        build: the build.
        board: the board that drives the lamps.
        row: the wire from the rail straight to the lamp.
        ref: the lamp.
        refs: all lamps of its driver.
    """
    piece = build.line.piece(ref.piece_id)
    tie = piece.tie if isinstance(piece, LampGroup) else "star"
    before = max((each.index for each in refs if each.piece_id == piece.id and each.index < ref.index), default=None)
    if tie == "along" and before is not None:
        one = SlotRef(piece_id=piece.id, index=before)
        yield replace(row, start=lead_of(piece, before, row.end.terminal), hop_m=away_m(build, one, ref))
    elif tie == "board":
        rail = row.start
        there = End(f"{piece.name} {TIE_BOARD}", rail.on, of=f"{piece.id} {TIE_BOARD} {rail.node}", takes=MANY)
        places_m = np.asarray(slot_places(piece))
        middle = places_m.mean(axis=0)
        to_board = math.dist(home_of(build, board), middle)
        key = f"{row.driver_id}/{piece.id}/tie {rail.node}"
        yield replace(row, key=key, end=there, hop_m=to_board, slot=None)
        yield replace(row, start=there, hop_m=math.dist(middle, places_m[ref.index]))
    else:
        yield row
