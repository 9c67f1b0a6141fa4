"""The drawing at the bench: ways of the current with pins where readings were taken, and the next place aglow."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QByteArray, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QRadialGradient
from PySide6.QtSvg import QSvgRenderer
from PySide6.QtWidgets import QWidget

from tiny_lantern.circuit.paths import Path
from tiny_lantern.sheets.schematic import laid_out, schematic_svg
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded

REACH, DOT, GLOW = 11.0, 3.2, 26.0
PIN_WIDE, CARD_HIGH, OUT = 118.0, 32.0, 58.0
SIDE = PIN_WIDE + OUT + 4


@dataclass(frozen=True)
class Pin:
    """A reading on the drawing: the terminal, what is expected there, what was read, and whether that is off."""

    terminal: str
    expected: str
    read: str
    off: bool


@guarded
class BenchCanvas(QWidget):
    """Shows ways; a click on a dot puts the red probe there."""

    picked = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.palette_in_use = theme.PAPER
        self.setAccessibleName("The circuit with its readings")
        self.setMouseTracking(True)
        self._renderer = QSvgRenderer(self)
        self._size = QSize(200, 60)
        self._paths: tuple[Path, ...] = ()
        self._places: dict[str, QPointF] = {}
        self._names: Mapping[str, str] = {}
        self._pins: tuple[Pin, ...] = ()
        self._next = self._chosen = ""

    @property
    def places(self) -> Mapping[str, QPointF]:
        """Where each terminal that is drawn lies."""
        return self._places

    def show_paths(self, paths: Sequence[Path], names: Mapping[str, str]) -> None:
        """Draw ways; terminals are called by their names."""
        self._paths, self._names = tuple(paths), names
        columns, _, _ = laid_out(self._paths)
        self._places = {}
        for column in columns:
            for each in column.placed:
                for node, y in ((each.sign.above, each.y - each.half - 5), (each.sign.below, each.y + each.half + 5)):
                    if node in names:
                        self._places.setdefault(node, QPointF(SIDE + column.x, y))
        self._draw()

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self._draw()

    def _draw(self) -> None:
        p = self.palette_in_use
        svg = schematic_svg(self._paths, p.ink, p.faint)
        self._renderer.load(QByteArray(svg.encode("utf-8")))
        size = self._renderer.defaultSize()
        self._size = QSize(size.width() + round(2 * SIDE), size.height())
        self.setFixedSize(self._size)
        self.update()

    def show_pins(self, pins: Sequence[Pin], following: str, chosen: str) -> None:
        """Stick pins where readings were taken; ``following`` is where to read next, ``chosen`` where the red probe
        is."""
        self._pins, self._next, self._chosen = tuple(pins), following, chosen
        self.update()

    def _near(self, point: QPointF) -> str:
        """The terminal under the pointer."""
        near = {key: (place - point).manhattanLength() for key, place in self._places.items()}
        key = min(near, key=near.__getitem__, default="")
        return key if key and near[key] <= REACH else ""

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        key = self._near(event.position())
        self.setToolTip(self._names.get(key, ""))
        self.setCursor(Qt.CursorShape.PointingHandCursor if key else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        key = self._near(event.position())
        if key and event.button() == Qt.MouseButton.LeftButton:
            self.picked.emit(key)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter, p = QPainter(self), self.palette_in_use
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        size = self._renderer.defaultSize()
        if self._next in self._places:
            self._glow(painter, self._places[self._next])
        self._renderer.render(painter, QRectF(SIDE, 0, size.width(), size.height()))
        for key, place in self._places.items():
            chosen = key == self._chosen
            painter.setPen(QPen(QColor(p.danger if chosen else p.faint), 1.6 if chosen else 0.8))
            painter.setBrush(QColor(p.danger) if chosen else QColor(p.panel))
            painter.drawEllipse(place, DOT + chosen, DOT + chosen)
        for pin in self._pins:
            if pin.terminal in self._places:
                self._pin(painter, self._places[pin.terminal], pin)

    @staticmethod
    def _glow(painter: QPainter, place: QPointF) -> None:
        shine = QRadialGradient(place, GLOW)
        shine.setColorAt(0.0, theme.with_alpha(theme.AMBER, 230))
        shine.setColorAt(1.0, theme.with_alpha(theme.AMBER, 0))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(shine)
        painter.drawEllipse(place, GLOW, GLOW)

    def _pin(self, painter: QPainter, place: QPointF, pin: Pin) -> None:
        """A needle in the drawing with its flag: expected above, read below."""
        p = self.palette_in_use
        colour = QColor(p.danger if pin.off else p.teal)
        flag = QRectF(place.x() - OUT - PIN_WIDE, max(2.0, place.y() - CARD_HIGH), PIN_WIDE, CARD_HIGH)
        painter.setPen(QPen(colour, 1.4))
        painter.drawLine(place, QPointF(flag.right(), flag.center().y()))
        painter.setBrush(colour)
        painter.drawEllipse(place, DOT + 1, DOT + 1)
        painter.setBrush(QColor(p.field))
        painter.drawRoundedRect(flag, 3, 3)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(p.amber_text))
        painter.drawText(flag.adjusted(6, 1, -4, -16), int(Qt.AlignmentFlag.AlignVCenter), f"{pin.expected} expected")
        painter.setPen(colour)
        painter.drawText(flag.adjusted(6, 15, -4, -1), int(Qt.AlignmentFlag.AlignVCenter), f"{pin.read} read")
