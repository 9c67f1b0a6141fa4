"""The feeds at a glance: letter, place and what each carries; a click selects one."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.build import Feed, OnStrip
from tiny_lantern.model.quantities import amps, metres
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.head import draw_head
from tiny_lantern.ui.widgets.layer import Layer

WHOLE, SHORT = 36, 24
MOST_WHOLE, MOST_SHORT = 3, 8
BADGE = 10.0
TEXT_LEFT = 30


@guarded
class FeedList(QWidget):
    """Two lines a feed while there are few, one while there are more; the table has them all."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.palette_in_use = theme.PAPER
        self._still = Layer()
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName("Feeds at a glance")
        self.refresh()

    def refresh(self) -> None:
        """Show the build's feeds."""
        feeds = self._session.build.feeds
        self._each = WHOLE if len(feeds) <= MOST_WHOLE else SHORT
        rows = min(len(feeds), MOST_SHORT) + (len(feeds) > MOST_SHORT)
        self.setFixedHeight(max(20, rows * self._each))
        lines = [" · ".join(feed_lines(self._session, feed)) for feed in feeds[:MOST_SHORT]]
        self.setAccessibleDescription("; ".join(lines))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        p, feeds = self.palette_in_use, self._session.build.feeds
        names = self._session.build.feed_letters
        letters = tuple(names[feed.id] for feed in feeds[:MOST_SHORT])
        chosen = next((row for row, feed in enumerate(feeds) if feed.id == self._session.selection.one("feeds")), None)
        shows = (letters, chosen, self._each, p)
        heads = self._still.picture(
            self, self.size().toSizeF(), shows, lambda on: self._draw_heads(on, letters, chosen)
        )  # fmt: skip
        painter.drawPixmap(0, 0, heads)
        painter.setFont(theme.font(9.5))
        painter.setPen(QColor(p.faint))
        if not feeds:
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignVCenter, "None yet: the strips are dark.")
        for row, feed in enumerate(feeds[:MOST_SHORT]):
            self._row(painter, row * self._each, feed)
        if len(feeds) > MOST_SHORT:
            place = QRectF(TEXT_LEFT, MOST_SHORT * self._each, self.width(), self._each)
            painter.setPen(QColor(p.faint))
            painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, f"and {len(feeds) - MOST_SHORT} more below")

    def _draw_heads(self, painter: QPainter, letters: tuple[str, ...], chosen: int | None) -> None:
        """The heads of the posts and the rules between rows, which stand still while the figures change."""
        p = self.palette_in_use
        for row, letter in enumerate(letters):
            top = row * self._each
            if top:
                painter.setPen(QPen(QColor(p.rule), 1))
                painter.drawLine(QPointF(0, top), QPointF(self.width(), top))
            centre = QPointF(BADGE + 1, top + SHORT / 2)
            draw_head(painter, centre, BADGE, letter, 9, p.amber_text if row == chosen else p.amber)

    def _row(self, painter: QPainter, top: float, feed: Feed) -> None:
        p = self.palette_in_use
        place, carried = feed_lines(self._session, feed)
        whole = self._each == WHOLE
        painter.setFont(theme.font(10))
        painter.setPen(QColor(p.ink))
        self._text(painter, top, place if whole else carried)
        if whole:
            painter.setFont(theme.font(9))
            painter.setPen(QColor(p.faint))
            self._text(painter, top + 13, carried)

    def _text(self, painter: QPainter, top: float, text: str) -> None:
        room = self.width() - TEXT_LEFT
        shown = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, room)
        painter.drawText(QRectF(TEXT_LEFT, top, room, SHORT), Qt.AlignmentFlag.AlignVCenter, shown)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        feeds = self._session.build.feeds[:MOST_SHORT]
        row = int(event.position().y() // self._each)
        if row < len(feeds):
            self._session.select("feeds", feeds[row].id)


def feed_lines(session: Session, feed: Feed) -> tuple[str, str]:
    """Where a feed stands, and what it carries."""
    build, solved = session.build, session.solved
    place, carried = "on a bus", "not solved"
    if isinstance(feed.attach, OnStrip):
        place = f"{build.line.strip(feed.attach.strip_id).name} {metres(feed.attach.position_m)}"
    if solved and solved.solution and solved.build is build:
        ends = solved.solution.feeds[feed.id]
        carried = f"{amps(ends.pos_a)} out, {amps(ends.neg_a)} back"
    return place, carried
