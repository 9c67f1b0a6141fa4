"""Work that a hidden widget puts off until it is seen again, and a slow one does once for many changes."""

from __future__ import annotations

import time
from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QTimer
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui.guarded import guarded

SLOW_S = 0.06
PAUSE_MS = 15


@guarded
class InView(QObject):
    """Refreshes a widget at once while it is in view, else once when it next comes into view.

    What took long the last time is done once for all changes that come within a moment, so that a row of undos on a
    large build does not wait for each.
    """

    def __init__(self, widget: QWidget, refresh: Callable[[], None]) -> None:
        super().__init__(widget)
        self._widget, self._refresh = widget, refresh
        self._late = self._slow = False
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.setInterval(PAUSE_MS)
        self._due.timeout.connect(self._when_due)
        widget.installEventFilter(self)

    def refresh(self) -> None:
        """Refresh now, in a moment, or later."""
        if not self._widget.isVisible():
            self._late = True
        elif self._slow:
            self._due.start()
        else:
            self._now()

    def _when_due(self) -> None:
        if self._widget.isVisible():
            self._now()
        else:
            self._late = True

    def _now(self) -> None:
        self._due.stop()
        began = time.perf_counter()
        self._refresh()
        self._slow = time.perf_counter() - began > SLOW_S

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Show and self._late:
            self._late = False
            self._now()
        return False
