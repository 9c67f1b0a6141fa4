"""What stands still above the power curves: scales, titles, limits, cuts, the band to the corner, and what is dark."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPixmap
from PySide6.QtWidgets import QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.power_plot import PowerPlot, StripLimit
from tiny_lantern.ui.widgets.chart import Panel, round_ticks
from tiny_lantern.ui.widgets.curves import JOIN_PX, between, drawn
from tiny_lantern.ui.widgets.layer import Layer

if TYPE_CHECKING:
    from tiny_lantern.electrical.network import Network
    from tiny_lantern.findings.evidence import Evidence


FEW_DARK, DARK_ROOM = 8, 100


class PowerGround:
    """Draws it; all but the words about what is dark is kept until something it shows changes."""

    def __init__(self, session: Session, axis: LineAxis, plot: PowerPlot) -> None:
        self._session, self._axis, self._plot = session, axis, plot
        self._still = Layer()

    def draw(self, painter: QPainter, on: QWidget) -> None:
        """Draw on a widget as large as the plot."""
        painter.drawPixmap(0, 0, self._still_picture(on))
        self._refusal(painter)
        self._dark(painter)

    def _still_picture(self, on: QWidget) -> QPixmap:
        """Scales, titles and limits."""
        plot = self._plot
        ranges = tuple((panel.low, panel.high) for panel in plot.panels)
        view = (self._axis.left_m, self._axis.right_m)
        cuts = tuple(span.run.cuts for span in self._axis.runs)
        shows = (ranges, view, cuts, plot.limits, plot.palette_in_use, id(self._judged()))
        return self._still.picture(on, on.size().toSizeF(), shows, self.labels)

    def labels(self, painter: QPainter) -> None:
        """All that stands still: the band, scales, titles, limits and cuts."""
        p = self._plot.palette_in_use
        self._corner_band(painter)
        painter.setFont(theme.font(9))
        for panel in self._plot.panels:
            self._scale(painter, panel)
            painter.setPen(QColor(p.ink))
            box = QRectF(panel.rect.left(), panel.rect.top() + 4, panel.rect.width() - 8, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, panel.title)
            metrics = painter.fontMetrics()
            right = box.right() - metrics.horizontalAdvance(panel.title) - 18
            for text, stroke in reversed(tuple(zip(panel.names, panel.strokes, strict=False))):
                right -= metrics.horizontalAdvance(text)
                painter.setPen(QPen(QColor(getattr(p, stroke.ink)), stroke.width))
                painter.drawText(QPointF(right, box.top() + 12), text)
                painter.drawLine(QPointF(right - 20, box.top() + 8), QPointF(right - 6, box.top() + 8))
                right -= 34
            painter.setPen(QColor(p.rule))
            painter.drawRect(panel.rect)
        self._limit_lines(painter)
        self._cuts(painter)

    def _judged(self) -> Evidence | None:
        """The evidence, when it is of the build in hand and its load."""
        evidence = self._session.evidence
        right = evidence is not None and evidence.build is self._session.build and evidence.load == self._session.load
        return evidence if right else None

    def _corner_band(self, painter: QPainter) -> None:
        """From each light's voltage down to what is left of it at the design corner."""
        evidence, plot = self._judged(), self._plot
        if evidence is None or evidence.solved is None or evidence.corner is None or evidence.corner is evidence.solved:
            return
        painter.save()
        painter.setClipRect(plot.volts.rect)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(plot.palette_in_use.amber, 48))
        above, below = (
            plot.volts_of(solution).in_view(self._axis.left_m, self._axis.right_m)
            for solution in (evidence.solved, evidence.corner)
        )
        upper = drawn(above, plot.to_x, plot.volts.heights)
        crowded = len(upper.at) > plot.axis_width
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, not crowded)
        for area in between(upper, plot.volts.heights(below.value[upper.at])):
            painter.drawPolygon(area)
        painter.restore()

    def _cuts(self, painter: QPainter) -> None:
        """Where the positive rail is open."""
        p, amps_box = self._plot.palette_in_use, self._plot.amps.rect
        for span in self._axis.runs:
            for cut in span.run.cuts:
                place = self._axis.place_on(span.piece.id, cut * span.run.pitch_m)
                x = theme.GUTTER + float(self._axis.to_screen(place, self._plot.axis_width))
                if not theme.GUTTER <= x <= (theme.GUTTER + self._plot.axis_width):
                    continue
                painter.setPen(QPen(QColor(p.teal), 1.2, Qt.PenStyle.DashDotLine))
                painter.drawLine(QPointF(x, self._plot.volts.rect.top()), QPointF(x, amps_box.bottom()))
                painter.setPen(QColor(p.teal))
                painter.drawText(QPointF(x + 4, amps_box.bottom() - 5), "cut")

    def _limit_lines(self, painter: QPainter) -> None:
        """What each strip must keep to, dashed, and in words at the right."""
        plot = self._plot
        for panel, field, text in (
            (plot.volts, "floor_v", "must stay above {:.2f} V"),
            (plot.amps, "copper_a", "this strip's own copper {:g} A"),
        ):
            painter.save()
            painter.setClipRect(panel.rect)
            if plot.limits:
                painter.setPen(QPen(QColor(plot.palette_in_use.danger), 1.2, Qt.PenStyle.DashLine))
                painter.drawLines(self._levels(panel, field, plot.limits))
                value = getattr(plot.limits[-1], field)
                box = QRectF(panel.rect.left(), panel.y_of(value) + 2, panel.rect.width() - 8, 15)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight, text.format(value))
            painter.restore()

    def _levels(self, panel: Panel, field: str, limits: tuple[StripLimit, ...]) -> list[QLineF]:
        """One line for neighbours at one level that the screen cannot tell apart."""
        x = self._plot.to_x(np.array([(limit.left_m, limit.right_m) for limit in limits]))
        values = np.array([getattr(limit, field) for limit in limits])
        apart = (np.diff(values) != 0) | (x[1:, 0] - x[:-1, 1] > JOIN_PX)
        first = np.flatnonzero(np.concatenate([[True], apart]))
        last = np.append(first[1:], len(limits)) - 1
        heights = panel.heights(values[first])
        rows = np.stack([x[first, 0], heights, x[last, 1], heights], axis=1)
        return [QLineF(*row) for row in rows.tolist()]

    def _scale(self, painter: QPainter, panel: Panel) -> None:
        """Round values at the left with a faint line across."""
        p = self._plot.palette_in_use
        for value in round_ticks(panel.low, panel.high, max(2, int(panel.rect.height() / 28))):
            y = panel.y_of(value)
            painter.setPen(theme.with_alpha(p.faint, 46))
            painter.drawLine(QPointF(panel.rect.left(), y), QPointF(panel.rect.right(), y))
            painter.setPen(QColor(p.faint))
            box = QRectF(0, y - 8, theme.GUTTER - 6, 16)
            flags = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(box, flags, f"{value:g} {panel.unit}")

    def _refusal(self, painter: QPainter) -> None:
        """Why there are no curves."""
        solved = self._session.solved
        if solved is None or solved.refusal is None or not self._session.build.strips:
            return
        painter.setFont(theme.font(11))
        painter.setPen(QColor(self._plot.palette_in_use.danger))
        rect = self._plot.volts.rect
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        painter.drawText(rect, flags, f"Cannot be solved: {solved.refusal.what}.\nAdd {solved.refusal.accepted}.")

    def _dark(self, painter: QPainter) -> None:
        """Which strips or zones are dark, where their curves would be."""
        solved = self._session.solved
        if solved is None or solved.solution is None or solved.build is not self._session.build:
            return
        network = solved.solution.network
        if not len(network.dark_pairs):
            return
        painter.setFont(theme.font(9.5))
        painter.setPen(QColor(self._plot.palette_in_use.danger))
        top = self._plot.volts.rect.top() + 24
        boxes = list(self._dark_boxes(network, top))
        flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
        if len(boxes) > FEW_DARK or any(box.width() < DARK_ROOM for _, box in boxes):
            whole = QRectF(self._plot.volts.rect.left(), top, self._plot.volts.rect.width(), 24)
            names = f"{len(boxes)} strips or zones" if len(boxes) > 1 else boxes[0][0]
            painter.drawText(whole, flags, f"{names}: no feed, dark")
            return
        for name, box in boxes:
            painter.drawText(box, flags, f"{name}: no feed, dark")

    def _dark_boxes(self, network: Network, top: float) -> Iterator[tuple[str, QRectF]]:
        """Of each strip with dark pixels its name and the room where their curve would be."""
        runs = {run.strip.id: run.pixel_pairs for run in network.runs}
        is_dark = np.zeros(network.run_node_count // 2, bool)
        is_dark[network.dark_pairs] = True
        volts_box = self._plot.volts.rect
        for span in self._axis.runs:
            dark = np.flatnonzero(is_dark[runs[span.piece.id]])
            if len(dark):
                ends = self._axis.place_on(span.piece.id, 0.0) + np.array([dark[0], dark[-1] + 1]) * span.run.pitch_m
                left, right = (theme.GUTTER + float(x) for x in self._to_screen(ends))
                yield span.piece.name, QRectF(left, top, right - left, 40).intersected(volts_box)

    def _to_screen(self, places_m: np.ndarray) -> np.ndarray:
        return np.asarray(self._axis.to_screen(np.asarray(places_m, np.float64), self._plot.axis_width))
