"""A bitmap that is drawn light by light, with the mouse or the keyboard."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

MOST_CELL, LEAST_CELL, PANEL = 26.0, 6.0, 8


@guarded
class BitGrid(QWidget):
    """Rows of lights; a click turns one over and a drag paints on. ``drawn`` tells the rows that came of it."""

    drawn = Signal(list)

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[str] = []
        self.caret = (0, 0)
        self._ink: str | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Bitmap: arrows move, Space turns a light over")
        self.setMinimumHeight(150)

    def show_rows(self, rows: Sequence[str]) -> None:
        """Show a bitmap."""
        if list(rows) != self.rows:
            self.rows = list(rows)
            height, width = len(self.rows), len(self.rows[0]) if self.rows else 0
            self.caret = (min(self.caret[0], max(0, height - 1)), min(self.caret[1], max(0, width - 1)))
            self.update()

    def _cell(self) -> float:
        if not self.rows or not self.rows[0]:
            return MOST_CELL
        fitting = min(self.width() / len(self.rows[0]), self.height() / len(self.rows))
        return max(LEAST_CELL, min(MOST_CELL, fitting))

    def cell_at(self, at: QPointF) -> tuple[int, int] | None:
        """Row and column under a point; None where there is none."""
        row, column = int(at.y() / self._cell()), int(at.x() / self._cell())
        inside = at.x() >= 0 and at.y() >= 0 and row < len(self.rows) and column < len(self.rows[0])
        return (row, column) if inside else None

    def centre_of(self, row: int, column: int) -> QPointF:
        """The middle of a light."""
        return QPointF((column + 0.5) * self._cell(), (row + 0.5) * self._cell())

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        cell = self._cell()
        if self.rows:
            area = QRectF(0, 0, cell * len(self.rows[0]), cell * len(self.rows))
            painter.fillRect(area, QColor(theme.NIGHT_GROUND))
        for row, marks in enumerate(self.rows):
            for column, mark in enumerate(marks):
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(theme.AMBER if mark == "1" else "#2b323d"))
                painter.drawEllipse(self.centre_of(row, column), cell * 0.36, cell * 0.36)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(theme.NIGHT_FAINT), 1))
        for column in range(PANEL, len(self.rows[0]) if self.rows else 0, PANEL):
            painter.drawLine(QPointF(column * cell, 0), QPointF(column * cell, cell * len(self.rows)))
        if self.hasFocus() and self.rows:
            painter.setPen(QPen(QColor("#ffffff"), 1.5))
            painter.drawRect(QRectF(self.caret[1] * cell + 1, self.caret[0] * cell + 1, cell - 2, cell - 2))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.cell_at(event.position())
        if at is not None and event.button() == Qt.MouseButton.LeftButton:
            self._ink = "0" if self.rows[at[0]][at[1]] == "1" else "1"
            self._put(at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = self.cell_at(event.position())
        if at is not None and self._ink is not None and self.rows[at[0]][at[1]] != self._ink:
            self._put(at)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._ink = None

    def _put(self, at: tuple[int, int]) -> None:
        row, column = self.caret = at
        ink = self._ink or ("0" if self.rows[row][column] == "1" else "1")
        self.rows[row] = self.rows[row][:column] + ink + self.rows[row][column + 1 :]
        self.update()
        self.drawn.emit(list(self.rows))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}
        step = steps.get(Qt.Key(event.key()))
        if not self.rows or (step is None and event.key() != Qt.Key.Key_Space):
            super().keyPressEvent(event)
            return
        if step is None:
            self._put(self.caret)
            return
        row, column = self.caret[0] + step[0], self.caret[1] + step[1]
        self.caret = (max(0, min(len(self.rows) - 1, row)), max(0, min(len(self.rows[0]) - 1, column)))
        self.update()
