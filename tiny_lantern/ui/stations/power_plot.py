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
from tiny_lantern.model.build import Build
from tiny_lantern.model.layout import metre_step
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of
from tiny_lantern.ui.session import Session, Solved
from tiny_lantern.ui.widgets.in_view import InView

if TYPE_CHECKING:
    from pyqtgraph import GraphicsView, PlotCurveItem, ViewBox

    from tiny_lantern.electrical.power import PowerSolution

HEAD = 34
BETWEEN = 16
BAND = 42
LEAST_STEP = 3.0
OUT_WIDTH = 3
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
    """One plot: its title and unit, where it lies, the values in view, and its box and curves once they are made."""

    title: str
    unit: str
    names: tuple[str, ...] = ()
    rect: QRectF = field(default_factory=QRectF)
    low: float = 0.0
    high: float = 1.0
    box: ViewBox | None = None
    curves: list[PlotCurveItem] = field(default_factory=list)

    def y_of(self, value: float) -> float:
        """A value as a height in the whole widget. [screen pixels]"""
        return self.rect.bottom() - (value - self.low) / (self.high - self.low) * self.rect.height()

    def show_values(self, low: float, high: float) -> None:
        """Set the vertical range."""
        if (low, high) != (self.low, self.high):
            self.low, self.high = low, high
            if self.box is not None:
                self.box.setYRange(low, high, padding=0)


