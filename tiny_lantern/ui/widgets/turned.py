"""What a hand turns, presses and switches in the window: a knob, a pad that is pressed, a button, a switch."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QPushButton, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

FIRST_DEG, SWEEP_DEG = 225.0, 270.0
STEP, LEAP, PER_PIXEL = 0.02, 0.1, 1 / 120
GROOVE = "#39434f"
STEPS = {
    Qt.Key.Key_Left: -STEP, Qt.Key.Key_Down: -STEP, Qt.Key.Key_Right: STEP, Qt.Key.Key_Up: STEP,
    Qt.Key.Key_PageDown: -LEAP, Qt.Key.Key_PageUp: LEAP, Qt.Key.Key_Home: -1.0, Qt.Key.Key_End: 1.0,
}  # fmt: skip


@guarded
class Turned(QWidget):
    """Something that is moved from 0 to 1; ``moved`` tells how far, whenever a hand moves it.

    Args:
        name: what it is, for screen readers.
    """

    moved = Signal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.way = 0.0
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self._grip: tuple[float, float] | None = None

    def show_way(self, way: float) -> None:
        """Stand at a place.

        Args:
            way: how far, 0 to 1. [-]
        """
        if way != self.way:
            self.way = way
            self.update()

    def _move(self, way: float) -> None:
        way = min(max(way, 0.0), 1.0)
        if way != self.way:
            self.way = way
            self.update()
            self.moved.emit(way)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = STEPS.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._move(self.way + step)

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._move(self.way + math.copysign(STEP, event.angleDelta().y()))
        event.accept()


@guarded
class Dial(Turned):
    """A knob: dragged up or to the right it turns clockwise."""

    def sizeHint(self) -> QSize:
        return QSize(40, 40)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        place = event.position()
        self._grip = (place.x() - place.y(), self.way)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None:
            place = event.position()
            self._move(self._grip[1] + (place.x() - place.y() - self._grip[0]) * PER_PIXEL)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grip = None

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = min(self.width(), self.height()) - 6
        box = QRectF((self.width() - size) / 2, (self.height() - size) / 2, size, size)
        for share, colour in ((1.0, GROOVE), (self.way, theme.AMBER)):
            painter.setPen(QPen(QColor(colour), 4.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawArc(box, round(FIRST_DEG * 16), round(-SWEEP_DEG * share * 16) or -1)
        angle = math.radians(FIRST_DEG - SWEEP_DEG * self.way)
        reach = size / 2 - 6
        tip = box.center() + QPointF(math.cos(angle), -math.sin(angle)) * reach
        painter.setPen(QPen(QColor(theme.AMBER if self.hasFocus() else theme.NIGHT_INK), 2.5))
        painter.drawLine(box.center(), tip)


@guarded
class Pad(Turned):
    """A sensor: where it is touched says how far it is moved; one that ``springs`` goes back when it is let go.

    Args:
        name: what it is, for screen readers.
        springs: whether it goes back by itself.
    """

    def __init__(self, name: str, springs: bool) -> None:
        super().__init__(name)
        self._springs = springs

    def sizeHint(self) -> QSize:
        return QSize(92, 26)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._move((event.position().x() - 4) / max(1, self.width() - 8))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._springs:
            self._move(0.0)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(2, self.height() / 2 - 8, self.width() - 4, 16)
        painter.setPen(QPen(QColor(theme.AMBER if self.hasFocus() else GROOVE), 1.0))
        painter.setBrush(QColor("#1d2430"))
        painter.drawRoundedRect(box, 4, 4)
        filled = QRectF(box.left() + 2, box.top() + 2, (box.width() - 4) * self.way, box.height() - 4)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.AMBER))
        painter.drawRoundedRect(filled, 3, 3)


@guarded
class Press(QPushButton):
    """A button, held as long as it is pressed, or one that stays; ``moved`` tells 1 and 0.

    Args:
        name: what it is, for screen readers.
        stays: whether it stays as it is put.
        states: what one that stays is called off and on.
    """

    moved = Signal(float)

    def __init__(self, name: str, stays: bool, states: tuple[str, str] = ("off", "on")) -> None:
        super().__init__(states[0] if stays else "press")
        self._stays, self._states = stays, states
        self.setCheckable(stays)
        self.setAccessibleName(name)
        self.setAutoRepeat(False)
        if stays:
            self.toggled.connect(self._switched)
        else:
            self.pressed.connect(lambda: self.moved.emit(1.0))
            self.released.connect(lambda: self.moved.emit(0.0))

    def show_way(self, way: float) -> None:
        """Show whether it is on.

        Args:
            way: 0 or 1. [-]
        """
        if self._stays and self.isChecked() != (way >= 0.5):
            blocked = self.blockSignals(True)
            self.setChecked(way >= 0.5)
            self.blockSignals(blocked)
            self.setText(self._states[way >= 0.5])
        elif not self._stays and self.isDown() != (way >= 0.5):
            self.setDown(way >= 0.5)

    def _switched(self, on: bool) -> None:
        self.setText(self._states[on])
        self.moved.emit(float(on))
