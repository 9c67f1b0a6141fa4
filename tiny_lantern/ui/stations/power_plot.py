"""Volts and amps against the Line: the curves, their limits, and what white looks like.

The posts and the probe lie on a layer of their own above them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.electrical.network import part_of
from tiny_lantern.light.seen import voltage_floor
from tiny_lantern.model.layout import metre_step
from tiny_lantern.model.line import Span
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of, rgb_of
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.chart import LineChart, Panel, Stroke
from tiny_lantern.ui.widgets.curves import Curve
from tiny_lantern.ui.widgets.in_view import InView

if TYPE_CHECKING:
    from tiny_lantern.electrical.network import Network, Run
    from tiny_lantern.electrical.power import PowerSolution
    from tiny_lantern.show.solved import Solved

HEAD = 34
BETWEEN = 16
BAND = 42
OUT_WIDTH = 3
LEAST_BOX = 3.0
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class StripLimit:
    """One strip on the axis with the values that its pixels and its copper must keep to."""

    left_m: float
    right_m: float
    floor_v: float
    nominal_v: float
    copper_a: float


@guarded
class PowerPlot(LineChart):
    """The two plots and the band of white below them, on the Line's axis."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        self.volts = Panel("volts at each light", "V", (Stroke("amber", 2),), low=0.0, high=6.0)
        self.amps = Panel(
            "amps in the rails", "A", (Stroke("copper", OUT_WIDTH), Stroke("teal", 1)), ("out", "back"), high=6.0
        )
        super().__init__(axis, (self.volts, self.amps))
        self._session = session
        self.limits: tuple[StripLimit, ...] = ()
        self._limits_of: tuple[object, ...] = ()
        self._order = Order((), ())
        self.white = WhiteBand(session, axis)
        self.white.setParent(self)
        in_view = InView(self, self.refresh)
        session.solved_changed.connect(in_view.refresh)
        in_view.refresh()

    @property
    def voltage(self) -> Curve:
        """The curve of volts; it exists once something was solved."""
        return self.volts.curves[0]

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        room = self.height() - HEAD - BETWEEN - BAND
        high = round(room * 0.64)
        self.volts.rect = QRectF(theme.GUTTER, HEAD, self.axis_width, high)
        self.amps.rect = QRectF(theme.GUTTER, HEAD + high + BETWEEN, self.axis_width, room - high)
        self.white.setGeometry(0, self.height() - BAND, self.width(), BAND)

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.palette_in_use = palette
        self.white.palette_in_use = palette
        self.white.update()
        self.update()

    def refresh(self) -> None:
        """Draw the session's solution and what it must keep to, which an unsolved build has too."""
        if self._session.solved is not None:
            self._follow_limits()
        self.in_haste = self._session.dragging
        self.update()
        solved = self.solved_in_hand()
        if solved is None or solved.solution is None:
            self.volts.curves = self.amps.curves = ()
            self.white.show_looks(np.zeros((0, 3), np.uint8))
            return
        self.volts.curves = (self.volts_of(solved.solution),)
        self.amps.curves = self._amps_of(solved.solution)
        self._scale()
        self.white.show_looks(solved.looks)

    def solved_in_hand(self) -> Solved | None:
        """What was solved, when it is of the build in hand."""
        solved = self._session.solved
        return solved if solved is not None and solved.build is self._session.build else None

    def volts_of(self, solution: PowerSolution) -> Curve:
        """Volts at every light of the build in hand, nan where it is dark."""
        v = solution.pair_v.copy()
        v[solution.network.dark_pairs] = np.nan
        pairs = self._order_in(solution.network).pairs
        return Curve(self.axis.slot_places, self.axis.slot_pieces, np.append(v, np.nan)[pairs])

    def _amps_of(self, solution: PowerSolution) -> tuple[Curve, Curve]:
        gaps = self._order_in(solution.network).gaps
        out, back = (
            Curve(self.axis.edge_places, self.axis.edge_pieces, np.append(np.abs(rail), np.nan)[gaps])
            for rail in solution.rail_a
        )
        return out, back

    def _order_in(self, network: Network) -> Order:
        if self._order.runs is not network.runs or self._order.spans is not self.axis.spans:
            self._order = Order(network.runs, self.axis.spans)
        return self._order

    def _follow_limits(self) -> None:
        build = self._session.build
        self.axis.follow(build)
        read = (build.strips, build.parts, build.limits)
        if read != self._limits_of:
            self._limits_of = read
            self.limits = self._limits()

    def _limits(self) -> tuple[StripLimit, ...]:
        """What does not move with a feed: each strip's least and nominal voltage and its own copper's limit."""
        build, limits = self._session.build, self._session.build.limits
        return tuple(
            StripLimit(start, start + span.run.length_m, voltage_floor(part, limits), part.nominal_v, part.rail_limit_a)
            for start, span, part in (
                (self.axis.place_on(span.piece.id, 0.0), span, part_of(build, span.run)) for span in build.line.runs
            )
        )

    def _scale(self) -> None:
        """Fit the values in view to all lights and all limits, whatever part of the Line is shown."""
        if not self.limits:
            return
        v = self.voltage.value[~np.isnan(self.voltage.value)]
        low = min(float(v.min(initial=np.inf)), *(limit.floor_v for limit in self.limits))
        high = max(float(v.max(initial=0.0)), *(limit.nominal_v for limit in self.limits))
        step = metre_step(high - low, 8)
        self.volts.show_values(float(np.floor(low / step - 0.3) * step), high + 0.4 * step)
        flows = (float(np.nanmax(curve.value, initial=0.0)) for curve in self.amps.curves)
        highest = max(*flows, *(limit.copper_a for limit in self.limits))
        step = metre_step(highest, 6)
        self.amps.show_values(0.0, float(np.floor(highest / step) + 1) * step)


