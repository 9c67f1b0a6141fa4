"""A window that another lies over: while nothing of it can be seen, nothing of it is drawn."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui.guarded import guarded

TURNS = frozenset(
    {
        QEvent.Type.Show,
        QEvent.Type.Hide,
        QEvent.Type.Move,
        QEvent.Type.WindowStateChange,
        QEvent.Type.WindowActivate,
        QEvent.Type.WindowDeactivate,
    }
)


@guarded
class Covered(QObject):
    """Lets a window rest while another fills the screen that it is on; brought to the front it is drawn again.

    Args:
        under: the window.
        over: the other one, which this lives as long as.
    """

    def __init__(self, under: QWidget, over: QWidget) -> None:
        super().__init__(over)
        self._under, self._over = under, over
        for window in (under, over):
            window.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in TURNS:
            self._under.setUpdatesEnabled(not self._covers())
        return super().eventFilter(watched, event)

    def _covers(self) -> bool:
        under, over = self._under, self._over
        shown = over.isVisible() and not over.isMinimized()
        fills = shown and over.isFullScreen() and over.screen() is under.screen()
        return fills and not under.isActiveWindow()
