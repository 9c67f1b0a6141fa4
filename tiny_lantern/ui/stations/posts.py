"""The layer above the power curves: feeds as posts that are dragged along the Line, and the probe under the pointer."""

from __future__ import annotations

from functools import partial
from html import escape
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QEvent, QLineF, QPointF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QWheelEvent
from PySide6.QtWidgets import QLabel, QWidget

from tiny_lantern.electrical.network import node_position_m, part_of, snap_node
from tiny_lantern.light.seen import seen
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_power import move_feed, remove_feed
from tiny_lantern.model.quantities import amps, metres, volts
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session, ShortPlace
from tiny_lantern.ui.stations.power_ground import PowerGround
from tiny_lantern.ui.stations.power_plot import PowerPlot
from tiny_lantern.ui.stations.short_marker import draw_marker
from tiny_lantern.ui.widgets.head import draw_head
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.ruler import step_selection, turn_axis

if TYPE_CHECKING:
    pass

REACH = 11.0
BADGE = 26
HEAD_Y = 15.0
SHORT_Y = 38.0
SHORT_HERE_SLOTS = 8000
LEAST_APART = 9
CARD_NAME = 180


def badge_of(letter: str, colour: str, ring: str, ratio: float) -> QPixmap:
    """The head of a post in a colour, with a ring where one is named, for so many device pixels to each."""
    picture = QPixmap(round(BADGE * ratio), round(BADGE * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_head(painter, QPointF(BADGE / 2, BADGE / 2), REACH, letter, 10, colour, ring=ring)
    painter.end()
    return picture


@guarded
class Posts(QWidget):
    """Draws posts and the probe, and takes the mouse and the keyboard for both."""

    show_working = Signal()
    feed_wanted = Signal()

    def __init__(self, session: Session, axis: LineAxis, plot: PowerPlot) -> None:
        super().__init__(plot)
        self._session, self._axis, self._plot = session, axis, plot
        self._dragged: str | None = None
        self._short_dragged = self._short_chosen = False
        self._grounded: Build | None = None
        self._hovered: int | None = None
        self.ground = PowerGround(session, axis, plot)
        self._badges: dict[tuple[str, str, str, float], QPixmap] = {}
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Feeds and probe: drag a post, or select a feed and press the arrow keys")
        self.card = QLabel(self)
        self.card.setObjectName("probeCard")
        self.card.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.card.hide()
        self.short_card = QLabel(self)
        self.short_card.setObjectName("probeCard")
        self.short_card.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.short_card.hide()
        plot.installEventFilter(self)
        in_view = InView(self, self._redraw)
        for signal in (
            session.selection_changed, session.solved_changed, session.build_changed, session.short_changed,
            session.findings_changed, axis.changed,
        ):  # fmt: skip
            signal.connect(in_view.refresh)

    def eventFilter(self, watched: object, event: QEvent) -> bool:
        if watched is self._plot and event.type() == QEvent.Type.Resize:
            self.setGeometry(self._plot.rect())
        if watched is self._plot and event.type() == QEvent.Type.ChildAdded:
            self.raise_()
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
        self._show_short_card()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.ground.draw(painter, self)
        if self._session.build.pieces:
            self._probe(painter)
            letters = self._session.build.feed_letters
            feeds = self._session.build.feeds
            if len(feeds) * LEAST_APART > self._plot.axis_width:
                self._crowd(painter)
                feeds = tuple(feed for feed in feeds if feed.id == self._session.selection.one("feeds"))
            for feed in feeds:
                self._post(painter, feed, letters[feed.id])
            self._short(painter)

    def _probe(self, painter: QPainter) -> None:
        slot = self.probed
        if slot is None:
            return
        x = self.slot_x(slot)
        p = self._plot.palette_in_use
        top, bottom = self._plot.volts.rect.top(), self._plot.amps.rect.bottom()
        painter.setPen(QPen(QColor(p.ink), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        v = self._voltage(slot)
        if v is not None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(p.ink))
            painter.drawEllipse(QPointF(x, self._plot.volts.y_of(v)), 4, 4)

    def _crowd(self, painter: QPainter) -> None:
        """Posts too close for their heads, as marks above the curves, one for those that share a column."""
        places = [
            self._axis.place_on(feed.attach.strip_id, feed.attach.position_m)
            for feed in self._session.build.feeds
            if isinstance(feed.attach, OnStrip)
        ]
        columns = np.unique(np.round(self._plot.to_x(np.array(places))))
        shown = columns[(columns >= theme.GUTTER - 2) & (columns <= self.width() + 2)].tolist()
        painter.setPen(QPen(QColor(self._plot.palette_in_use.amber), 1))
        top = self._plot.volts.rect.top()
        painter.drawLines([QLineF(x, HEAD_Y, x, top) for x in shown])

    def _post(self, painter: QPainter, feed: Feed, letter: str) -> None:
        x = self.feed_x(feed)
        if x is None or not theme.GUTTER - 2 <= x <= self.width() + 2:
            return
        p = self._plot.palette_in_use
        chosen = feed.id == self._session.selection.one("feeds")
        painter.setPen(QPen(QColor(p.amber), 3 if chosen else 2))
        painter.drawLine(QPointF(x, HEAD_Y), QPointF(x, self._plot.amps.rect.bottom()))
        middle = min(max(x, REACH), self.width() - REACH)
        colour, ring = p.amber_text if chosen else p.amber, p.ink if chosen and self.hasFocus() else ""
        look = (letter, colour, ring, self.devicePixelRatioF())
        if look not in self._badges:
            self._badges[look] = badge_of(*look)
        painter.drawPixmap(QPointF(middle - BADGE / 2, HEAD_Y - BADGE / 2), self._badges[look])

    def short_x(self) -> float | None:
        """Where the short's marker stands in this widget; None when there is none. [screen pixels]"""
        short = self._session.short
        if short is None or not self._axis.spans:
            return None
        along = node_position_m(self._session.build.line.strip(short.strip_id), short.node)
        return theme.GUTTER + float(
            self._axis.to_screen(self._axis.place_on(short.strip_id, along), self._plot.axis_width)
        )

    def try_short_here(self) -> None:
        """Put a short at the selected light, or take the one there is off."""
        if self._session.short is not None:
            self._session.try_short(None)
            return
        run, index = self._session.pixel_in_hand()
        if run is None:
            return
        self._short_chosen = True
        self._session.try_short(ShortPlace(run.id, index + 1))
        self.setFocus()

    def _short(self, painter: QPainter) -> None:
        x = self.short_x()
        if x is not None and theme.GUTTER - 2 <= x <= self.width() + 2:
            bottom = self._plot.amps.rect.bottom()
            draw_marker(painter, x, SHORT_Y, bottom, self._plot.palette_in_use, self._short_chosen and self.hasFocus())

    def _show_short_card(self) -> None:
        short, x = self._session.short, self.short_x()
        if short is None or x is None:
            self.short_card.hide()
            return
        from tiny_lantern.ui.stations.short_card import card_text, course_at  # what the first paint does not need

        build = self._session.build
        if build.line.slot_count > SHORT_HERE_SLOTS and self._grounded is not build:
            self.short_card.hide()
            work = partial(lambda build, short, *_: course_at(build, short), build, short)
            done = partial(self._short_ready, build)
            self._session.background.start("short", work, done, self._session.refused.emit)
            return
        self.short_card.setText(card_text(build, short, course_at(build, short), self._plot.palette_in_use))
        self.short_card.adjustSize()
        left = x + 14 if x + 18 + self.short_card.width() < self.width() else x - 14 - self.short_card.width()
        self.short_card.move(
            round(max(theme.GUTTER, left)), round(self._plot.volts.rect.bottom() - self.short_card.height() - 8)
        )
        self.short_card.show()

    def _short_ready(self, build: Build, _: object) -> None:
        """What all shorts of a large build have in common is known now: from here on each is shown at once."""
        self._grounded = build
        self._show_short_card()

    def drag_short_to(self, x: float) -> None:
        """Move the short's marker to a place; any strip's copper is in reach."""
        found = self._run_at(x)
        if found is not None:
            run, along = found
            self._session.try_short(ShortPlace(run.id, snap_node(run, along)))

    def _run_at(self, x: float) -> tuple[PixelRun, float] | None:
        """The strip or panel at a place of the screen, and the distance along it; None over what has no rails."""
        found = self._axis.piece_at(self._axis.to_place(x - theme.GUTTER, self._plot.axis_width))
        if found is None or not isinstance(found[0].piece, PixelRun):
            return None
        return found[0].piece, found[1]

    def _step_short(self, event: QKeyEvent) -> None:
        short = self._session.short
        assert short is not None
        strip = self._session.build.line.strip(short.strip_id)
        stride = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        node = short.node + (stride if event.key() == Qt.Key.Key_Right else -stride)
        self._session.try_short(ShortPlace(strip.id, max(0, min(strip.pixel_count + 1, node))))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        x = self.short_x()
        self._short_chosen = self._short_dragged = (
            x is not None
            and abs(x - event.position().x()) <= REACH
            and (event.position().y() > HEAD_Y + REACH or self._feed_near(event.position().x()) is None)
        )
        if self._short_dragged:
            self.update()
            return
        feed = self._feed_near(event.position().x())
        if feed is not None:
            self._session.select("feeds", feed.id)
            self._dragged = feed.id
            return
        self._select_at(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._short_dragged:
            self.drag_short_to(event.position().x())
            return
        if self._dragged:
            self.drag_to(event.position().x())
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._select_at(event.position().x())
        near = self._feed_near(event.position().x())
        self._hover(None if self._dragged or near else self._slot_under(event.position().x()))
        self.setCursor(Qt.CursorShape.SizeHorCursor if near or self._dragged else Qt.CursorShape.CrossCursor)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._short_dragged = False
        if self._dragged:
            self._drop(self._dragged)
            self._dragged = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self._ask_working()

    def wheelEvent(self, event: QWheelEvent) -> None:
        turn_axis(self._axis, event, event.position().x() - theme.GUTTER, self._plot.axis_width)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        feed_id = self._session.selection.one("feeds")
        if self._session.short is not None and self._short_chosen:
            if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
                self._step_short(event)
                return
            if event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
                self._session.try_short(None)
                return
        if event.key() == Qt.Key.Key_Escape and self._dragged:
            self._dragged = None
            self._session.drop_preview()
        elif event.key() == Qt.Key.Key_Escape:
            self._session.select("feeds")
        elif feed_id and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._nudge(feed_id, event)
        elif feed_id and event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            letter = self._session.build.feed_letters[feed_id]
            self._session.apply(f"Removed feed {letter}", partial(remove_feed, feed_id=feed_id))
        elif event.text().upper() in self._session.build.feed_letters.values() and event.text():
            letters = {letter: feed for feed, letter in self._session.build.feed_letters.items()}
            self._session.select("feeds", letters[event.text().upper()])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._ask_working()
        elif event.key() == Qt.Key.Key_Insert:
            self.feed_wanted.emit()
        elif not step_selection(self._session, self._axis, event):
            super().keyPressEvent(event)

    def drag_to(self, x: float) -> None:
        """Show the dragged feed at a place while the curves follow; other strips' copper is in reach too."""
        found = self._run_at(x)
        if self._dragged is None or found is None:
            return
        run, along = found
        self._session.preview(partial(move_feed, feed_id=self._dragged, position_m=along, strip_id=run.id))

    def _drop(self, feed_id: str) -> None:
        if self._session.dragging:
            self._session.commit(self._moved_label(feed_id))

    def _moved_label(self, feed_id: str) -> str:
        feed = item(self._session.build.feeds, feed_id, "feed")
        assert isinstance(feed.attach, OnStrip)
        return f"Moved feed {self._session.build.feed_letters[feed_id]} to {metres(feed.attach.position_m)}"

    def _nudge(self, feed_id: str, event: QKeyEvent) -> None:
        feed = item(self._session.build.feeds, feed_id, "feed")
        if not isinstance(feed.attach, OnStrip):
            return
        strip = self._session.build.line.strip(feed.attach.strip_id)
        stride = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        step = stride if event.key() == Qt.Key.Key_Right else -stride
        node = max(0, min(strip.pixel_count + 1, snap_node(strip, feed.attach.position_m) + step))
        place = node_position_m(strip, node)
        letter = self._session.build.feed_letters[feed_id]
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

    def leaveEvent(self, event: QEvent) -> None:
        self._hover(None)
        super().leaveEvent(event)

    def _hover(self, slot: int | None) -> None:
        if slot != self._hovered:
            self._hovered = slot
            self._redraw()

    @property
    def probed(self) -> int | None:
        """The slot that is read out: the one under the pointer, else the selected one."""
        there = self._hovered is not None and self._axis.spans and self._hovered < self._axis.spans[-1].stop
        return self._hovered if there else self._session.slot

    def _slot_under(self, x: float) -> int | None:
        return self._axis.slot_at(self._axis.to_place(x - theme.GUTTER, self._plot.axis_width))

    def _ask_working(self) -> None:
        if self._hovered is not None:
            self._session.select("feeds")
            self._session.select_slot(self._hovered)
        self.show_working.emit()

    def _select_at(self, x: float) -> None:
        slot = self._slot_under(x)
        if slot is not None:
            self._session.select("feeds")
            self._session.select_slot(slot)

    def _voltage(self, slot: int) -> float | None:
        solved = self._session.solved
        if solved is None or solved.solution is None or solved.build is not self._session.build:
            return None
        span = self._axis.span_at(slot)
        run = solved.solution.runs.get(span.piece.id)
        return float(run.pixel_v[slot - span.first]) if run else None

    def _show_card(self) -> None:
        slot = self.probed
        v = self._voltage(slot) if slot is not None and self._axis.spans else None
        if slot is None or v is None:
            self.card.hide()
            return
        self.card.setText(self._card_text(slot, v))
        self.card.adjustSize()
        x = self.slot_x(slot)
        left = x + 10 if x + 14 + self.card.width() < self.width() else x - 10 - self.card.width()
        top = self._plot.volts.rect.top() + 24
        self.card.move(round(max(theme.GUTTER, left)), round(top))
        self.card.show()

    def _card_name(self, name: str) -> str:
        return self.card.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, CARD_NAME)

    def _card_text(self, slot: int, v: float) -> str:
        span = self._axis.span_at(slot)
        solved = self._session.solved
        assert solved is not None and solved.solution is not None
        part = part_of(solved.build, span.run)
        pixel = slot - span.first
        duty = solved.duties[self._axis.runs.index(span)][pixel : pixel + 1]
        look = seen(part, np.array([v]), duty)
        drawn = float(solved.solution.runs[span.piece.id].pixel_a[pixel])
        return (
            f"<b>{escape(self._card_name(span.piece.name))} · pixel {pixel}</b><br>{volts(v)}, {amps(drawn)}<br>"
            f"light lost {max(0.0, look.light_loss[0]):.0%}, Δu′v′ {look.tint_shift[0]:.3f}<br>"
            f"<span style='color:{self._plot.palette_in_use.teal}'>double click or Enter: the working</span>"
        )
