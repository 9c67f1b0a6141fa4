"""The traces of a board's pins over time: the wheel zooms, a drag scrolls, a click chooses a pin."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from heapq import merge

from PySide6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.live.tried.decoded import bits_on, bytes_of
from tiny_lantern.live.tried.program import Edge
from tiny_lantern.model.quantities import engineering
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

LANE, NAMES, HEAD, NEAREST_US, CLOSER = 26, 190, 20, 20.0, 0.8
ROOM_FOR_BYTE = 18


def _when(edge: Edge) -> float:
    return edge.at_us


@guarded
class Traces(QWidget):
    """Lanes of pins: high above low, dimmed pins by their share, what went over a data line in hexadecimal."""

    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self._lanes: list[tuple[int, str]] = []
        self._clock_of: dict[int, int] = {}
        self._edges: dict[int, list[Edge]] = {}
        self._bytes: dict[int, list[tuple[float, int]]] = {}
        self.all_us = (0.0, 1.0)
        self.view_us = (0.0, 1.0)
        self.pin: int | None = None
        self._grabbed: tuple[float, tuple[float, float]] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(
            "Traces of the pins: up and down choose a pin, plus and minus zoom, left and right scroll"
        )

    def sizeHint(self) -> QSize:
        return QSize(620, HEAD + LANE * max(4, len(self._lanes)))

    def show_lanes(self, lanes: Sequence[tuple[int, str]], clock_of: dict[int, int]) -> None:
        """Show other pins.

        Args:
            lanes: each pin's number and name.
            clock_of: the clock of each data pin.
        """
        self._lanes, self._clock_of = list(lanes), dict(clock_of)
        self._edges, self._bytes = {}, {}
        self.setMinimumHeight(HEAD + LANE * len(self._lanes))
        self.update()

    def show_edges(self, edges: Sequence[Edge], began_us: float, ended_us: float) -> None:
        """Show what the pins did from one moment to another; a view of all of it stays one.

        Args:
            edges: what they did.
            began_us: from when. [µs]
            ended_us: until when. [µs]
        """
        whole, span = self.view_us == self.all_us, self.view_us[1] - self.view_us[0]
        self._edges = {pin: [] for pin in self.pins}
        for edge in edges:
            if edge.pin in self._edges:
                self._edges[edge.pin].append(edge)
        self._bytes = {
            data: bytes_of(bits_on(merge(self._edges[data], self._edges[clock], key=_when), data, clock))
            for data, clock in self._clock_of.items()
        }
        self.all_us = began_us, ended_us
        self.view_us = self.all_us if whole else (max(began_us, ended_us - span), ended_us)
        self.update()

    @property
    def pins(self) -> list[int]:
        """The pins by number, in the order of their lanes."""
        return [pin for pin, _ in self._lanes]

    def _x(self, at_us: float) -> float:
        begin, end = self.view_us
        return NAMES + (at_us - begin) / max(end - begin, 1e-9) * (self.width() - NAMES)

    def _when(self, x: float) -> float:
        begin, end = self.view_us
        return begin + (x - NAMES) / max(self.width() - NAMES, 1) * (end - begin)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.NIGHT_GROUND))
        painter.setFont(theme.font(9))
        painter.setPen(QColor(theme.NIGHT_FAINT))
        begin, end = self.view_us
        for share in (0.0, 0.25, 0.5, 0.75):
            at_us = begin + share * (end - begin)
            painter.drawText(QPointF(self._x(at_us) + 3, 13), engineering(at_us / 1e6, "s"))
            painter.drawLine(QLineF(self._x(at_us), 4, self._x(at_us), self.height()))
        for row, (pin, name) in enumerate(self._lanes):
            self._lane(painter, row, pin, name)

    def _lane(self, painter: QPainter, row: int, pin: int, name: str) -> None:
        top = HEAD + row * LANE
        painter.setPen(QColor(theme.AMBER if pin == self.pin else theme.NIGHT_INK))
        room = QRectF(6, top, NAMES - 12, LANE)
        words = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideMiddle, int(room.width()))
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, words)
        painter.save()
        painter.setClipRect(QRectF(NAMES, top, self.width() - NAMES, LANE))
        painter.setPen(QPen(QColor(theme.AMBER if pin == self.pin else theme.NIGHT_TEAL), 1))
        painter.drawLines(self._steps(pin, top))
        painter.setPen(QColor(theme.NIGHT_INK))
        for at_us, words in self._read(pin):
            painter.drawText(QPointF(self._x(at_us) + 2, top + 11), words)
        painter.restore()

    def _steps(self, pin: int, top: float) -> list[QLineF]:
        """The lines of a trace within the view; many edges in one column are one line."""
        low, high = top + LANE - 5.0, top + 5.0
        begin, end = self.view_us
        edges = self._edges.get(pin, [])
        first = bisect_left(edges, begin, key=lambda edge: edge.at_us)
        level = edges[first - 1].level if first else (1 - edges[0].level if edges and edges[0].kind == "S" else 0.0)
        y, x, lines = low + (high - low) * level, float(NAMES), []
        for edge in edges[first:]:
            if edge.at_us > end:
                break
            if edge.kind == "P":
                across = self._x(edge.at_us)
                lines += [QLineF(x, low, across, low), QLineF(across, low, across, high)]
                x, y = across, low
                continue
            if edge.kind not in "SD":
                continue
            across, to = self._x(edge.at_us), low + (high - low) * edge.level
            if across - x >= 0.5 or not lines:
                lines.append(QLineF(x, y, across, y))
                x = across
            lines.append(QLineF(across, y, across, to))
            y = to
        lines.append(QLineF(x, y, float(self.width()), y))
        return lines

    def _read(self, pin: int) -> list[tuple[float, str]]:
        """Bytes on a data line where there is room for them, and how many pixels were sent."""
        begin, end = self.view_us
        sent = [(edge.at_us, f"{len(edge.data)} bytes") for edge in self._edges.get(pin, []) if edge.kind == "P"]
        found = [(at_us, f"{byte:02X}") for at_us, byte in self._bytes.get(pin, []) if begin <= at_us <= end]
        if len(found) > 1 and self._x(found[1][0]) - self._x(found[0][0]) < ROOM_FOR_BYTE:
            found = []
        return sent + found

    def zoom(self, factor: float, x: float | None = None) -> None:
        """Zoom about a place, the middle when there is none.

        Args:
            factor: below 1 comes closer. [-]
            x: the place. [screen pixels]
        """
        about = self._when(x if x is not None else (NAMES + self.width()) / 2)
        begin, end = self.view_us
        span = min(max((end - begin) * factor, NEAREST_US), self.all_us[1] - self.all_us[0])
        start = about - (about - begin) / max(end - begin, 1e-9) * span
        self._look_at(start, span)

    def _look_at(self, start: float, span: float) -> None:
        start = min(max(start, self.all_us[0]), self.all_us[1] - span)
        self.view_us = start, start + span
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.zoom(CLOSER if event.angleDelta().y() > 0 else 1 / CLOSER, event.position().x())
        event.accept()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        row = int((event.position().y() - HEAD) // LANE)
        if 0 <= row < len(self._lanes):
            self.choose(self._lanes[row][0])
        self._grabbed = (event.position().x(), self.view_us)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grabbed is not None:
            x, (begin, end) = self._grabbed
            moved = (event.position().x() - x) / max(self.width() - NAMES, 1) * (end - begin)
            self._look_at(begin - moved, end - begin)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grabbed = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = {Qt.Key.Key_Plus: CLOSER, Qt.Key.Key_Equal: CLOSER, Qt.Key.Key_Minus: 1 / CLOSER}
        begin, end = self.view_us
        if event.key() in keys:
            self.zoom(keys[Qt.Key(event.key())])
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            by = (end - begin) / 8 * (1 if event.key() == Qt.Key.Key_Right else -1)
            self._look_at(begin + by, end - begin)
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self._lanes:
            pins = self.pins
            at = pins.index(self.pin) if self.pin in pins else -1
            self.choose(pins[(at + (1 if event.key() == Qt.Key.Key_Down else -1)) % len(pins)])
        else:
            super().keyPressEvent(event)

    def choose(self, pin: int) -> None:
        """Choose a pin.

        Args:
            pin: its number. [-]
        """
        if pin != self.pin:
            self.pin = pin
            self.update()
        self.chosen.emit(pin)
