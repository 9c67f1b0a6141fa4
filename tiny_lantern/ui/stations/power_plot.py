"""Volts and amps against the Line: the curves, their limits, and what white looks like.

pyqtgraph draws the curves; the posts and the probe lie on a layer of their own above them.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from tiny_lantern.electrical.network import part_of
from tiny_lantern.light.colour import screen_bytes
from tiny_lantern.light.seen import seen, voltage_floor
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of
from tiny_lantern.ui.session import Session

if TYPE_CHECKING:
    from tiny_lantern.electrical.power import PowerSolution

HEAD = 34
Floats = NDArray[np.float64]
BREAK = np.array([np.nan])


class PowerPlot(QWidget):
    """The two plots and the band of white below them, on the Line's axis."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.palette_in_use = theme.PAPER
        self._scene = pg.GraphicsLayoutWidget()
        self._scene.ci.setContentsMargins(0, 0, 0, 0)
        self._scene.ci.layout.setSpacing(6)
        self._scene.ci.layout.setRowFixedHeight(0, HEAD)
        self._scene.addLabel("", row=0, col=0)
        self.volts = self._plot(1, "V")
        self.amps = self._plot(2, "A")
        self._scene.ci.layout.setRowStretchFactor(1, 5)
        self._scene.ci.layout.setRowStretchFactor(2, 3)
        self.voltage = self.volts.plot(connect="finite", antialias=True)
        self.floor = self.volts.plot(connect="finite")
        self.nominal = self.volts.plot(connect="finite")
        self.out = self.amps.plot(connect="finite", antialias=True)
        self.back = self.amps.plot(connect="finite", antialias=True)
        self.copper = self.amps.plot(connect="finite")
        self.white = WhiteBand(session, axis)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(self._scene, 1)
        column.addWidget(self.white)
        axis.changed.connect(self.follow_axis)
        session.solved_changed.connect(self.refresh)
        self.dress(theme.PAPER)

    def _plot(self, row: int, unit: str) -> pg.PlotItem:
        plot = self._scene.addPlot(row=row, col=0, axisItems={"left": UnitAxis(unit)})
        plot.setMenuEnabled(False)
        plot.setMouseEnabled(False, False)
        plot.hideButtons()
        plot.hideAxis("bottom")
        plot.showGrid(x=False, y=True, alpha=0.18)
        left = plot.getAxis("left")
        left.setWidth(theme.GUTTER)
        left.setStyle(tickFont=theme.font(8.5), tickLength=0)
        plot.getViewBox().setDefaultPadding(0.0)
        return plot

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self.voltage.setPen(pg.mkPen(palette.amber, width=2))
        dashed = pg.mkPen(palette.danger, width=1.2, style=Qt.PenStyle.DashLine)
        self.floor.setPen(dashed)
        self.copper.setPen(dashed)
        self.nominal.setPen(pg.mkPen(palette.rule, width=1))
        self.out.setPen(pg.mkPen(palette.copper, width=1.6))
        self.back.setPen(pg.mkPen(palette.teal, width=1.4, style=Qt.PenStyle.DotLine))
        for plot in (self.volts, self.amps):
            left = plot.getAxis("left")
            left.setPen(palette.rule)
            left.setTextPen(palette.faint)
            plot.getViewBox().setBackgroundColor(palette.panel)
        self._scene.setBackground(palette.paper)
        self.white.palette_in_use = palette
        self.white.update()

    @property
    def axis_width(self) -> float:
        """Width of the Line's axis inside this widget. [screen pixels]"""
        return max(1.0, self.width() - theme.GUTTER)

    def plot_rect(self, plot: pg.PlotItem) -> QRectF:
        """Where a plot's area lies in this widget."""
        return plot.getViewBox().sceneBoundingRect()

    def y_of(self, plot: pg.PlotItem, value: float) -> float:
        """A value as a height in this widget. [screen pixels]"""
        rect = self.plot_rect(plot)
        low, high = plot.getViewBox().viewRange()[1]
        return rect.bottom() - (value - low) / (high - low) * rect.height()

    def refresh(self) -> None:
        """Draw the session's solution."""
        solved = self._session.solved
        if solved is None or solved.solution is None or solved.build is not self._session.build:
            for curve in (self.voltage, self.floor, self.nominal, self.out, self.back, self.copper):
                curve.setData([], [])
            self.white.show_looks([])
            return
        self._axis.follow(solved.build)
        self._volts(solved.solution)
        self._amps(solved.solution)
        self.follow_axis()
        self.white.show_looks(
            [
                screen_bytes(
                    seen(part_of(solved.build, strip), solved.solution.runs[strip.id].pixel_v, duty).screen_rgb
                )
                for strip, duty in zip(solved.build.strips, solved.duties, strict=True)
            ]
        )

    def _volts(self, solution: PowerSolution) -> None:
        places: list[Floats] = []
        values: list[Floats] = []
        ends, floors, nominals = [], [], []
        for number, span in enumerate(self._axis.spans):
            start, strip = self._axis.start_of(number), span.strip
            part = part_of(self._session.build, strip)
            places += [start + (np.arange(strip.pixel_count, dtype=np.float64) + 0.5) * strip.pitch_m, BREAK]
            values += [solution.runs[strip.id].pixel_v, BREAK]
            ends += [start, start + strip.length_m, np.nan]
            floor = voltage_floor(part, self._session.build.limits)
            floors += [floor, floor, np.nan]
            nominals += [part.nominal_v, part.nominal_v, np.nan]
        v = np.concatenate(values)
        self.voltage.setData(np.concatenate(places), v)
        self.floor.setData(np.array(ends), np.array(floors))
        self.nominal.setData(np.array(ends), np.array(nominals))
        low, high = min(np.nanmin(v), np.nanmin(floors)), max(np.nanmax(v), np.nanmax(nominals))
        room = max(0.1, 0.08 * (high - low))
        self.volts.setYRange(low - room, high + room, padding=0)

    def _amps(self, solution: PowerSolution) -> None:
        places: list[Floats] = []
        out: list[Floats] = []
        back: list[Floats] = []
        ends, limits = [], []
        for number, span in enumerate(self._axis.spans):
            start, strip = self._axis.start_of(number), span.strip
            run = solution.runs[strip.id]
            edges = np.concatenate([[0.0], (np.arange(strip.pixel_count) + 0.5) * strip.pitch_m, [strip.length_m]])
            places += [start + (edges[:-1] + edges[1:]) / 2, BREAK]
            out += [np.abs(run.rail_pos_a), BREAK]
            back += [np.abs(run.rail_neg_a), BREAK]
            ends += [start, start + strip.length_m, np.nan]
            limit = part_of(self._session.build, strip).rail_limit_a
            limits += [limit, limit, np.nan]
        across = np.concatenate(places)
        self.out.setData(across, np.concatenate(out))
        self.back.setData(across, np.concatenate(back))
        self.copper.setData(np.array(ends), np.array(limits))
        highest = max(float(np.nanmax(np.concatenate(out + back))), float(np.nanmax(limits)))
        self.amps.setYRange(0, highest * 1.12, padding=0)

    def follow_axis(self) -> None:
        """Show the part of the Line that is in view."""
        for plot in (self.volts, self.amps):
            plot.setXRange(self._axis.left_m, self._axis.right_m, padding=0)
        self.white.update()