class Order:
    """Where the lights and the copper between them, in the order of the Line, are among a network's pairs of nodes.

    Args:
        runs: the network's runs, in the order of its nodes.
        spans: the pieces along the Line; what has no rails counts as number -1.
    """

    def __init__(self, runs: tuple[Run, ...], spans: tuple[Span, ...]) -> None:
        self.runs, self.spans = runs, spans
        by_id = {run.strip.id: run for run in runs}
        none = np.zeros(0, np.int64)
        pairs, gaps = [none], [none]
        for span in spans:
            run, count = by_id.get(span.piece.id), span.stop - span.first
            pairs.append(np.full(count, -1) if run is None else np.arange(run.pixel_pairs.start, run.pixel_pairs.stop))
            gaps.append(np.full(count + 1, -1) if run is None else run.first_node // 2 + np.arange(count + 1))
        self.pairs: Ints = np.concatenate(pairs)
        self.gaps: Ints = np.concatenate(gaps)


@guarded
class WhiteBand(QWidget):
    """Each light in the real tint and dimness it has in this load."""

    def __init__(self, session: Session, axis: LineAxis) -> None:
        super().__init__()
        self._session, self._axis = session, axis
        self.palette_in_use = theme.PAPER
        self._looks = np.zeros((0, 3), np.uint8)
        self.setFixedHeight(40)
        self.setAccessibleName("What the load looks like at each light")
        axis.changed.connect(self.update)

    def show_looks(self, looks: NDArray[np.uint8]) -> None:
        """Show sRGB bytes of every light, (n_slots, 3)."""
        self._looks = looks
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setFont(theme.font(9))
        painter.setPen(QColor(self.palette_in_use.faint))
        word = "white" if self._session.load.case in ("full_white", "level") else "the load"
        painter.drawText(theme.GUTTER, 11, f"what {word} looks like")
        width = self.width() - theme.GUTTER
        if not self._axis.spans or len(self._looks) != self._axis.spans[-1].stop:
            return
        ratio = self.devicePixelRatioF()
        columns = self._axis.columns(max(1, round(width * ratio)))
        rgb = columns.blend(self._looks)
        rgb[~self._on_run(columns.first)] = rgb_of(self.palette_in_use.paper)
        painter.drawImage(QRectF(theme.GUTTER, 16, width, 20), image_of(rgb[None]))
        painter.setClipRect(QRectF(theme.GUTTER, 0, width, self.height()))
        painter.setPen(QColor(self.palette_in_use.rule))
        boxes = [
            QRectF(theme.GUTTER + left, 16, right - left, 20)
            for span, left, right in self._axis.boxes_in_view(width)
            if isinstance(span.piece, PixelRun)
        ]
        if boxes and min(box.width() for box in boxes) >= LEAST_BOX:
            painter.drawRects(boxes)

    def _on_run(self, slots: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which slots, -1 for none, are pixels of a strip or a panel."""
        has_rails = np.array([isinstance(span.piece, PixelRun) for span in self._axis.spans])
        return np.asarray((slots >= 0) & has_rails[self._axis.slot_pieces[slots]])
