"""The layer above the power curves: feeds as posts that are dragged along the Line, and the probe under the pointer."""

from __future__ import annotations

from functools import partial

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QWheelEvent
from PySide6.QtWidgets import QLabel, QWidget

from tiny_lantern.electrical.network import node_position_m, part_of, snap_node
from tiny_lantern.light.seen import seen
from tiny_lantern.model.build import Feed, OnStrip
from tiny_lantern.model.edits_power import move_feed, remove_feed
from tiny_lantern.model.line import feed_letters, find_strip
from tiny_lantern.model.quantities import amps, metres, volts
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.power_plot import PowerPlot
from tiny_lantern.ui.widgets.ruler import step_selection, turn_axis

REACH = 11.0
HEAD_Y = 15.0


class Posts(QWidget):
    """Draws posts and the probe, and takes the mouse and the keyboard for both."""

    show_working = Signal()

    def __init__(self, session: Session, axis: LineAxis, plot: PowerPlot) -> None:
        super().__init__(plot)
        self._session, self._axis, self._plot = session, axis, plot
        self._dragged: str | None = None
        self._pointer: QPointF | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Feeds and probe: drag a post, or select a feed and press the arrow keys")
        self.card = QLabel(self)
        self.card.setObjectName("probeCard")
        self.card.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.card.hide()
        plot.installEventFilter(self)
        for signal in (session.selection_changed, session.solved_changed, session.build_changed, axis.changed):
            signal.connect(self._redraw)

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        if watched is self._plot and event.type() == QEvent.Type.Resize:
            self.setGeometry(self._plot.rect())
        return False

    def feed_x(self, feed: Feed) -> float | None:
        """Where a feed's post stands in this widget; None for a feed on a bus. [screen pixels]"""
        if not isinstance(feed.attach, OnStrip):
            return None
        place = self._axis.place_on(feed.attach.strip_id, feed.attach.position_m)
        return theme.GUTTER + float(self._axis.to_screen(place, self._plot.axis_width))

    def slot_x(self, slot: int) -> float:
        """Where a slot stands in this widget. [screen pixels]"""
        return theme.GUTTER + float(self._axis.to_screen(self._axis.slot_place(slot), self._plot.axis_width))

    def _redraw(self) -> None:
        self.update()
        self._show_card()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._labels(painter)
        if self._session.build.strips:
            self._probe(painter)
            letters = feed_letters(self._session.build)
            for feed in self._session.build.feeds:
                self._post(painter, feed, letters[feed.id])

    def _labels(self, painter: QPainter) -> None:
        p = self._plot.palette_in_use
        painter.setFont(theme.font(9))
        for plot, text in (
            (self._plot.volts, "volts at each light"),
            (self._plot.amps, "amps in the rails: out —, back ···"),
        ):
            rect = self._plot.plot_rect(plot)
            painter.setPen(QColor(p.ink))
            box = QRectF(rect.left(), rect.top() + 4, rect.width() - 8, 16)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, text)
            painter.setPen(QColor(p.rule))
            painter.drawRect(rect)
        self._limit_names(painter)
        solved = self._session.solved
        if solved is not None and solved.refusal is not None and self._session.build.strips:
            painter.setFont(theme.font(11))
            painter.setPen(QColor(p.danger))
            rect = self._plot.plot_rect(self._plot.volts)
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(rect, flags, f"Cannot be solved: {solved.refusal.what}.\nAdd {solved.refusal.accepted}.")

    def _limit_names(self, painter: QPainter) -> None:
        floor, copper = self._plot.floor.yData, self._plot.copper.yData
        painter.setPen(QColor(self._plot.palette_in_use.danger))
        for plot, values, text, unit in (
            (self._plot.volts, floor, "must stay above", "V"),
            (self._plot.amps, copper, "this strip's own copper", "A"),
        ):  # fmt: skip
            if values is None or not len(values):
                continue
            first = float(values[0])
            number = f"{first:.2f}" if unit == "V" else f"{first:g}"
            rect = self._plot.plot_rect(plot)
            box = QRectF(rect.left(), self._plot.y_of(plot, first) + 2, rect.width() - 8, 15)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, f"{text} {number} {unit}")

    def _probe(self, painter: QPainter) -> None:
        slot = self._session.selection.slot
        if slot is None:
            return
        x = self.slot_x(slot)
        p = self._plot.palette_in_use
        top, bottom = self._plot.plot_rect(self._plot.volts).top(), self._plot.plot_rect(self._plot.amps).bottom()
        painter.setPen(QPen(QColor(p.ink), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        v = self._voltage(slot)
        if v is not None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.ink))
            painter.drawEllipse(QPointF(x, self._plot.y_of(self._plot.volts, v)), 4, 4)

    def _post(self, painter: QPainter, feed: Feed, letter: str) -> None:
        x = self.feed_x(feed)
        if x is None or not theme.GUTTER - 2 <= x <= self.width() + 2:
            return
        p = self._plot.palette_in_use
        chosen = feed.id == self._session.selection.feed_id
        painter.setPen(QPen(QColor(p.amber), 3 if chosen else 2))
        painter.drawLine(QPointF(x, HEAD_Y), QPointF(x, self._plot.plot_rect(self._plot.amps).bottom()))
        painter.setBrush(QColor(p.amber_text if chosen else p.amber))
        centre = QPointF(min(max(x, REACH), self.width() - REACH), HEAD_Y)
        painter.setPen(QPen(QColor(p.ink), 2) if chosen and self.hasFocus() else Qt.PenStyle.NoPen)
        painter.drawEllipse(centre, REACH, REACH)
        painter.setPen(QColor("#ffffff"))
        painter.setFont(theme.font(10))
        painter.drawText(QRectF(centre.x() - 12, HEAD_Y - 10, 24, 20), Qt.AlignmentFlag.AlignCenter, letter)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        feed = self._feed_near(event.position().x())
        if feed is not None:
            self._session.select(feed_id=feed.id)
            self._dragged = feed.id
            return
        self._select_at(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._pointer = event.position()
        if self._dragged:
            self.drag_to(event.position().x())
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._select_at(event.position().x())
        near = self._feed_near(event.position().x())
        self.setCursor(Qt.CursorShape.SizeHorCursor if near or self._dragged else Qt.CursorShape.CrossCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._dragged:
            self._drop(self._dragged)
            self._dragged = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.show_working.emit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        turn_axis(self._axis, event, event.position().x() - theme.GUTTER, self._plot.axis_width)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        feed_id = self._session.selection.feed_id
        if event.key() == Qt.Key.Key_Escape and self._dragged:
            self._dragged = None
            self._session.drop_preview()
        elif event.key() == Qt.Key.Key_Escape:
            self._session.select(feed_id=None)
        elif feed_id and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._nudge(feed_id, event)
        elif feed_id and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            letter = feed_letters(self._session.build)[feed_id]
            self._session.apply(f"Removed feed {letter}", partial(remove_feed, feed_id=feed_id))
        elif event.text().upper() in feed_letters(self._session.build).values() and event.text():
            letters = {letter: feed for feed, letter in feed_letters(self._session.build).items()}
            self._session.select(feed_id=letters[event.text().upper()])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.show_working.emit()
        elif not step_selection(self._session, self._axis, event):
            super().keyPressEvent(event)

    def drag_to(self, x: float) -> None:
        """Show the dragged feed at a place while the curves follow; other strips' copper is in reach too."""
        found = self._axis.strip_at(self._axis.to_place(x - theme.GUTTER, self._plot.axis_width))
        if self._dragged is None or found is None:
            return
        span, along = found
        self._session.preview(partial(move_feed, feed_id=self._dragged, position_m=along, strip_id=span.strip.id))

    def _drop(self, feed_id: str) -> None:
        if self._session.dragging:
            self._session.commit(self._moved_label(feed_id))

    def _moved_label(self, feed_id: str) -> str:
        feed = next(feed for feed in self._session.build.feeds if feed.id == feed_id)
        assert isinstance(feed.attach, OnStrip)
        return f"Moved feed {feed_letters(self._session.build)[feed_id]} to {metres(feed.attach.position_m)}"

    def _nudge(self, feed_id: str, event: QKeyEvent) -> None:
        feed = next(feed for feed in self._session.build.feeds if feed.id == feed_id)
        if not isinstance(feed.attach, OnStrip):
            return
        strip = find_strip(self._session.build, feed.attach.strip_id)
        stride = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        step = stride if event.key() == Qt.Key.Key_Right else -stride
        node = max(0, min(strip.pixel_count + 1, snap_node(strip, feed.attach.position_m) + step))
        place = node_position_m(strip, node)
        letter = feed_letters(self._session.build)[feed_id]
        self._session.apply(
            f"Moved feed {letter} to {metres(place)}", partial(move_feed, feed_id=feed_id, position_m=place)
        )

    def _feed_near(self, x: float) -> Feed | None:
        near = [
            (abs(place - x), feed)
            for feed in self._session.build.feeds
            if (place := self.feed_x(feed)) is not None and abs(place - x) <= REACH
        ]
        return min(near, key=lambda pair: pair[0])[1] if near else None

    def _select_at(self, x: float) -> None:
        slot = self._axis.slot_at(self._axis.to_place(x - theme.GUTTER, self._plot.axis_width))
        if slot is not None:
            self._session.select(slot=slot, feed_id=None)

    def _voltage(self, slot: int) -> float | None:
        solved = self._session.solved
        if solved is None or solved.solution is None or solved.build is not self._session.build:
            return None
        span = next(span for span in self._axis.spans if slot < span.stop)
        return float(solved.solution.runs[span.strip.id].pixel_v[slot - span.first])

    def _show_card(self) -> None:
        slot = self._session.selection.slot
        v = self._voltage(slot) if slot is not None and self._axis.spans else None
        if slot is None or v is None:
            self.card.hide()
            return
        p = self._plot.palette_in_use
        self.card.setStyleSheet(
            f"background: {p.field}; border: 1px solid {p.ink}; border-radius: 4px; padding: 5px 8px; color: {p.ink};"
        )
        self.card.setText(self._card_text(slot, v))
        self.card.adjustSize()
        x = self.slot_x(slot)
        left = x + 10 if x + 14 + self.card.width() < self.width() else x - 10 - self.card.width()
        top = self._plot.plot_rect(self._plot.volts).top() + 24
        self.card.move(round(max(theme.GUTTER, left)), round(top))
        self.card.show()

    def _card_text(self, slot: int, v: float) -> str:
        span = next(span for span in self._axis.spans if slot < span.stop)
        solved = self._session.solved
        assert solved is not None and solved.solution is not None
        part = part_of(solved.build, span.strip)
        pixel = slot - span.first
        duty = solved.duties[self._axis.strip_number(span.strip)][pixel : pixel + 1]
        look = seen(part, np.array([v]), duty)
        drawn = float(solved.solution.runs[span.strip.id].pixel_a[pixel])
        return (
            f"<b>{span.strip.name} · pixel {pixel}</b><br>{volts(v)}, {amps(drawn)}<br>"
            f"light −{max(0.0, look.light_loss[0]):.0%}, Δu′v′ {look.tint_shift[0]:.3f}<br>"
            f"<span style='color:{self._plot.palette_in_use.teal}'>Enter: show the working</span>"
        )
