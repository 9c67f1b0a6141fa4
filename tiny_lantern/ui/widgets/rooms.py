"""Passages and boxes in the picture: how they are drawn and which one is under the hand."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from tiny_lantern.model.build import Build
from tiny_lantern.model.place import Place
from tiny_lantern.ui import theme

At = Callable[[float, float], QPointF]
LEAST_RADIUS, EDGE = 4.0, 6.0


def draw_rooms(painter: QPainter, build: Build, selected: Place, at: At, scale: float) -> None:
    """Every box as a rectangle to scale, every passage as a ring.

    Args:
        painter: draws on the picture.
        build: the build.
        selected: what is selected.
        at: where a point of the build is drawn.
        scale: screen pixels a metre. [1/m]
    """
    painter.save()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setFont(theme.font(8))
    for box in build.boxes:
        chosen = box.id == selected.one("boxes")
        frame = box_rect(at(box.x_m, box.y_m), box.width_m * scale, box.height_m * scale)
        painter.setPen(QPen(QColor("#ffffff" if chosen else theme.NIGHT_FAINT), 1.5, Qt.PenStyle.DashLine))
        painter.drawRoundedRect(frame, 3, 3)
        painter.drawText(frame.topLeft() + QPointF(4, -4), box.name)
    for hole in build.passages:
        chosen = hole.id == selected.one("passages")
        middle = at(hole.x_m, hole.y_m)
        radius = max(LEAST_RADIUS, hole.diameter_m * scale / 2)
        painter.setPen(QPen(QColor("#ffffff" if chosen else theme.NIGHT_TEAL), 1.8))
        painter.drawEllipse(middle, radius, radius)
        painter.drawText(middle + QPointF(radius + 4, 4), hole.name)
    painter.restore()


def box_rect(middle: QPointF, width: float, height: float) -> QRectF:
    """A box on the picture, never too small to see. [screen pixels]"""
    width, height = max(width, 10.0), max(height, 8.0)
    return QRectF(middle.x() - width / 2, middle.y() - height / 2, width, height)


def room_near(build: Build, point: QPointF, at: At, scale: float) -> tuple[str, str] | None:
    """The kind and the id of the passage, else of the box, whose edge is under the hand.

    Args:
        build: the build.
        point: where the hand is.
        at: where a point of the build is drawn.
        scale: screen pixels a metre. [1/m]
    """
    for hole in build.passages:
        off = at(hole.x_m, hole.y_m) - point
        if (off.x() ** 2 + off.y() ** 2) ** 0.5 <= max(LEAST_RADIUS, hole.diameter_m * scale / 2) + EDGE / 2:
            return "passages", hole.id
    for box in build.boxes:
        frame = box_rect(at(box.x_m, box.y_m), box.width_m * scale, box.height_m * scale)
        outer, inner = frame.adjusted(-EDGE, -EDGE, EDGE, EDGE), frame.adjusted(EDGE, EDGE, -EDGE, -EDGE)
        if outer.contains(point) and not inner.contains(point):
            return "boxes", box.id
    return None
