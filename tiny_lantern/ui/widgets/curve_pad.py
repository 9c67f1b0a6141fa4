"""A pad on which a curve is drawn: what is drawn is seen at once, and kept as one step when it is let go."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

PLACES = 17
STEP = 0.05
HIGH, EDGE = 56, 5.0
SIDEWAYS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
UP_AND_DOWN = {Qt.Key.Key_Up: STEP, Qt.Key.Key_Down: -STEP}


@guarded
class CurvePad(QWidget):
    """Shows levels from the beginning to the end of a curve; drawn over, it has so many of its own in a row.

    Args:
        name: what is drawn, for screen readers.
    """

    tried = Signal(str)
    kept = Signal(str)
    given_up = Signal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: tuple[float, ...] = (0.0, 1.0)
        self._drawn: list[float] | None = None
        self._last = 0
        self._place = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.CrossCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(f"Draw the {name}")
        self.setToolTip(f"Draw the {name} here; left and right choose a place, up and down its level")

    def sizeHint(self) -> QSize:
        return QSize(80, HIGH)

    def show_levels(self, levels: Sequence[float]) -> None:
        """Show a curve, unless one is being drawn.

        Args:
            levels: from its beginning to its end, from 0 to 1, (n,). [-]
        """
        if self._drawn is None and tuple(levels) != self._shown:
            self._shown = tuple(levels)
            self.update()

    @property
    def _area(self) -> QRectF:
        return QRectF(self.rect()).adjusted(EDGE, EDGE, -EDGE, -EDGE)

    def _at(self, share: float, level: float) -> QPointF:
        area = self._area
        return QPointF(area.left() + share * area.width(), area.bottom() - level * area.height())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(theme.AMBER if self.hasFocus() else theme.NIGHT_FAINT), 1))
        painter.setBrush(QColor(theme.NIGHT_GROUND))
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        levels = self._drawn or self._shown
        line = [self._at(number / (len(levels) - 1), level) for number, level in enumerate(levels)]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.AMBER, 60))
        painter.drawPolygon(QPolygonF([self._at(0, 0), *line, self._at(1, 0)]))
        painter.setPen(QPen(QColor(theme.AMBER), 1.6))
        painter.drawPolyline(QPolygonF(line))
        if self.hasFocus():
            share = self._place / (PLACES - 1)
            painter.setBrush(QColor(theme.NIGHT_INK))
            painter.setPen(Qt.PenStyle.NoPen)
            level = float(np.interp(share, np.linspace(0, 1, len(levels)), levels))
            painter.drawEllipse(self._at(share, level), 3, 3)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._drawn = self._own()
            self._last = self._place_under(event.position().x())
            self._draw_to(event.position())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drawn is not None:
            self._draw_to(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drawn is not None:
            self._keep(self._drawn)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and self._drawn is not None:
            self._drawn = None
            self.update()
            self.given_up.emit()
        elif key in SIDEWAYS:
            self._place = min(max(self._place + SIDEWAYS[key], 0), PLACES - 1)
            self.update()
        elif key in UP_AND_DOWN:
            levels = self._own()
            levels[self._place] = min(max(levels[self._place] + UP_AND_DOWN[key], 0.0), 1.0)
            self._keep(levels)
        else:
            super().keyPressEvent(event)

    def _own(self) -> list[float]:
        """The curve as so many levels in a row, which can be drawn on."""
        shown = np.linspace(0, 1, len(self._shown))
        return [float(level) for level in np.interp(np.linspace(0, 1, PLACES), shown, self._shown)]

    def _place_under(self, x: float) -> int:
        area = self._area
        return min(max(round((x - area.left()) / max(1.0, area.width()) * (PLACES - 1)), 0), PLACES - 1)

    def _draw_to(self, point: QPointF) -> None:
        """The places from the last one to the pointer lie on a straight line from its level to the pointer's."""
        assert self._drawn is not None
        area = self._area
        level = min(max((area.bottom() - point.y()) / max(1.0, area.height()), 0.0), 1.0)
        place = self._place_under(point.x())
        before, away = self._drawn[self._last], place - self._last
        for passed in range(1, abs(away)):
            at = self._last + passed * (1 if away > 0 else -1)
            self._drawn[at] = before + (level - before) * passed / abs(away)
        self._drawn[place] = level
        self._last = self._place = place
        self.tried.emit(_words(self._drawn))
        self.update()

    def _keep(self, levels: list[float]) -> None:
        self._drawn, self._shown = None, tuple(levels)
        self.update()
        self.kept.emit(_words(levels))


def _words(levels: Sequence[float]) -> str:
    """Levels in a row, as a person would type them."""
    return " ".join(f"{level:.2f}".rstrip("0").rstrip(".") or "0" for level in levels)
