"""The picture to scale, glowing in step with the show; pieces and supplies are dragged to where they lie."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetrics, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, OnStrip
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.layout import (
    all_places,
    bounds,
    clear_of_each_other,
    metre_step,
    one_of_each,
    places_along,
    spacing_of,
)
from tiny_lantern.model.layouts import AlongPath, AnyLayout, AtSpots
from tiny_lantern.model.quantities import metres
from tiny_lantern.ui import theme
from tiny_lantern.ui.colours import Bytes, image_of
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.head import draw_head
from tiny_lantern.ui.widgets.layer import Layer

if TYPE_CHECKING:
    from tiny_lantern.show.glow import Glow

RULER = 26
REACH = 14.0
HEAD = 8.0


class Picture(QWidget):
    """Draws the build to scale with metres along two sides."""

    def __init__(self, session: Session, frames: FrameSource) -> None:
        super().__init__()
        self._session, self._frames = session, frames
        self._key: tuple[object, ...] = ()
        self._glow: Glow | None = None
        self._lit: tuple[Bytes, QImage] | None = None
        self._placed = (1.0, 0.0, 0.0)
        self._places = np.zeros((0, 2))
        self._drag: tuple[str, str, QPointF] | None = None
        self._still = Layer()
        self.setMinimumSize(240, 120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("The picture to scale: drag a strip or a supply, or select one and press arrow keys")
        for signal in (session.build_changed, session.time_changed, session.selection_changed, session.solved_changed):
            signal.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(700, 360)

    def spot_of(self, slot: int) -> QPointF:
        """Where a light is drawn in this widget."""
        return QPointF(*self._places[slot]) + QPointF(RULER + 8, 0)

    def _prepare(self, width: int, height: int) -> None:
        build = self._session.build
        key = (build.pieces, build.supplies, width, height)
        if self._key and all(a is b or a == b for a, b in zip(self._key, key, strict=True)):
            return
        from tiny_lantern.show.glow import NAME_ROOM, Glow, fit, spot_radius, to_screen  # loaded by the warm-up

        places = all_places(build)
        if not (self._drag and self._session.dragging):
            self._placed = fit(bounds(build, places), width, height, NAME_ROOM)
        self._places = to_screen(places, self._placed)
        pitch = min(map(spacing_of, build.pieces), default=0.03)
        self._glow = Glow(self._places, width, height, spot_radius(self._placed[0], pitch))
        self._lit = None
        self._key = key

    def _light(self) -> QImage:
        """The lights as they glow at the caret, worked out again only for another frame."""
        frame = self._frames.frame()
        if self._lit is None or self._lit[0] is not frame:
            assert self._glow is not None
            self._lit = (frame, image_of(self._glow.picture(frame / 255.0)))
        return self._lit[1]

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area
        painter.fillRect(area, QColor(theme.NIGHT_GROUND))
        if self._session.solved is None or not self._session.build.pieces:
            painter.setPen(QColor(theme.NIGHT_FAINT))
            text = "Add a piece to see it here." if not self._session.build.pieces else ""
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, text)
            return
        self._prepare(int(area.width()), int(area.height()))
        painter.drawImage(area.topLeft(), self._light())
        self._draw_marks(painter)
        painter.setClipRect(area)
        painter.translate(area.topLeft())
        self._caret(painter)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.AMBER), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, area.width() - 1, area.height() - 1))

    @property
    def _area(self) -> QRectF:
        """Where the light is, beside the metres."""
        return QRectF(RULER + 8, 0, self.width() - RULER - 8, self.height() - RULER)

    @property
    def _ink(self) -> QColor:
        return self.palette().color(self.foregroundRole())

    def _draw_marks(self, painter: QPainter) -> None:
        """The marks as they were kept; while one of them is dragged there is nothing to keep."""
        if self._drag and self._session.dragging:
            painter.save()
            self._marks(painter)
            painter.restore()
            return
        build, selected = self._session.build, self._session.selection
        shows = (build.pieces, build.supplies, build.feeds, selected.refs, self._placed, self._ink)
        painter.drawPixmap(0, 0, self._still.picture(self, self.size().toSizeF(), shows, self._marks))

    def _marks(self, painter: QPainter) -> None:
        """All that stands still while the show plays: names, supplies, feeds and metres."""
        area = self._area
        painter.translate(area.topLeft())
        painter.setClipRect(QRectF(0, 0, area.width(), area.height()))
        self._names(painter)
        self._supplies(painter)
        self._feeds(painter)
        painter.setClipping(False)
        self._rulers(painter, area)

    def _names(self, painter: QPainter) -> None:
        """Names of pieces and supplies, the selected first; one that would lie on another is left out."""
        painter.setFont(theme.font(9))
        metrics = painter.fontMetrics()
        names = sorted(self._labels(metrics), key=lambda label: not label[0])
        boxes = [
            (at.x(), at.y() - metrics.ascent(), at.x() + metrics.horizontalAdvance(text), at.y() + metrics.descent())
            for _, text, at in names
        ]
        for (chosen, text, at), free in zip(names, clear_of_each_other(boxes), strict=True):
            if free:
                painter.setPen(QColor(theme.AMBER if chosen else theme.NIGHT_FAINT))
                painter.drawText(at, text)

    def _labels(self, metrics: QFontMetrics) -> Iterator[tuple[bool, str, QPointF]]:
        """Whether it is selected, the name, and where it begins: above a piece's start, below a supply."""
        build, selected = self._session.build, self._session.selection
        for span in build.line.spans:
            start = QPointF(*self._places[span.first])
            yield span.piece.id == selected.one("pieces"), span.piece.name, start + QPointF(4, -13)
        for supply in build.supplies:
            middle = self._screen(supply.x_m, supply.y_m)
            half = metrics.horizontalAdvance(supply.name) / 2
            yield supply.id == selected.one("supplies"), supply.name, middle + QPointF(-half, 21)

    def _supplies(self, painter: QPainter) -> None:
        for supply in self._session.build.supplies:
            at = self._screen(supply.x_m, supply.y_m)
            chosen = supply.id == self._session.selection.one("supplies")
            painter.setPen(QPen(QColor("#ffffff" if chosen else theme.AMBER), 2 if chosen else 1))
            painter.setBrush(QColor("#3a2a12"))
            painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 8, 22, 16), 2, 2)

    def _feeds(self, painter: QPainter) -> None:
        build = self._session.build
        fed = [(feed, feed.attach) for feed in build.feeds if isinstance(feed.attach, OnStrip)]
        spots = [
            self._screen(*places_along(build.line.strip(on.strip_id), np.array([on.position_m]))[0]) for _, on in fed
        ]
        for number in one_of_each(np.array([spot.toTuple() for spot in spots]), HEAD):
            letter = build.feed_letters[fed[number][0].id]
            draw_head(painter, spots[number] + QPointF(0, 16), HEAD, letter, 8, theme.AMBER, ink="#1a1206")

    def _caret(self, painter: QPainter) -> None:
        slot = self._session.slot
        if slot is not None and slot < len(self._places):
            x, y = self._places[slot]
            painter.setPen(QPen(QColor("#ffffff"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(x, y), 8, 8)

    def _rulers(self, painter: QPainter, area: QRectF) -> None:
        scale, shift_x, shift_y = self._placed
        painter.setFont(theme.font(8))
        painter.setPen(self._ink)
        step = metre_step(area.width() / scale, most=max(2, int(area.width() / 70)))
        first = int(np.ceil(-shift_x / scale / step))
        while (x := shift_x + first * step * scale) <= area.width():
            painter.drawLine(QPointF(x, area.height()), QPointF(x, area.height() + 4))
            box = QRectF(x - 35, area.height() + 5, 70, 14)
            if 14 < x < area.width() - 14:
                painter.drawText(box, Qt.AlignmentFlag.AlignHCenter, f"{first * step:g} m")
            first += 1
        row = int(np.ceil((shift_y - area.height()) / scale / step))
        while (y := shift_y - row * step * scale) >= 0:
            painter.drawLine(QPointF(-4, y), QPointF(0, y))
            if 8 < y < area.height() - 6:
                box = QRectF(-RULER - 8, y - 7, RULER + 2, 14)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight, f"{row * step:g}")
            row += 1

    def _screen(self, x_m: float, y_m: float) -> QPointF:
        scale, shift_x, shift_y = self._placed
        return QPointF(shift_x + scale * x_m, shift_y - scale * y_m)

    def _inside(self, event: QMouseEvent) -> QPointF:
        return event.position() - QPointF(RULER + 8, 0)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self._inside(event)
        for supply in self._session.build.supplies:
            spot = self._screen(supply.x_m, supply.y_m) - at
            if spot.manhattanLength() < REACH * 1.4:
                self._session.select("supplies", supply.id)
                self._drag = ("supply", supply.id, at)
                return
        slot = self._slot_near(at)
        if slot is not None:
            self._session.select_slot(slot)
            self._drag = ("piece", self._session.selection.one("pieces") or "", at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = self._inside(event)
        if self._drag is None:
            self.setCursor(Qt.CursorShape.ArrowCursor if self._slot_near(at) is None else Qt.CursorShape.OpenHandCursor)
            return
        kind, identity, start = self._drag
        if (at - start).manhattanLength() < 4 and not self._session.dragging:
            return
        dx, dy = (at.x() - start.x()) / self._placed[0], -(at.y() - start.y()) / self._placed[0]
        self._session.preview(partial(moved, kind=kind, identity=identity, dx=dx, dy=dy))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag and self._session.dragging:
            kind, identity, _ = self._drag
            self._key = ()
            self._drag = None
            self._session.commit(f"Moved {_name(self._session.build, kind, identity)} in the picture")
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self._drag:
            self._drag = None
            self._key = ()
            self._session.drop_preview()
            return
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        piece_id = self._session.selection.one("pieces")
        if event.key() not in steps or piece_id is None:
            super().keyPressEvent(event)
            return
        size = 0.5 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.05
        dx, dy = (size * step for step in steps[Qt.Key(event.key())])
        name = self._session.build.line.piece(piece_id).name
        edit = partial(moved, kind="piece", identity=piece_id, dx=dx, dy=dy)
        self._session.apply(f"Moved {name} by {metres(size)}", edit)

    def _slot_near(self, at: QPointF) -> int | None:
        if not len(self._places):
            return None
        far = np.hypot(self._places[:, 0] - at.x(), self._places[:, 1] - at.y())
        slot = int(far.argmin())
        return slot if far[slot] < REACH else None


def moved(build: Build, kind: str, identity: str, dx: float, dy: float) -> Build:
    """The build with a piece or a supply moved in the picture. dx, dy [m]"""
    if kind == "supply":
        supply = next(supply for supply in build.supplies if supply.id == identity)
        return change_supply(build, identity, x_m=round(supply.x_m + dx, 3), y_m=round(supply.y_m + dy, 3))
    piece = item(build.pieces, identity, "piece")
    return change_piece(build, identity, layout=shifted_layout(piece.layout, dx, dy))


def shifted_layout(layout: AnyLayout, dx: float, dy: float) -> AnyLayout:
    """A layout moved as a whole. [m]"""
    if isinstance(layout, AlongPath | AtSpots):
        return revise(layout, points_m=tuple((round(x + dx, 3), round(y + dy, 3)) for x, y in layout.points_m))
    return revise(layout, x_m=round(layout.x_m + dx, 3), y_m=round(layout.y_m + dy, 3))


def _name(build: Build, kind: str, identity: str) -> str:
    items = build.supplies if kind == "supply" else build.pieces
    return next(item.name for item in items if item.id == identity)
