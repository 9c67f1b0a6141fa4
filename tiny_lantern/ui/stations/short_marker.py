"""The marker of a short that one drags along the Line."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from tiny_lantern.ui import theme

HALF = 9.0


def draw_marker(painter: QPainter, x: float, top: float, bottom: float, palette: theme.Palette, chosen: bool) -> None:
    """A line across both plots, and at its head two rails with something across them."""
    painter.setPen(QPen(QColor(palette.danger), 2.4 if chosen else 1.6, Qt.PenStyle.DashLine))
    painter.drawLine(QPointF(x, top + HALF), QPointF(x, bottom))
    painter.setPen(QPen(QColor(palette.danger), 1.4))
    painter.setBrush(QColor(palette.panel))
    painter.drawRect(QRectF(x - HALF, top - HALF, 2 * HALF, 2 * HALF))
    painter.setPen(QPen(QColor(palette.danger), 2.0))
    for y in (top - 5, top + 5):
        painter.drawLine(QPointF(x - 6, y), QPointF(x + 6, y))
    painter.setPen(QPen(QColor(palette.danger), 4.0))
    painter.drawLine(QPointF(x, top - 4), QPointF(x, top + 4))
