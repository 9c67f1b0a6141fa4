"""A picture that is drawn once and kept until something it shows changes."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSizeF, Qt
from PySide6.QtGui import QColor, QPaintDevice, QPainter, QPixmap

CLEAR = QColor(Qt.GlobalColor.transparent)


class Layer:
    """What stands still while something else in a widget moves.

    Args:
        ground: what the picture is filled with before it is drawn on.
    """

    def __init__(self, ground: QColor = CLEAR) -> None:
        self._ground = ground
        self._shows: tuple[object, ...] | None = None
        self._picture = QPixmap()

    def kept(self, size: QSizeF) -> QPixmap | None:
        """The picture as it was last drawn, where it is as large as wanted."""
        return self._picture if self._shows is not None and self._shows[0] == size.toTuple() else None

    def picture(
        self, on: QPaintDevice, size: QSizeF, shows: tuple[object, ...], draw: Callable[[QPainter], None]
    ) -> QPixmap:
        """The picture, drawn anew only when it shows something else than it did.

        Args:
            on: the widget it will lie on, for how many device pixels its screen has to each of its own.
            size: how large it is. [screen pixels]
            shows: everything that the drawing depends on.
            draw: draws it.
        """
        ratio = on.devicePixelRatioF()
        known = (size.toTuple(), ratio, shows)
        if known != self._shows:
            self._picture = QPixmap((size * ratio).toSize())
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(self._ground)
            painter = QPainter(self._picture)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw(painter)
            painter.end()
            self._shows = known
        return self._picture
