"""Plans of feeds side by side: the curve of each, its band down to the corner, wire and margin, and why one is
first."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QDialog, QFrame, QHBoxLayout, QVBoxLayout, QWidget

from tiny_lantern.electrical.corner import corner_words
from tiny_lantern.model.build import Build, OnStrip
from tiny_lantern.model.quantities import metres, volts
from tiny_lantern.model.wording import feeds_in_words, listed
from tiny_lantern.plans.feeds import FeedPlan
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.widgets.fields import PlainLabel, button, faint, heading

CARD = 262
CURVE = 150
PLACES_NAMED = 5


@guarded
class PlanCurve(QWidget):
    """Volts along a line under one plan: as it is, the band to the design corner, the limit, and where feeds stand."""

    def __init__(self, plan: FeedPlan, low: float, high: float, floor_v: float, palette: theme.Palette) -> None:
        super().__init__()
        self._plan, self._low, self._high, self._floor, self._palette = plan, low, high, floor_v, palette
        self.setFixedHeight(CURVE)
        self.setAccessibleName(f"Volts along the line with {feeds_in_words(plan.count)}")

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        p = self._palette
        box = QRectF(38, 16, self.width() - 44, self.height() - 22)
        painter.fillRect(box, QColor(p.field))
        painter.setFont(theme.font(8.5))
        for value in (self._high, self._floor):
            y = self._y(value, box)
            painter.setPen(QColor(p.danger if value == self._floor else p.faint))
            painter.drawText(QRectF(0, y - 8, 34, 16), Qt.AlignmentFlag.AlignRight, f"{value:.2f}")
        upper, lower = self._line(self._plan.lows_v, box), self._line(self._plan.corner_lows_v, box)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(p.amber, 56))
        painter.drawPolygon(QPolygonF([*upper, *reversed(lower)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(p.amber), 1.6))
        painter.drawPolyline(QPolygonF(upper))
        painter.setPen(QPen(QColor(p.danger), 1.2, Qt.PenStyle.DashLine))
        y = self._y(self._floor, box)
        painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y))
        painter.setPen(QPen(QColor(p.amber_text), 1.4))
        painter.setBrush(QColor(p.amber))
        for share in self._feed_shares():
            x = box.left() + share * box.width()
            painter.drawLine(QPointF(x, 8), QPointF(x, box.bottom()))
            painter.drawEllipse(QPointF(x, 7), 4, 4)

    def _y(self, value: float, box: QRectF) -> float:
        return box.bottom() - (value - self._low) / (self._high - self._low) * box.height()

    def _line(self, v: np.ndarray, box: QRectF) -> list[QPointF]:
        stride = max(1, len(v) // max(1, round(box.width())))
        places = np.arange(0, len(v), stride)
        x = box.left() + (places + 0.5) / len(v) * box.width()
        shown = np.minimum.reduceat(v, places)
        return [QPointF(a, self._y(b, box)) for a, b in zip(x.tolist(), shown.tolist(), strict=True)]

    def _feed_shares(self) -> list[float]:
        line = self._plan.line
        length = sum(strip.length_m for strip in line.strips)
        return [
            (line.start_m(feed.attach.strip_id) + feed.attach.position_m) / length
            for feed in self._plan.feeds
            if isinstance(feed.attach, OnStrip)
        ]


class PlanCards(QDialog):
    """Offers plans; the one chosen is handed on, and closing changes nothing."""

    def __init__(
        self, plans: tuple[FeedPlan, ...], build: Build, floor_v: float, palette: theme.Palette,
        chosen: Callable[[FeedPlan], object], parent: QWidget,
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setObjectName("surface")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        name = plans[0].line.strips[0].name
        self.setWindowTitle(f"Feeds for {name}")
        self.plans, self._chosen = plans, chosen
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(8)
        column.addWidget(heading(f"{len(plans)} ways to feed {name}" if len(plans) > 1 else f"One way to feed {name}"))
        column.addWidget(
            faint(
                "The line is the voltage as it is; the band goes down to the worst case that is judged: "
                f"{corner_words(build.corner)}. Dashed: what every pixel must keep."
            )
        )
        low = min(floor_v, *(float(plan.corner_lows_v.min()) for plan in plans))
        high = max(float(plan.lows_v.max()) for plan in plans)
        row = QHBoxLayout()
        row.setSpacing(12)
        for number, plan in enumerate(plans):
            curve = PlanCurve(plan, low - 0.06 * (high - low), high + 0.04 * (high - low), floor_v, palette)
            row.addWidget(self._card(plan, curve, number == 0))
        column.addLayout(row)
        column.addWidget(
            button("Change nothing", self.reject, "link", "Close; Esc does it too"), 0, Qt.AlignmentFlag.AlignRight
        )

    def take(self, plan: FeedPlan) -> None:
        """Hand a plan on and close."""
        self._chosen(plan)
        self.accept()

    def _card(self, plan: FeedPlan, curve: PlanCurve, first: bool) -> QFrame:
        frame = QFrame()
        frame.setObjectName("panel")
        frame.setFixedWidth(CARD)
        column = QVBoxLayout(frame)
        column.setContentsMargins(12, 10, 12, 12)
        column.setSpacing(5)
        column.addWidget(heading(plan.kind[0].upper() + plan.kind[1:]))
        column.addWidget(curve)
        for text in _figures(plan):
            label = PlainLabel(text)
            label.setWordWrap(True)
            column.addWidget(label)
        why = faint(("First because: " if first else "Against the first: ") + plan.why)
        column.addWidget(why)
        column.addStretch(1)
        act = button(f"Use {'this' if first else 'that'} one", partial(self.take, plan), "primary" if first else "")
        act.setAccessibleName(f"Use {plan.kind}")
        act.setDefault(first)
        column.addWidget(act)
        return frame


def _figures(plan: FeedPlan) -> list[str]:
    """What a plan costs and leaves, a line each."""
    places = [metres(feed.attach.position_m) for feed in plan.feeds if isinstance(feed.attach, OnStrip)]
    found = [
        f"{feeds_in_words(plan.count)} at {listed(places, PLACES_NAMED)}",
        f"{plan.wire_m:.1f} m of wire, fuses {plan.fuse.rating_a:g} A",
        f"worst pixel {volts(plan.worst_v)}, {volts(plan.margin_v)} to spare",
    ]
    if plan.guarded:
        found.append("No short is left standing in hot copper.")
    if plan.supply_lacks_a:
        found.append(f"▲ The supply lacks {plan.supply_lacks_a:.1f} A for this: a larger one first.")
    return found
