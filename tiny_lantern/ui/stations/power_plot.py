"""Volts and amps against the Line: the curves, their limits, and what white looks like.

pyqtgraph draws the curves; the posts and the probe lie on a layer of their own above them.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.electrical.network import part_of
from tiny_lantern.light.colour import screen_bytes
from tiny_lantern.light.seen import screen_look, voltage_floor
from tiny_lantern.model.layout import metre_step
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of
from tiny_lantern.ui.session import Session

if TYPE_CHECKING:
    from pyqtgraph import PlotCurveItem, PlotWidget

    from tiny_lantern.electrical.power import PowerSolution

HEAD = 34
BETWEEN = 16
BAND = 42
MOST_POINTS = 700
Floats = NDArray[np.float64]
BREAK = np.array([np.nan])


@dataclass(frozen=True)
class StripLimit:
    """One strip on the axis with the values that its pixels and its copper must keep to."""

    left_m: float
    right_m: float
    floor_v: float
    nominal_v: float
    copper_a: float


@dataclass
class Panel:
    """One plot: its title and unit, where it lies, the values in view, and its curves once they are made."""

    title: str
    unit: str
    names: tuple[str, ...] = ()
    rect: QRectF = field(default_factory=QRectF)
    low: float = 0.0
    high: float = 1.0
    plot: PlotWidget | None = None
    curves: list[PlotCurveItem] = field(default_factory=list)

    def y_of(self, value: float) -> float:
        """A value as a height in the whole widget. [screen pixels]"""
        return self.rect.bottom() - (value - self.low) / (self.high - self.low) * self.rect.height()

    def show_values(self, low: float, high: float) -> None:
        """Set the vertical range."""
        if (low, high) != (self.low, self.high) or self.plot is None:
            self.low, self.high = low, high
            if self.plot is not None:
                self.plot.setYRange(low, high, padding=0)


class PowerPlot(QWidget):
    """The two plots and the band of white below them, on the Line's axis."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.palette_in_use = theme.PAPER
        self.volts = Panel("volts at each light", "V", low=0.0, high=6.0)
        self.amps = Panel("amps in the rails", "A", ("out", "back"), low=0.0, high=6.0)
        self.limits: tuple[StripLimit, ...] = ()
        self._limits_of: tuple = ()
        self.white = WhiteBand(session, axis)
        self.white.setParent(self)
        axis.changed.connect(self.follow_axis)
        session.solved_changed.connect(self.refresh)

    @property
    def panels(self) -> tuple[Panel, Panel]:
        """Volts above, amps below."""
        return self.volts, self.amps

    @property
    def voltage(self) -> PlotCurveItem:
        """The curve of volts; it exists once something was solved."""
        return self.volts.curves[0]

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        room = self.height() - HEAD - BETWEEN - BAND
        high = round(room * 0.64)
        self.volts.rect = QRectF(theme.GUTTER, HEAD, self.axis_width, high)
        self.amps.rect = QRectF(theme.GUTTER, HEAD + high + BETWEEN, self.axis_width, room - high)
        self.white.setGeometry(0, self.height() - BAND, self.width(), BAND)
        self._place_plots()

    def _place_plots(self) -> None:
        for panel in self.panels:
            if panel.plot is not None:
                panel.plot.setGeometry(panel.rect.toRect())

    def _make_plots(self) -> None:
        """Make the plots and their curves; pyqtgraph is loaded by the warm-up, after the first paint."""
        import pyqtgraph as pg

        for panel, count in ((self.volts, 1), (self.amps, 2)):
            panel.plot = pg.PlotWidget(self, enableMenu=False)
            item = panel.plot.getPlotItem()
            item.setContentsMargins(0, 0, 0, 0)
            item.layout.setContentsMargins(0, 0, 0, 0)
            item.setMouseEnabled(False, False)
            item.hideButtons()
            item.disableAutoRange()
            for side in ("left", "bottom"):
                item.hideAxis(side)
            item.getViewBox().setDefaultPadding(0.0)
            for _ in range(count):
                curve = pg.PlotCurveItem(connect="finite", antialias=panel is self.volts)
                curve.setSegmentedLineMode("on")
                item.addItem(curve)
                panel.curves.append(curve)
            panel.plot.setYRange(panel.low, panel.high, padding=0)
            panel.plot.lower()
            panel.plot.show()
        self._place_plots()
        self.dress(self.palette_in_use)

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self.white.palette_in_use = palette
        self.white.update()
        if self.volts.plot is None or self.amps.plot is None:
            return
        from pyqtgraph import mkPen

        for panel in self.panels:
            assert panel.plot is not None
            panel.plot.setBackground(palette.panel)
        pens = ((palette.amber, 2), (palette.copper, 1), (palette.teal, 1))
        for curve, (colour, width) in zip((*self.volts.curves, *self.amps.curves), pens, strict=True):
            curve.setPen(mkPen(colour, width=width))

    @property
    def axis_width(self) -> float:
        """Width of the Line's axis inside this widget. [screen pixels]"""
        return max(1.0, self.width() - theme.GUTTER)

    def refresh(self) -> None:
        """Draw the session's solution."""
        solved = self._session.solved
        if solved is None or solved.solution is None or solved.build is not self._session.build:
            for curve in (*self.volts.curves, *self.amps.curves):
                curve.setData([], [])
            self.white.show_looks([])
            return
        if self.volts.plot is None:
            self._make_plots()
        self._axis.follow(solved.build)
        read = (solved.build.strips, solved.build.parts, solved.build.limits)
        if read != self._limits_of:
            self._limits_of = read
            self.limits = self._limits()
        self._volts(solved.solution)
        self._amps(solved.solution)
        self.follow_axis()
        self.white.show_looks(
            [
                screen_bytes(screen_look(part_of(solved.build, strip), solved.solution.runs[strip.id].pixel_v, duty))
                for strip, duty in zip(solved.build.strips, solved.duties, strict=True)
            ]
        )

    def _limits(self) -> tuple[StripLimit, ...]:
        """What does not move with a feed: each strip's least and nominal voltage and its own copper's limit."""
        limits = self._session.build.limits
        return tuple(
            StripLimit(
                start, start + span.strip.length_m, voltage_floor(part, limits), part.nominal_v, part.rail_limit_a
            )
            for start, span, part in (
                (self._axis.start_of(number), span, part_of(self._session.build, span.strip))
                for number, span in enumerate(self._axis.spans)
            )
        )

    def _volts(self, solution: PowerSolution) -> None:
        places: list[Floats] = []
        values: list[Floats] = []
        for number, span in enumerate(self._axis.spans):
            start, strip = self._axis.start_of(number), span.strip
            pixel_v = solution.runs[strip.id].pixel_v
            shown = self._thinned(pixel_v)
            places += [np.asarray(start + (shown + 0.5) * strip.pitch_m, np.float64), BREAK]
            values += [pixel_v[shown], BREAK]
        v = np.concatenate(values)
        self.voltage.setData(np.concatenate(places), v)
        low = min(float(np.nanmin(v)), *(limit.floor_v for limit in self.limits))
        high = max(float(np.nanmax(v)), *(limit.nominal_v for limit in self.limits))
        step = metre_step(high - low, 8)
        self.volts.show_values(float(np.floor(low / step - 0.3) * step), high + 0.4 * step)

    def _amps(self, solution: PowerSolution) -> None:
        places: list[Floats] = []
        out: list[Floats] = []
        back: list[Floats] = []
        for number, span in enumerate(self._axis.spans):
            start, strip = self._axis.start_of(number), span.strip
            run = solution.runs[strip.id]
            shown = self._thinned(run.rail_pos_a)
            places += [start + np.clip(shown * strip.pitch_m, 0, strip.length_m), BREAK]
            out += [np.abs(run.rail_pos_a[shown]), BREAK]
            back += [np.abs(run.rail_neg_a[shown]), BREAK]
        across, flows = np.concatenate(places), (np.concatenate(out), np.concatenate(back))
        for curve, flow in zip(self.amps.curves, flows, strict=True):
            curve.setData(across, flow)
        highest = max(*(float(np.nanmax(flow)) for flow in flows), *(limit.copper_a for limit in self.limits))
        step = metre_step(highest, 6)
        self.amps.show_values(0.0, float(np.floor(highest / step) + 1) * step)

    def _thinned(self, values: Floats) -> NDArray[np.int64]:
        """Which values to draw: all of a short strip, else two for a screen column, the ends and the extremes."""
        stride = max(1, sum(span.strip.pixel_count for span in self._axis.spans) // MOST_POINTS)
        if stride == 1:
            return np.arange(len(values))
        kept = np.arange(0, len(values), stride)
        return np.union1d(kept, [values.argmin(), values.argmax(), len(values) - 1])

    def follow_axis(self) -> None:
        """Show the part of the Line that is in view."""
        view = [self._axis.left_m, self._axis.right_m]
        for panel in self.panels:
            if panel.plot is not None and panel.plot.getViewBox().viewRange()[0] != view:
                panel.plot.setXRange(*view, padding=0)
        self.white.update()


def round_ticks(low: float, high: float, most: int) -> list[float]:
    """Round values between two, no more than so many."""
    step = metre_step(high - low, most)
    first = int(np.ceil(low / step - 1e-9))
    return [number * step for number in range(first, int(np.floor(high / step + 1e-9)) + 1)]


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