class UnitAxis(pg.AxisItem):
    """Tick labels with their unit."""

    def __init__(self, unit: str) -> None:
        super().__init__("left")
        self._unit = unit

    def tickStrings(self, values: list[float], scale: float, spacing: float) -> list[str]:
        digits = max(0, int(np.ceil(-np.log10(spacing)))) if spacing < 1 else 0
        return [f"{value:.{digits}f} {self._unit}" for value in values]


class WhiteBand(QWidget):
    """Each light in the real tint and dimness it has in this load."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.palette_in_use = theme.PAPER
        self._looks: list[np.ndarray] = []
        self.setFixedHeight(40)
        self.setAccessibleName("What the load looks like at each light")

    def show_looks(self, looks: list[np.ndarray]) -> None:
        """Show sRGB bytes for each strip, (n_pixels, 3)."""
        self._looks = looks
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(self.palette_in_use.faint))
        word = "white" if self._session.load.case in ("full_white", "level") else "the load"
        painter.drawText(theme.GUTTER, 11, f"what {word} looks like")
        width = self.width() - theme.GUTTER
        painter.setClipRect(QRectF(theme.GUTTER, 0, width, self.height()))
        for number, colours in enumerate(self._looks):
            span = self._axis.spans[number]
            start = self._axis.start_of(number)
            left = theme.GUTTER + float(self._axis.to_screen(start, width))
            right = theme.GUTTER + float(self._axis.to_screen(start + span.strip.length_m, width))
            box = QRectF(left, 16, right - left, 20)
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, len(colours) > box.width())
            painter.drawImage(box, image_of(colours[None]))
            painter.setPen(QColor(self.palette_in_use.rule))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
