"""A small curve of figures, to be read beside their table."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

LEFT, BELOW, SIZE = 44.0, 18.0, 8.5


@guarded
class SmallCurve(QWidget):
    """Figures at even places from left to right, with the least and the most at its edge."""

    def __init__(self, across: str, upward: str) -> None:
        super().__init__()
        self._across, self._upward = across, upward
        self.values: Sequence[float] = ()
        self.setMinimumSize(200, 150)
        self.setAccessibleName(f"Curve of {upward} over {across}")

    def sizeHint(self) -> QSize:
        return QSize(300, 220)

    def show_values(self, values: Sequence[float]) -> None:
        """Draw other figures."""
        self.values = tuple(values)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = QRectF(LEFT, 6, self.width() - LEFT - 6, self.height() - BELOW - 12)
        painter.fillRect(area, QColor(theme.NIGHT_GROUND))
        ink = self.palette().color(self.foregroundRole())
        painter.setPen(ink)
        painter.setFont(theme.font(SIZE))
        below = QRectF(area.left(), area.bottom() + 2, area.width(), BELOW)
        painter.drawText(below, Qt.AlignmentFlag.AlignCenter, f"{self._across} 0 to {max(0, len(self.values) - 1)}")
        if len(self.values) < 2:
            return
        low, high = min(self.values), max(self.values)
        side = QRectF(0, area.top(), LEFT - 4, area.height())
        painter.drawText(side, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop, f"{high:g}")
        painter.drawText(side, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, f"{low:g}")
        painter.drawText(side, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self._upward)
        span, last = max(high - low, 1e-12), len(self.values) - 1
        points = [
            QPointF(area.left() + area.width() * n / last, area.bottom() - area.height() * (value - low) / span)
            for n, value in enumerate(self.values)
        ]
        painter.setPen(QPen(QColor(theme.AMBER), 2))
        painter.drawPolyline(QPolygonF(points))
