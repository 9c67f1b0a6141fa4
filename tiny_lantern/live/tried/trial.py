"""A board's program tried out step by step: what its lamps show meanwhile, and what its pins did."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.code.board.at_pins import number_of
from tiny_lantern.code.score import LETTERS, wire_orders
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.light.own import at_rest, own_colours
from tiny_lantern.live.tried.board import Key, TriedBoard, Wanted, as_wired
from tiny_lantern.live.tried.program import Edge, Program, at_pins
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pin_needs import DATA, pins_of

Floats = NDArray[np.float64]
COLOURS = {"red": 0, "green": 1, "blue": 2}
LEAST = 1e-9


@dataclass(frozen=True)
class Moment:
    """What was seen from one moment to the next: what each light showed on the whole, (n_slots, 3) linear, what the
    pins did, and what must not happen and did. [µs]"""

    began_us: float
    ended_us: float
    light: Floats
    edges: tuple[Edge, ...]
    forbidden: tuple[str, ...]


class Trial:
    """A program and the board that it runs on.

    Args:
        build: the build.
        board_id: the board.
        changed: what is done to the rows that join it: a wire off, two swapped.
        begin: the frame with which it goes on once it has started. [-]

    Raises:
        LanternError: there is nothing to be run.
    """

    def __init__(self, build: Build, board_id: str, changed: Wanted = as_wired, begin: int = 0) -> None:
        self.build, self.board_id = build, board_id
        self.board = TriedBoard(build, board_id, changed)
        self.program = Program(build, board_id, begin)
        self._rest = at_rest(own_colours(build))
        self._full = self._full_shares()
        self._pixels = np.zeros((build.line.slot_count, 3))
        self._lines = self._data_lines()

    def _full_shares(self) -> dict[Key, float]:
        """Which share of the time each lamp is lit at most."""
        found: dict[Key, float] = {}
        for driver_id, result in solve_drive(self.build).by_driver.items():
            shares = result.average_a / np.maximum(result.on_a * result.case.duties, LEAST)
            for channel, share in zip(result.case.channels, shares, strict=True):
                found[driver_id, channel.output] = max(float(share), LEAST)
        return found

    def _data_lines(self) -> dict[int, list[tuple[Piece, list[str]]]]:
        """What hangs on each data line, by its pin: the pieces with the order of each light."""
        board = item(self.build.boards, self.board_id, "board")
        part = self.build.shelf.find(BoardPart, board.part_id)
        pins, pieces = pins_of(self.build, board.id), on_data_lines(self.build).get(board.id, ())
        found: dict[int, list[tuple[Piece, list[str]]]] = {}
        at = 0
        for piece in pieces:
            own = pins.get((piece.id, DATA))
            at = number_of(part, own.pin) if own is not None else at
            found.setdefault(at, []).append((piece, wire_orders(self.build, piece)))
        return found

    def step(self, span_us: int, reads: Mapping[str, int] | None = None) -> Moment:
        """Let it run on for a while.

        Args:
            span_us: for how long, by its own clock. [µs]
            reads: what inputs read meanwhile, by their ids. [-]

        Raises:
            LanternError: the program has ended.
        """
        board, began = self.board, float(self.program.at_us)
        before, told = dict(board.lit_us), len(board.forbidden)
        edges = self.program.advance(self.program.at_us + span_us, at_pins(self.build, self.board_id, reads or {}))
        board.act(edges)
        board.pass_to(float(self.program.at_us))
        for edge in edges:
            if edge.kind == "P":
                self._take(edge)
        light = self._pixels.copy()
        for key, lit_us in board.lit_us.items():
            share = (lit_us - before[key]) / span_us / self._full.get(key, 1.0)
            self._show(light, key, min(share, 1.0))
        return Moment(began, float(self.program.at_us), light, tuple(edges), tuple(board.forbidden[told:]))

    def _show(self, light: Floats, key: Key, share: float) -> None:
        channel = next(each for each in self.build.channels_of[key[0]] if each.output == key[1])
        for ref in channel.slots:
            slot = self.build.line.slot_of(ref)
            if channel.die in COLOURS:
                light[slot, COLOURS[channel.die]] += share
            else:
                light[slot] += share * self._rest[slot]

    def _take(self, edge: Edge) -> None:
        """What came over a data line."""
        at = 0
        for piece, orders in self._lines.get(edge.pin, ()):
            first = self.build.line.span(piece.id).first
            for index, order in enumerate(orders):
                own = np.zeros(4)
                own[[LETTERS.index(letter) for letter in order]] = np.frombuffer(edge.data, np.uint8, len(order), at)
                at += len(order)
                self._pixels[first + index] = np.minimum(own[:3] + own[3], 255) / 255

    def close(self) -> None:
        """End the program."""
        self.program.close()
