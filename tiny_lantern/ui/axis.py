"""The one horizontal axis of the window: where each slot of the Line stands, and the part of it that is in view."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Hashable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from tiny_lantern.model.build import Build
from tiny_lantern.model.line import Line, Span

GAP_SHARE = 0.012
MOST_GAPS = 0.2
NEAREST_VIEW_M = 0.05
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Columns:
    """For each column of the screen the first slot under it and the one after the last, -1 where there is none.
    (n_columns,) each"""

    first: Ints
    stop: Ints

    def blend(self, values: NDArray[np.uint8]) -> NDArray[np.uint8]:
        """Bytes of every slot, (n_slots, n_channels), as the mean of those under each column, zero under none.
        (n_columns, n_channels)"""
        lit = self.first >= 0
        found = np.zeros((len(lit), values.shape[1]), np.uint8)
        first, stop = self.first[lit], self.stop[lit]
        if not len(first):
            return found
        if (stop - first).max() <= 1:
            found[lit] = values[first]
            return found
        low, high = int(first.min()), int(stop.max())
        total = np.concatenate([np.zeros((1, values.shape[1]), np.int64), np.cumsum(values[low:high], axis=0)])
        found[lit] = (total[stop - low] - total[first - low]) / (stop - first)[:, None] + 0.5
        return found


class LineAxis(QObject):
    """Places on the Line in metres, pieces one after another with small gaps, and the view onto them."""

    changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._line = Line(())
        self._wired: tuple[Hashable, ...] = ()
        self._starts: list[float] = []
        self._lay_slots()
        self.total_m = 1.0
        self.left_m, self.right_m = 0.0, 1.0

    def follow(self, build: Build) -> None:
        """Lay out the pieces of a build; a view of the whole Line stays a view of the whole.

        Where a piece lies in the picture is nothing to the Line.
        """
        if build.line is self._line:
            return
        whole = self.left_m <= 0 and self.right_m >= self.total_m - 1e-9
        self._line = build.line
        if build.line.wired == self._wired:
            return
        self._wired = build.line.wired
        length = sum(span.piece.axis_m for span in self.spans)
        gap = length * min(GAP_SHARE, MOST_GAPS / max(1, len(self.spans)))
        self._starts, place = [], 0.0
        for span in self.spans:
            self._starts.append(place)
            place += span.piece.axis_m + gap
        self._lay_slots()
        self.total_m = max(place - gap, NEAREST_VIEW_M)
        if whole or self.right_m > self.total_m:
            self.left_m, self.right_m = 0.0, self.total_m
        self.changed.emit()

    def _lay_slots(self) -> None:
        """Where every light and every edge between lights stands, worked out once a layout."""
        counts = np.array([span.piece.slot_count for span in self.spans], np.int64)
        pitch = np.array([span.piece.axis_pitch_m for span in self.spans])
        starts = np.array(self._starts)
        self.slot_pieces: Ints = np.repeat(np.arange(len(counts)), counts)
        self.edge_pieces: Ints = np.repeat(np.arange(len(counts)), counts + 1)
        at, edge = (np.arange(counts.sum()), np.arange((counts + 1).sum()))
        at -= np.repeat(np.cumsum(counts) - counts, counts)
        edge -= np.repeat(np.cumsum(counts + 1) - counts - 1, counts + 1)
        self.slot_places: Floats = (starts[self.slot_pieces] + (at + 0.5) * pitch[self.slot_pieces]).astype(float)
        self.edge_places: Floats = (starts[self.edge_pieces] + edge * pitch[self.edge_pieces]).astype(float)
        self._columns = Columns(np.zeros(0, np.int64), np.zeros(0, np.int64))
        self._columns_of: tuple[float, ...] = ()

    def columns(self, width: int) -> Columns:
        """The slots under each column of a screen so wide, kept until the view or the Line changes."""
        seen = (self.left_m, self.right_m, width)
        if seen != self._columns_of:
            self._columns_of, self._columns = seen, self._columns_for(width)
        return self._columns

    def _columns_for(self, width: int) -> Columns:
        if not self.spans:
            return Columns(np.full(width, -1), np.full(width, -1))
        edges = self.left_m + np.arange(width + 1) / max(width, 1) * (self.right_m - self.left_m)
        starts = np.array(self._starts)
        number = np.maximum(np.searchsorted(starts, edges, side="right") - 1, 0)
        pitch = np.array([span.piece.axis_pitch_m for span in self.spans])[number]
        counts = np.array([span.piece.slot_count for span in self.spans])[number]
        firsts = np.array([span.first for span in self.spans])[number]
        slot = firsts + np.clip((edges - starts[number]) / pitch, 0, counts)
        first = np.floor(slot[:-1] + 1e-9).astype(np.int64)
        stop = np.maximum(np.ceil(slot[1:] - 1e-9).astype(np.int64), first + 1)
        empty = slot[1:] - slot[:-1] < 1e-9
        last = self._line.slot_count
        return Columns(np.where(empty, -1, np.minimum(first, last - 1)), np.where(empty, -1, np.minimum(stop, last)))

    @property
    def spans(self) -> tuple[Span, ...]:
        """Each piece with its slots, in wiring order."""
        return self._line.spans

    @property
    def runs(self) -> tuple[Span, ...]:
        """Each of the pieces that have rails, with its slots."""
        return self._line.runs

    def span_at(self, slot: int) -> Span:
        """The piece that holds a slot."""
        return self._line.span_at(slot)

    def start_of(self, number: int) -> float:
        """Where a piece begins. [m on the Line]"""
        return self._starts[number]

    def boxes_in_view(self, width: float) -> Iterator[tuple[Span, float, float]]:
        """Each piece of which anything is in view, with where it begins and ends. [screen pixels]"""
        if not self.spans:
            return
        starts = np.array(self._starts)
        lengths = np.array([span.piece.axis_m for span in self.spans])
        left, right = (np.asarray(self.to_screen(places, width)) for places in (starts, starts + lengths))
        for number in np.flatnonzero((right >= -20) & (left <= width + 20)):
            yield self.spans[number], float(left[number]), float(right[number])

    def place_on(self, piece_id: str, along_m: float) -> float:
        """A distance along a piece as a place on the Line. [m]"""
        return self._starts[self._line.number(piece_id)] + along_m

    def slot_place(self, slot: int) -> float:
        """Centre of one slot. [m on the Line]"""
        span = self._line.span_at(slot)
        return self._starts[self._line.number(span.piece.id)] + (slot - span.first + 0.5) * span.piece.axis_pitch_m

    def slot_at(self, place_m: float) -> int | None:
        """The slot nearest to a place; None when there are no pieces."""
        found = self.piece_at(place_m)
        if found is None:
            return None
        span, along = found
        return span.first + int(np.clip(along / span.piece.axis_pitch_m, 0, span.piece.slot_count - 1))

    def piece_at(self, place_m: float) -> tuple[Span, float] | None:
        """The piece at a place and the distance along it, kept on the piece."""
        if not self.spans:
            return None
        number = max(0, bisect_right(self._starts, place_m) - 1)
        span = self.spans[number]
        past = place_m - self._starts[number] - span.piece.axis_m
        if past > 0 and number + 1 < len(self.spans) and past > self._starts[number + 1] - place_m:
            number, span = number + 1, self.spans[number + 1]
        return span, float(np.clip(place_m - self._starts[number], 0, span.piece.axis_m))

    def to_screen(self, place_m: Floats | float, width: float) -> Floats | float:
        """A place as a distance from the left of the axis on the screen. [screen pixels]"""
        return (place_m - self.left_m) / (self.right_m - self.left_m) * width

    def to_place(self, x: float, width: float) -> float:
        """A distance on the screen as a place on the Line. [m]"""
        return self.left_m + x / max(width, 1.0) * (self.right_m - self.left_m)

    def zoom(self, factor: float, about_m: float) -> None:
        """Show less (factor below one) or more of the Line about a place."""
        span = float(np.clip((self.right_m - self.left_m) * factor, NEAREST_VIEW_M, self.total_m))
        share = (about_m - self.left_m) / (self.right_m - self.left_m)
        self._show(about_m - share * span, span)

    def scroll(self, by_share: float) -> None:
        """Move the view by a share of its width."""
        span = self.right_m - self.left_m
        self._show(self.left_m + by_share * span, span)

    def show_all(self) -> None:
        """Show the whole Line."""
        self._show(0.0, self.total_m)

    def reveal(self, place_m: float) -> None:
        """Scroll so that a place is in view."""
        if not self.left_m <= place_m <= self.right_m:
            span = self.right_m - self.left_m
            self._show(place_m - span / 2, span)

    def _show(self, left: float, span: float) -> None:
        left = float(np.clip(left, 0.0, max(0.0, self.total_m - span)))
        if (left, left + span) != (self.left_m, self.right_m):
            self.left_m, self.right_m = left, left + span
            self.changed.emit()
