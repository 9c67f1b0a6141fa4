"""A small window as large as what it holds, once that is known; afterwards it is as large as the person makes it."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QDialog, QWidget
from shiboken6 import isValid

DONE, MOST, NARROWEST = "snug", 0.92, 560


def snug(content: QWidget) -> None:
    """Make the small window around a content as large as that, no wider than it was opened, the first time it is asked.

    Args:
        content: what the window holds, filled by now.
    """
    QTimer.singleShot(0, content, lambda: _fit(content))


def _fit(content: QWidget) -> None:
    if not isValid(content):
        return
    window = content.window()
    if not isinstance(window, QDialog) or window.property(DONE):
        return
    window.setProperty(DONE, True)
    layout, parent = window.layout(), window.parentWidget()
    if layout is None:
        return
    layout.activate()
    most = int((parent.window().height() if parent is not None else 800) * MOST)
    hint = layout.totalSizeHint()
    width = min(window.width(), max(hint.width(), NARROWEST))
    window.resize(width, min(max(layout.totalHeightForWidth(width), hint.height()), most))