class PowerPlot(QWidget):
    """The two plots and the band of white below them, on the Line's axis."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.palette_in_use = theme.PAPER
        self.volts = Panel("volts at each light", "V", low=0.0, high=6.0)
        self.amps = Panel("amps in the rails", "A", ("out", "back"), low=0.0, high=6.0)
        self.view: GraphicsView | None = None
        self.limits: tuple[StripLimit, ...] = ()
        self._limits_of: tuple = ()
        self.white = WhiteBand(session, axis)
        self.white.setParent(self)
        axis.changed.connect(self.follow_axis)
        in_view = InView(self, self.refresh)
        session.solved_changed.connect(in_view.refresh)
        in_view.refresh()

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
        self.follow_axis()

    def _place_plots(self) -> None:
        if self.view is not None:
            self.view.setGeometry(0, 0, self.width(), self.height() - BAND)
        for panel in self.panels:
            if panel.box is not None:
                panel.box.setGeometry(panel.rect)

    def _make_plots(self) -> None:
        """Make the plots and their curves; pyqtgraph is loaded by the warm-up, after the first paint.

        Both plots lie in one view, whose scene then asks for one repaint a change: two scenes make the window
        paint every step of a drag twice.
        """
        import pyqtgraph as pg

        from tiny_lantern.ui.stations.curve import Curve

        self.view = pg.GraphicsView(self)
        self.view.viewport().setAutoFillBackground(False)
        self.view.viewport().setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        for panel, count in ((self.volts, 1), (self.amps, 2)):
            panel.box = pg.ViewBox(enableMouse=False, enableMenu=False, defaultPadding=0.0)
            panel.box.disableAutoRange()
            self.view.addItem(panel.box)
            for _ in range(count):
                curve = Curve(connect="finite", antialias=panel is self.volts)
                curve.setSegmentedLineMode("on")
                panel.box.addItem(curve)
                panel.curves.append(curve)
            panel.box.setYRange(panel.low, panel.high, padding=0)
        self.view.lower()
        self.view.show()
        self._place_plots()
        self.dress(self.palette_in_use)

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self.white.palette_in_use = palette
        self.white.update()
        if self.view is None:
            return
        from pyqtgraph import mkPen

        self.view.setBackground(palette.paper)
        for panel in self.panels:
            assert panel.box is not None
            panel.box.setBackgroundColor(palette.panel)
        pens = ((palette.amber, 2), (palette.copper, OUT_WIDTH), (palette.teal, 1))
        for curve, (colour, width) in zip((*self.volts.curves, *self.amps.curves), pens, strict=True):
            curve.setPen(mkPen(colour, width=width))

    @property
    def axis_width(self) -> float:
        """Width of the Line's axis inside this widget. [screen pixels]"""
        return max(1.0, self.width() - theme.GUTTER)

    def refresh(self) -> None:
        """Draw the session's solution and what it must keep to, which an unsolved build has too."""
        if self._session.solved is not None:
            self._follow_limits()
        solved = self._solved()
        if solved is None or solved.solution is None:
            for curve in (*self.volts.curves, *self.amps.curves):
                curve.setData([], [])
            self.white.show_looks([])
            return
        if self.view is None:
            self._make_plots()
        self._scale(solved.solution)
        self.follow_axis()
        self.white.show_looks(looks_of(solved.build, solved.solution, solved.duties))

    def _solved(self) -> Solved | None:
        """What was solved, when it is of the build in hand."""
        solved = self._session.solved
        return solved if solved is not None and solved.build is self._session.build else None

    def _follow_limits(self) -> None:
        build = self._session.build
        self._axis.follow(build)
        read = (build.strips, build.parts, build.limits)
        if read != self._limits_of:
            self._limits_of = read
            self.limits = self._limits()

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

    def _scale(self, solution: PowerSolution) -> None:
        """Fit the values in view to all lights and all limits, whatever part of the Line is shown."""
        runs = solution.runs.values()
        lit = [run.pixel_v[run.pixel_v > 0] for run in runs]
        low = min(*(float(v.min(initial=np.inf)) for v in lit), *(limit.floor_v for limit in self.limits))
        high = max(*(float(run.pixel_v.max()) for run in runs), *(limit.nominal_v for limit in self.limits))
        step = metre_step(high - low, 8)
        self.volts.show_values(float(np.floor(low / step - 0.3) * step), high + 0.4 * step)
        flows = (float(np.abs(flow).max()) for run in runs for flow in (run.rail_pos_a, run.rail_neg_a))
        highest = max(*flows, *(limit.copper_a for limit in self.limits))
        step = metre_step(highest, 6)
        self.amps.show_values(0.0, float(np.floor(highest / step) + 1) * step)

    def _draw_curves(self, solution: PowerSolution) -> None:
        """Hand the part of each curve that is in view to its plot; volts are smoothed once nothing is dragged."""
        columns: list[list[Floats]] = [[], [], [], [], []]
        dark = np.zeros(solution.network.run_node_count // 2, bool)
        dark[solution.network.dark_pairs] = True
        pairs = {run.strip.id: run.pixel_pairs for run in solution.network.runs}
        for number, span in enumerate(self._axis.spans):
            run, start, pitch = solution.runs[span.strip.id], self._axis.start_of(number), span.strip.pitch_m
            pixels = pairs[span.strip.id]
            lights = self.shown(run.pixel_v, start, pitch)
            gaps = self.shown(run.rail_pos_a, start, pitch)
            between = np.clip(gaps * pitch, 0, span.strip.length_m)
            found = (
                start + (lights + 0.5) * pitch, np.where(dark[pixels][lights], np.nan, run.pixel_v[lights]),
                start + between, np.abs(run.rail_pos_a[gaps]), np.abs(run.rail_neg_a[gaps]),
            )  # fmt: skip
            for column, part in zip(columns, found, strict=True):
                column += [np.asarray(part, np.float64), BREAK]
        place, v, across, out, back = (np.concatenate(column) for column in columns)
        self.volts.curves[0].setData(place, v, antialias=not self._session.dragging)
        self.amps.curves[0].setData(across, out)
        self.amps.curves[1].setData(across, back)

    def shown(self, values: Floats, start_m: float, pitch_m: float) -> NDArray[np.int64]:
        """Which values of a strip that begins at a place on the Line are worth drawing."""
        axis = self._axis
        first, stop = (round((edge - start_m) / pitch_m) for edge in (axis.left_m, axis.right_m))
        step = pitch_m * self.axis_width / (axis.right_m - axis.left_m)
        return thinned(values, first - 1, stop + 2, int(np.ceil(LEAST_STEP / step)))

    def follow_axis(self) -> None:
        """Show the part of the Line that is in view."""
        view = [self._axis.left_m, self._axis.right_m]
        for panel in self.panels:
            if panel.box is not None and panel.box.viewRange()[0] != view:
                panel.box.setXRange(*view, padding=0)
        solved = self._solved()
        if self.view is not None and solved is not None and solved.solution is not None and self._axis.spans:
            self._draw_curves(solved.solution)
        self.white.update()


def looks_of(build: Build, solution: PowerSolution, duties: tuple[Floats, ...]) -> list[NDArray[np.uint8]]:
    """sRGB bytes of what each strip looks like, (n_pixels, 3) each; strips of one part are worked out together."""
    alike: dict[str, list[int]] = {}
    for number, strip in enumerate(build.strips):
        alike.setdefault(strip.part_id, []).append(number)
    found: list[NDArray[np.uint8]] = [np.zeros((0, 3), np.uint8)] * len(build.strips)
    for numbers in alike.values():
        strips = [build.strips[number] for number in numbers]
        v = np.concatenate([solution.runs[strip.id].pixel_v for strip in strips])
        duty = np.concatenate([duties[number] for number in numbers])
        look = screen_bytes(screen_look(part_of(build, strips[0]), v, duty))
        edges = np.cumsum([strip.pixel_count for strip in strips])[:-1]
        for number, own in zip(numbers, np.split(look, edges), strict=True):
            found[number] = own
    return found


def thinned(values: Floats, first: int, stop: int, stride: int) -> NDArray[np.int64]:
    """Indices of values to draw: every so many from one index to before another, the ends and the extremes always."""
    first, stop = max(0, first), min(len(values), stop)
    if stop <= first or stride <= 1:
        return np.arange(first, max(first, stop))
    inside = values[first:stop]
    if stride >= len(inside) - 1:
        return first + np.array(sorted({0, int(inside.argmin()), int(inside.argmax()), len(inside) - 1}))
    kept = np.zeros(len(inside), bool)
    kept[::stride] = True
    kept[[int(inside.argmin()), int(inside.argmax()), -1]] = True
    return first + np.flatnonzero(kept)


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
        if len(self._looks) != len(self._axis.spans):
            return
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
