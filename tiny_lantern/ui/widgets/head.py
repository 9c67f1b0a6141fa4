"""The head of a post: the round mark with a feed's letter, the same in every view."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from tiny_lantern.ui import theme

WHITE = "#ffffff"


def draw_head(
    painter: QPainter,
    centre: QPointF,
    radius: float,
    letter: str,
    points: float,
    colour: str,
    ink: str = WHITE,
    ring: str = "",
) -> None:
    """Draw a head of a radius [screen pixels] with a letter of a size [points]; a named ring goes about it."""
    painter.setBrush(QColor(colour))
    painter.setPen(QPen(QColor(ring), 2) if ring else Qt.PenStyle.NoPen)
    painter.drawEllipse(centre, radius, radius)
    painter.setPen(QColor(ink))
    painter.setFont(theme.font(points))
    painter.drawText(QRectF(centre.x() - 12, centre.y() - 12, 24, 24), Qt.AlignmentFlag.AlignCenter, letter)
