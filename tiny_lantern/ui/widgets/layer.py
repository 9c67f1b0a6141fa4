"""Pictures that are drawn once and kept until something they show changes."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QPoint, QPointF, QRect, QRectF, QSize, QSizeF, Qt
from PySide6.QtGui import QColor, QPaintDevice, QPainter, QPixmap

CLEAR = QColor(Qt.GlobalColor.transparent)
WHOLE_PX = 0.02


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


class MovingLayer:
    """A picture of a view that moves: what is known of it is moved with it, and only what comes into view is drawn.

    Args:
        head: so high a part at the top is always drawn anew, where names stay in view while their things leave it.
            [screen pixels]
    """

    def __init__(self, head: int) -> None:
        self._head = head
        self._shows: tuple[object, ...] | None = None
        self._at = QPointF()
        self._picture = QPixmap()

    def kept(self, size: QSize) -> QPixmap | None:
        """The picture as it was last drawn, where it is as large as wanted."""
        return self._picture if self._shows is not None and self._shows[0] == size.toTuple() else None

    def picture(
        self, on: QPaintDevice, size: QSize, at: QPointF, shows: tuple[object, ...],
        draw: Callable[[QPainter, QRect], None],
    ) -> QPixmap:  # fmt: skip
        """The picture; drawn anew only when it shows something else, or has moved by less than whole pixels.

        Args:
            on: the widget it will lie on, for how many device pixels its screen has to each of its own.
            size: how large it is. [screen pixels]
            at: where the view lies in all that there is to see. [screen pixels]
            shows: everything else that the drawing depends on.
            draw: draws what lies in a rectangle of the empty picture.
        """
        ratio, whole = on.devicePixelRatioF(), QRect(QPoint(0, 0), size)
        known, moved = (size.toTuple(), ratio, shows), (at - self._at) * ratio
        by = moved.toPoint()
        if known != self._shows:
            self._picture = QPixmap((size.toSizeF() * ratio).toSize())
            self._picture.setDevicePixelRatio(ratio)
            self._picture.fill(CLEAR)  # with an alpha channel from here on
        if known != self._shows or (moved - by.toPointF()).manhattanLength() > WHOLE_PX:
            self._shows, self._at = known, at
            self._draw([whole], draw)
        elif not by.isNull():
            self._at = self._at + by.toPointF() / ratio  # another point: the one before is the caller's
            self._picture.scroll(-by.x(), -by.y(), self._picture.rect())
            left = QRectF(whole).translated(by.toPointF() / -ratio).intersected(QRectF(whole))
            self._draw(bands_around(left.adjusted(0, self._head if by.y() else 0, 0, 0), size), draw)
        return self._picture

    def _draw(self, parts: list[QRect], draw: Callable[[QPainter, QRect], None]) -> None:
        for part in parts:
            painter = QPainter(self._picture)
            painter.setClipRect(part)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
            painter.fillRect(part, CLEAR)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw(painter, part)
            painter.end()


def bands_around(place: QRectF, size: QSize) -> list[QRect]:
    """What is left of a surface around a rectangle: above and below it over the whole width, then beside it."""
    wide, high = size.width(), size.height()
    top, bottom = (min(max(math.ceil(y), 0), high) for y in (place.top(), math.floor(place.bottom())))
    left, right = (min(max(math.ceil(x), 0), wide) for x in (place.left(), math.floor(place.right())))
    if bottom <= top or right <= left:
        return [QRect(0, 0, wide, high)]
    bands = [QRect(0, 0, wide, top), QRect(0, bottom, wide, high - bottom),
             QRect(0, top, left, bottom - top), QRect(right, top, wide - right, bottom - top)]  # fmt: skip
    return [band for band in bands if not band.isEmpty()]
