"""The weave's vertical axis: time runs downward, part of it in view."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

SHORTEST_VIEW_S = 1.0
STEPS_S = (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 30.0, 60.0, 120.0, 300.0, 600.0)


class TimeAxis(QObject):
    """Which seconds of the show are in view."""

    changed = Signal()

    def __init__(self, show_s: float, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.show_s = show_s
        self.top_s, self.bottom_s = 0.0, show_s

    def follow(self, show_s: float) -> None:
        """Take another length of show; a view of all of it stays one."""
        if show_s == self.show_s:
            return
        whole = self.top_s <= 0 and self.bottom_s >= self.show_s - 1e-9
        self.show_s = show_s
        if whole or self.bottom_s > show_s:
            self.top_s, self.bottom_s = 0.0, show_s
        self.changed.emit()

    def to_y(self, time_s: float, height: float) -> float:
        """A time as a distance from the top. [screen pixels]"""
        return (time_s - self.top_s) / (self.bottom_s - self.top_s) * height

    def to_time(self, y: float, height: float) -> float:
        """A distance from the top as a time. [s]"""
        return self.top_s + y / max(height, 1.0) * (self.bottom_s - self.top_s)

    def step_s(self, height: float, least_px: float = 46.0) -> float:
        """A round step whose ticks are not too close. [s]"""
        wanted = least_px / max(height, 1.0) * (self.bottom_s - self.top_s)
        return next((step for step in STEPS_S if step >= wanted), STEPS_S[-1])

    def zoom(self, factor: float, about_s: float) -> None:
        """Show less (factor below one) or more time about a moment."""
        span = min(max((self.bottom_s - self.top_s) * factor, min(SHORTEST_VIEW_S, self.show_s)), self.show_s)
        share = (about_s - self.top_s) / (self.bottom_s - self.top_s)
        self._show(about_s - share * span, span)

    def scroll(self, by_share: float) -> None:
        """Move the view by a share of its height."""
        span = self.bottom_s - self.top_s
        self._show(self.top_s + by_share * span, span)

    def reveal(self, time_s: float) -> None:
        """Scroll so that a moment is in view."""
        if not self.top_s <= time_s <= self.bottom_s:
            span = self.bottom_s - self.top_s
            self._show(time_s - 0.1 * span, span)

    def _show(self, top: float, span: float) -> None:
        top = min(max(top, 0.0), max(0.0, self.show_s - span))
        if (top, top + span) != (self.top_s, self.bottom_s):
            self.top_s, self.bottom_s = top, top + span
            self.changed.emit()
