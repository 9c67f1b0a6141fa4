"""The Line: every light of the build on one axis, in wiring order."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import PixelRun

MOST_SLOTS = 2**62


@dataclass(frozen=True)
class Span:
    """The slots of one piece: ``first`` to ``stop`` (not included) on the Line."""

    piece: Piece
    first: int

    @property
    def stop(self) -> int:
        """The slot after the last one of this piece."""
        return self.first + self.piece.slot_count

    @property
    def run(self) -> PixelRun:
        """The piece as the run of pixels that it is; asked only of those in ``Line.runs``."""
        assert isinstance(self.piece, PixelRun)
        return self.piece


class Line:
    """The slots of a build in wiring order, compiled once so that a light is found without walking the Line.

    Args:
        pieces: the pieces in wiring order.
    """

    def __init__(self, pieces: tuple[Piece, ...]) -> None:
        found, first = [], 0
        for piece in pieces:
            found.append(Span(piece, first))
            first += piece.slot_count
        self.spans: tuple[Span, ...] = tuple(found)
        self.runs: tuple[Span, ...] = tuple(span for span in found if isinstance(span.piece, PixelRun))
        self.slot_count: int = first
        self._firsts = [span.first for span in found]
        self._numbers = {piece.id: number for number, piece in enumerate(pieces)}

    @cached_property
    def wired(self) -> tuple[Hashable, ...]:
        """All that the Line sees of the pieces: everything but where they lie in the picture."""
        return tuple(span.piece.unplaced for span in self.spans)

    def number(self, piece_id: str) -> int:
        """Which piece along the Line this is, from 0.

        Raises:
            LanternError: there is no such piece.
        """
        try:
            return self._numbers[piece_id]
        except KeyError:
            raise LanternError(f"there is no piece “{piece_id}” in this build", "piece", "one that is listed") from None

    def span(self, piece_id: str) -> Span:
        """A piece with its slots.

        Raises:
            LanternError: there is no such piece.
        """
        return self.spans[self.number(piece_id)]

    def piece(self, piece_id: str) -> Piece:
        """The piece with an id.

        Raises:
            LanternError: there is none.
        """
        return self.span(piece_id).piece

    def strip(self, strip_id: str) -> PixelRun:
        """The strip or panel with an id.

        Raises:
            LanternError: there is none.
        """
        piece = self.piece(strip_id)
        if not isinstance(piece, PixelRun):
            raise LanternError(f"“{piece.name}” has no rails of its own", "strip", "a strip or a panel")
        return piece

    def span_at(self, slot: int) -> Span:
        """The piece that holds a slot; slots beyond either end give the nearest one."""
        return self.spans[max(0, bisect_right(self._firsts, slot) - 1)]

    def slot_of(self, ref: SlotRef) -> int:
        """The slot of one light of a piece."""
        return self.span(ref.piece_id).first + ref.index

    def ref_at(self, slot: int) -> SlotRef:
        """The light at a slot; slots beyond either end give the nearest light."""
        inside = max(0, min(slot, self.slot_count - 1))
        span = self.span_at(inside)
        return SlotRef(piece_id=span.piece.id, index=inside - span.first)

    def covered(self, effect: Effect) -> tuple[int, int]:
        """First slot and the slot after the last that an effect covers."""
        one, other = self.slot_of(effect.first), self.slot_of(effect.last)
        return min(one, other), max(one, other) + 1

    def all_covered(self, effects: Sequence[Effect]) -> NDArray[np.int64]:
        """The same of very many effects, (n_effects, 2). [-]"""
        firsts = {span.piece.id: span.first for span in self.spans}
        ends = np.array(
            [
                (firsts[effect.first.piece_id] + effect.first.index, firsts[effect.last.piece_id] + effect.last.index)
                for effect in effects
            ],
            np.int64,
        ).reshape(-1, 2)
        return np.stack([ends.min(axis=1, initial=MOST_SLOTS), ends.max(axis=1, initial=0) + 1], axis=1)


def letters() -> Iterator[str]:
    """Feed letters A, B … Z, AA, AB …"""
    number = 0
    while True:
        text, rest = "", number
        while rest >= 0:
            text = chr(ord("A") + rest % 26) + text
            rest = rest // 26 - 1
        yield text
        number += 1
