"""Plots one below the other on the Line's axis: the one widget that draws curves, in every station and as SVG."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QRectF, QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.layout import metre_step
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.widgets.curves import NOTHING, Curve, Drawn, LineStore, drawn

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Stroke:
    """How a curve is drawn: the palette's name of its colour, and its width. [screen pixels]"""

    ink: str
    width: float


@dataclass
class Panel:
    """One plot: its title and unit, the names and strokes of its curves, where it lies, and the values in view."""

    title: str
    unit: str
    strokes: tuple[Stroke, ...]
    names: tuple[str, ...] = ()
    rect: QRectF = field(default_factory=QRectF)
    low: float = 0.0
    high: float = 1.0
    curves: tuple[Curve, ...] = ()

    def y_of(self, value: float) -> float:
        """A value as a height in the whole widget. [screen pixels]"""
        return self.rect.bottom() - (value - self.low) / (self.high - self.low) * self.rect.height()

    def heights(self, values: Floats) -> Floats:
        """Values as heights in the whole widget, (n,). [screen pixels]"""
        return self.rect.bottom() - (values - self.low) * (self.rect.height() / (self.high - self.low))

    def show_values(self, low: float, high: float) -> None:
        """Set the vertical range."""
        self.low, self.high = low, high


@guarded
class LineChart(QWidget):
    """Draws the curves of its panels; scales, limits and marks lie on layers above."""

    def __init__(self, axis: LineAxis, panels: tuple[Panel, ...]) -> None:
        super().__init__()
        self.axis, self.panels = axis, panels
        self.palette_in_use = theme.PAPER
        self.in_haste = False
        self._lines = LineStore()
        axis.changed.connect(self.update)

    @property
    def axis_width(self) -> float:
        """Width of the Line's axis inside this widget. [screen pixels]"""
        return max(1.0, self.width() - theme.GUTTER)

    def to_x(self, places_m: Floats) -> Floats:
        """Places on the Line as distances from the left of this widget, (n,). [screen pixels]"""
        return theme.GUTTER + np.asarray(self.axis.to_screen(places_m, self.axis_width), np.float64)

    def points(self, panel: Panel, curve: Curve) -> Drawn:
        """The points of a curve that are drawn in the present view."""
        return drawn(curve.in_view(self.axis.left_m, self.axis.right_m), self.to_x, panel.heights)

    def shown(self, panel: Panel, curve: Curve) -> tuple[Floats, Floats]:
        """Places and values of the points that are drawn, (n,) each. [m on the Line] and [the panel's unit]"""
        seen = curve.in_view(self.axis.left_m, self.axis.right_m)
        at = drawn(seen, self.to_x, panel.heights).at
        return seen.place_m[at], seen.value[at]

    def read(self, panel: Panel, number: int, place_m: float) -> float | None:
        """The value of a curve at the point nearest to a place; None where there is none."""
        curve = panel.curves[number] if panel.curves else NOTHING
        if not len(curve.place_m):
            return None
        value = float(curve.value[np.abs(curve.place_m - place_m).argmin()])
        return None if np.isnan(value) else value

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.palette_in_use.paper))
        self.draw(painter)

    def draw(self, painter: QPainter) -> None:
        """Draw the grounds and the curves."""
        for panel in self.panels:
            painter.fillRect(panel.rect, QColor(self.palette_in_use.panel))
            painter.save()
            painter.setClipRect(panel.rect)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, not self.in_haste)
            for curve, stroke in zip(panel.curves, panel.strokes, strict=False):
                painter.setPen(QPen(QColor(getattr(self.palette_in_use, stroke.ink)), stroke.width))
                painter.drawLines(self._lines.of(self.points(panel, curve).segments()))
            painter.restore()

    def svg(self, *above: Callable[[QPainter], None]) -> bytes:
        """The curves as an SVG document, with what others draw above them."""
        from PySide6.QtSvg import QSvgGenerator  # only an export needs it

        held = QByteArray()
        buffer = QBuffer(held)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        generator = QSvgGenerator()
        generator.setOutputDevice(buffer)
        generator.setSize(QSize(self.width(), self.height()))
        generator.setViewBox(self.rect())
        painter = QPainter(generator)
        for draw in (self.draw, *above):
            painter.save()
            draw(painter)
            painter.restore()
        painter.end()
        buffer.close()
        return bytes(held.data())


def round_ticks(low: float, high: float, most: int) -> list[float]:
    """Round values between two, no more than so many."""
    step = metre_step(high - low, most)
    first = int(np.ceil(low / step - 1e-9))
    return [number * step for number in range(first, int(np.floor(high / step + 1e-9)) + 1)]
