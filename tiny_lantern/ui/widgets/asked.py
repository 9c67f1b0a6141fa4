"""Work that waits until somebody turns to a control: comes to it by key, or with the mouse."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui.guarded import guarded

TURNED_TO = (QEvent.Type.FocusIn, QEvent.Type.Enter)


@guarded
class Asked(QObject):
    """Calls back each time that a control is turned to; it belongs to the control."""

    def __init__(self, widget: QWidget, asked: Callable[[], None]) -> None:
        super().__init__(widget)
        self._asked = asked
        widget.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in TURNED_TO:
            self._asked()
        return False
