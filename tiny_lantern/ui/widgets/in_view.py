"""Work that a hidden widget puts off until it is seen again."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QWidget


class InView(QObject):
    """Refreshes a widget at once while it is in view, else once when it next comes into view."""

    def __init__(self, widget: QWidget, refresh: Callable[[], None]) -> None:
        super().__init__(widget)
        self._widget, self._refresh = widget, refresh
        self._late = False
        widget.installEventFilter(self)

    def refresh(self) -> None:
        """Refresh now or later."""
        if self._widget.isVisible():
            self._refresh()
        else:
            self._late = True

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Show and self._late:
            self._late = False
            self._refresh()
        return False
