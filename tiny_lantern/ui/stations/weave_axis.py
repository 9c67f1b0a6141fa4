"""The weave's horizontal axis: the Line itself, or the lights of one group side by side in the group's own order."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from tiny_lantern.model.build import Build
from tiny_lantern.model.line import Span
from tiny_lantern.ui.axis import Columns, LineAxis

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class WeaveAxis(QObject):
    """Follows the Line's axis until a group is shown; then each of its lights is one wide, and all are in view."""

    changed = Signal()

    def __init__(self, line: LineAxis, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._line = line
        self.group_id: str | None = None
        self._order: Ints = np.zeros(0, np.int64)
        line.changed.connect(self.changed)

    def show_group(self, build: Build, group_id: str | None) -> None:
        """Show the lights of a group in its order, or all of the Line as it is wired, as when the group is gone."""
        group = next((group for group in build.groups if group.id == group_id), None)
        order = np.array([build.line.slot_of(ref) for ref in group.slots] if group else [], np.int64)
        shown = group.id if group else None
        if shown != self.group_id or not np.array_equal(order, self._order):
            self.group_id, self._order = shown, order
            self.changed.emit()

    @property
    def spans(self) -> tuple[Span, ...]:
        """The pieces of the Line."""
        return self._line.spans

    @property
    def left_m(self) -> float:
        """Where the view begins. [m on the Line, or lights]"""
        return 0.0 if self.group_id else self._line.left_m

    @property
    def right_m(self) -> float:
        """Where the view ends. [m on the Line, or lights]"""
        return float(len(self._order)) if self.group_id else self._line.right_m

    def columns(self, width: int) -> Columns:
        """The slot under each column of a screen so wide."""
        if not self.group_id:
            return self._line.columns(width)
        slots = self._order[np.arange(width) * len(self._order) // max(1, width)]
        return Columns(slots, slots + 1)

    def to_screen(self, place_m: Floats | float, width: float) -> Floats | float:
        """A place as a distance from the left of the axis on the screen. [screen pixels]"""
        return (place_m - self.left_m) / (self.right_m - self.left_m) * width

    def to_place(self, x: float, width: float) -> float:
        """A distance on the screen as a place. [m on the Line, or lights]"""
        return self.left_m + x / max(width, 1.0) * (self.right_m - self.left_m)

    def slot_at(self, place_m: float) -> int | None:
        """The slot nearest to a place; None when there are none."""
        if not self.group_id:
            return self._line.slot_at(place_m)
        return int(self._order[int(np.clip(place_m, 0, len(self._order) - 1))])

    def edges_of(self, slot: int) -> tuple[float, float] | None:
        """Where a light begins and ends; None for one that is not shown. [m on the Line, or lights]"""
        if not self.group_id:
            half = self._line.span_at(slot).piece.axis_pitch_m / 2
            middle = self._line.slot_place(slot)
            return middle - half, middle + half
        at = np.flatnonzero(self._order == slot)
        return (float(at[0]), float(at[0]) + 1.0) if len(at) else None

    def edges_of_spans(self, first: Ints, last: Ints) -> tuple[Floats, Floats]:
        """Where spans of lights on the Line begin and end, (n,) each. [m on the Line]

        Args:
            first: the first light of each, (n,). [-]
            last: the last light of each, (n,). [-]
        """
        places, pieces = self._line.edge_places, self._line.slot_pieces
        return places[first + pieces[first]], places[last + pieces[last] + 1]

    def scroll(self, by_share: float) -> None:
        """Move the view along the Line by a share of its width."""
        if not self.group_id:
            self._line.scroll(by_share)
