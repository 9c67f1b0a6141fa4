"""The picture to scale, glowing in step with the show; what the hand does in it is in ``picture_hand``."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import partial
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen, QPixmap, QResizeEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits_route import route_handles, route_points
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import Handle, handles_of
from tiny_lantern.model.layout import (
    all_places,
    bounds,
    clear_of_each_other,
    metre_step,
    one_of_each,
    places_along,
)
from tiny_lantern.model.photo import MOST_PIXELS, Photo
from tiny_lantern.model.pixels import read_picture
from tiny_lantern.model.quantities import metres
from tiny_lantern.ui import theme
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.board_marks import board_labels, draw_boards
from tiny_lantern.ui.widgets.head import draw_head
from tiny_lantern.ui.widgets.layer import Layer
from tiny_lantern.ui.widgets.lights import Lights, Placed
from tiny_lantern.ui.widgets.rooms import draw_rooms

RULER = 26
REACH = 14.0
HEAD = 8.0
LABEL_SIZE = 9.0
MOST_NUMBERS, NUMBER_ROOM, NUMBER_SIZE, NUMBER_HIGH = 240, 3.0, 8.0, 12.0
STRIDES = (1, 5, 10, 50, 100, 500, 1000)
NAME_OVER_LIGHTS, NAME_OVER_NUMBERS = -13, -26
CUT_REACH = 7.0
CUT_INK = "#ff8d80"
LEAST_SCALE, MOST_SCALE = 2.0, 20_000.0


def told_numbers(places: NDArray[np.float64]) -> list[int]:
    """Which lights of a row bear their numbers, so that none touches another: each, or every fifth, tenth, fiftieth ...

    Args:
        places: where they are, (n, 2). [screen pixels]
    """
    if len(places) < 2:
        return []
    for every in STRIDES:
        numbers = list(range(0, len(places), every))
        room = NUMBER_ROOM + theme.text_width(str(numbers[-1]), NUMBER_SIZE)
        boxes = [(x, y, x + room, y + NUMBER_HIGH) for x, y in places[numbers].tolist()]
        kept = clear_of_each_other(boxes) if len(numbers) <= MOST_NUMBERS else [False]
        if all(kept):
            return numbers
    return [0]


def laid_out(build: Build) -> tuple[object, ...]:
    """All that the marks in the picture are drawn from."""
    return (build.pieces, build.supplies, build.feeds, build.passages, build.boxes, build.boards)


@guarded
class Picture(QWidget):
    """Draws the build to scale with metres along two sides; bare, nothing but its light."""

    resized = Signal()

    def __init__(
        self, session: Session, frames: FrameSource, bare: bool = False, lights_only: bool = False
    ) -> None:  # fmt: skip
        super().__init__()
        self._session, self._frames, self._bare, self._lights_only = session, frames, bare, lights_only
        self._key: tuple[object, ...] = ()
        self._lights = Lights()
        self._photo: tuple[str, QPixmap] | None = None
        self._placed: Placed = (1.0, 0.0, 0.0)
        self._places = np.zeros((0, 2))
        self.looks_at: Placed | None = None
        self.box: QRectF | None = None
        self.tape: tuple[QPointF, QPointF] | None = None
        self._still, self._amid = Layer(), Layer()
        self.setMinimumSize(240, 120)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("The picture to scale: drag pieces, handles, supplies, boards, or press arrow keys")
        for signal in (session.build_changed, session.time_changed, session.held_changed, session.selection_changed,
                       session.solved_changed, session.warmed):  # fmt: skip
            signal.connect(self.update)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.resized.emit()

    def view_m(self) -> tuple[float, float, float, float]:
        """Left, bottom, right and top of what is in view. [m]"""
        area = self._area
        left, top = self.point_m(QPointF(0, 0))
        right, bottom = self.point_m(QPointF(area.width(), area.height()))
        return left, bottom, right, top

    def sizeHint(self) -> QSize:
        return QSize(700, 360)

    def spot_of(self, slot: int) -> QPointF:
        """Where a light is drawn in this widget."""
        return QPointF(*self._places[slot]) + QPointF(RULER + 8, 0)

    def _prepare(self, width: int, height: int) -> None:
        build = self._session.build
        key = (build.pieces, build.supplies, build.boards, build.passages, build.boxes, width, height, self.looks_at)
        if self._key and all(a is b or a == b for a, b in zip(self._key, key, strict=True)):
            return
        from tiny_lantern.show.glow import NAME_ROOM, fit, to_screen  # loaded by the warm-up

        places = all_places(build)
        if self.looks_at is not None:
            self._placed = self.looks_at
        elif not self._session.dragging:
            self._placed = fit(bounds(build, places, self._lights_only), width, height, NAME_ROOM)
        self._places = to_screen(places, self._placed)
        self._key = key

    def _draw_light(self, painter: QPainter, size: tuple[int, int]) -> None:
        """The lights as they glow at the caret."""
        session, frame, moving = self._session, self._frames.lit(), self._moving()
        painter.save()
        for corner, image in self._lights.images(session.build, moving, self._places, frame, size, self._placed):
            painter.drawImage(self._area.topLeft() + corner, image)
            painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Lighten)
        painter.restore()

    def _moving(self) -> frozenset[str]:
        """The pieces that a drag under way changes."""
        if not self._session.dragging:
            return frozenset()
        before = {piece.id: piece for piece in self._session.history.current.pieces}
        return frozenset(piece.id for piece in self._session.build.pieces if before.get(piece.id) is not piece)

    def _draw_photo(self, painter: QPainter) -> None:
        """The reference photo under the marks, through which the lights shine."""
        photo = self._session.build.photo
        if photo is None:
            return
        if self._photo is None or self._photo[0] is not photo.data:
            self._photo = (photo.data, self._decoded(photo))
        painter.save()
        painter.setClipRect(self._area)
        painter.translate(self._area.topLeft())
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Screen)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setOpacity(photo.strength)
        corner = self.spot_at(photo.x_m, photo.y_m + photo.height_m)
        box = QRectF(corner.x(), corner.y(), photo.width_m * self.scale, photo.height_m * self.scale)
        painter.drawPixmap(box, self._photo[1], QRectF(self._photo[1].rect()))
        painter.restore()

    def _decoded(self, photo: Photo) -> QPixmap:
        """A photo's pixels; none, and a word about it, where it cannot be read."""
        try:
            read = read_picture(photo.content, MOST_PIXELS, "photo", "another photo, laid under instead")
        except LanternError as error:
            told = LanternError(error.what, error.where, error.accepted)  # the caught one holds the painter's frame
            QTimer.singleShot(0, partial(self._session.refused.emit, told))
            return QPixmap()
        pixels = read.tobytes()
        image = QImage(pixels, read.width, read.height, 3 * read.width, QImage.Format.Format_RGB888)
        return QPixmap.fromImage(image)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        area = self._area
        painter.fillRect(area, QColor(theme.NIGHT_GROUND))
        size = (int(area.width()), int(area.height()))
        if self._session.solved is not None:
            self._prepare(*size)
        if self._session.solved is None or not self._session.build.pieces:
            self._draw_photo(painter)
            painter.setPen(QColor(theme.NIGHT_FAINT))
            text = "Add a piece to see it here." if not self._session.build.pieces else ""
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, text)
            return
        self._draw_light(painter, size)
        self._draw_photo(painter)
        if self._bare:
            return
        self._draw_marks(painter)
        painter.setClipRect(area)
        painter.translate(area.topLeft())
        self._handles(painter)
        self._caret(painter)
        self._by_hand(painter)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.AMBER), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(0.5, 0.5, area.width() - 1, area.height() - 1))

    @property
    def _area(self) -> QRectF:
        """Where the light is, beside the metres."""
        if self._bare:
            return QRectF(self.rect())
        return QRectF(RULER + 8, 0, self.width() - RULER - 8, self.height() - RULER)

    @property
    def _ink(self) -> QColor:
        return self.palette().color(self.foregroundRole())

    def _draw_marks(self, painter: QPainter) -> None:
        """The marks as they were kept; while pieces are dragged, the names and metres of what stays."""
        build = self._session.build
        if self._session.dragging and laid_out(build) != laid_out(self._session.history.current):
            self._draw_marks_amid_drag(painter)
            return
        shows = (*laid_out(build), self._session.selection.refs, self._placed, self._ink)
        painter.drawPixmap(0, 0, self._still.picture(self, self.size().toSizeF(), shows, self._all_marks))

    def _draw_marks_amid_drag(self, painter: QPainter) -> None:
        moving, selected = self._moving(), self._session.selection
        shows = (moving, self._session.history.current, selected.refs, self._placed, self._ink)

        def names_that_stay(on: QPainter) -> None:
            on.translate(self._area.topLeft())
            self._names(on, lambda piece_id: piece_id not in moving)
            self._rulers(on, self._area)

        painter.save()
        if moving:
            painter.drawPixmap(0, 0, self._amid.picture(self, self.size().toSizeF(), shows, names_that_stay))
            self._marks(painter, lambda piece_id: piece_id in moving)
        else:
            self._all_marks(painter)
        painter.restore()

    def _all_marks(self, painter: QPainter) -> None:
        self._marks(painter, lambda piece_id: True)
        self._rulers(painter, self._area)

    def _marks(self, painter: QPainter, named: Callable[[str], bool]) -> None:
        """What stands still while the show plays: names of some pieces, supplies, rooms, cuts, ways and feeds."""
        area = self._area
        painter.translate(area.topLeft())
        painter.setClipRect(QRectF(0, 0, area.width(), area.height()))
        self._names(painter, named)
        draw_rooms(painter, self._session.build, self._session.selection, self.spot_at, self.scale)
        self._cuts(painter)
        self._routes(painter)
        self._supplies(painter)
        draw_boards(painter, self._session.build, self._session.selection, self.spot_at)
        self._feeds(painter)
        painter.setClipping(False)

    def _names(self, painter: QPainter, named: Callable[[str], bool]) -> None:
        """Names of pieces and supplies, the selected first; one that would lie on another is left out."""
        painter.setFont(theme.font(LABEL_SIZE))
        metrics = painter.fontMetrics()
        names = sorted(self._labels(named), key=lambda label: not label[0])
        boxes = [
            (at.x(), at.y() - metrics.ascent(), at.x() + theme.text_width(text, LABEL_SIZE), at.y() + metrics.descent())
            for _, text, at in names
        ]
        for (chosen, text, at), free in zip(names, clear_of_each_other(boxes), strict=True):
            if free:
                painter.setPen(QColor(theme.AMBER if chosen else theme.NIGHT_FAINT))
                painter.drawText(at, text)

    def _labels(self, named: Callable[[str], bool]) -> Iterator[tuple[bool, str, QPointF]]:
        """Whether it is selected, the name, and where it begins: above a piece's start, below a supply."""
        build, selected = self._session.build, self._session.selection
        pieces = selected.all("pieces")
        for span in build.line.spans:
            if not named(span.piece.id):
                continue
            start = QPointF(*self._places[span.first])
            chosen = span.piece.id in pieces
            yield chosen, span.piece.name, start + QPointF(4, NAME_OVER_NUMBERS if chosen else NAME_OVER_LIGHTS)
        for supply in build.supplies:
            middle = self.spot_at(supply.x_m, supply.y_m)
            half = theme.text_width(supply.name, LABEL_SIZE) / 2
            yield supply.id == selected.one("supplies"), supply.name, middle + QPointF(-half, 21)

        yield from board_labels(build, selected, self.spot_at)

    def _cuts(self, painter: QPainter) -> None:
        """A stroke across each strip where its rail is cut, where there is room for one."""
        painter.setPen(QPen(QColor(CUT_INK), 2))
        for run in self._session.build.strips:
            if not run.cuts:
                continue
            cuts = np.array(run.cuts) * run.pitch_m
            around = (places_along(run, cuts + side * run.pitch_m / 4) for side in (-1, 1))
            for before, after in zip(*around, strict=True):
                one, other = self.spot_at(*before), self.spot_at(*after)
                middle, off = (one + other) / 2, other - one
                length = max(1e-6, float(np.hypot(off.x(), off.y())))
                across = QPointF(-off.y(), off.x()) * (CUT_REACH / length)
                painter.drawLine(middle - across, middle + across)

    def _supplies(self, painter: QPainter) -> None:
        for supply in self._session.build.supplies:
            at = self.spot_at(supply.x_m, supply.y_m)
            chosen = supply.id == self._session.selection.one("supplies")
            painter.setPen(QPen(QColor("#ffffff" if chosen else theme.AMBER), 2 if chosen else 1))
            painter.setBrush(QColor("#3a2a12"))
            painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 8, 22, 16), 2, 2)

    def _feeds(self, painter: QPainter) -> None:
        build = self._session.build
        fed = [(feed, feed.attach) for feed in build.feeds if isinstance(feed.attach, OnStrip)]
        spots = [
            self.spot_at(*places_along(build.line.strip(on.strip_id), np.array([on.position_m]))[0]) for _, on in fed
        ]
        for number in one_of_each(np.array([spot.toTuple() for spot in spots]), HEAD):
            letter = build.feed_letters[fed[number][0].id]
            draw_head(painter, spots[number] + QPointF(0, 16), HEAD, letter, 8, theme.AMBER, ink="#1a1206")

    def handles(self) -> tuple[tuple[Handle, QPointF], ...]:
        """The handles of the selected feed's way, else of the one selected piece, and where they are drawn."""
        feed = self._selected_feed()
        if feed is not None:
            return tuple((each, self.spot_at(each.x_m, each.y_m)) for each in route_handles(self._session.build, feed))
        chosen = self._session.selection.all("pieces")
        if len(chosen) != 1:
            return ()
        piece = self._session.build.line.piece(chosen[0])
        return tuple((each, self.spot_at(each.x_m, each.y_m)) for each in handles_of(piece))

    def _selected_feed(self) -> Feed | None:
        chosen = self._session.selection.one("feeds")
        return next((feed for feed in self._session.build.feeds if feed.id == chosen), None)

    def feed_near(self, at: QPointF) -> str | None:
        """The id of the feed whose letter is under a place."""
        build = self._session.build
        for feed in reversed(build.feeds):
            if isinstance(feed.attach, OnStrip):
                spot = self.spot_at(*route_points(build, feed)[-1]) + QPointF(0, 16)
                if (spot - at).manhattanLength() < HEAD + 3:
                    return feed.id
        return None

    def _routes(self, painter: QPainter) -> None:
        """The ways of wires, with the length of the selected one; where none is drawn yet, straight and thin."""
        build, chosen = self._session.build, self._selected_feed()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for feed in build.feeds:
            if not isinstance(feed.attach, OnStrip) or (feed.route_m is None and feed is not chosen):
                continue
            points = route_points(build, feed)
            ink = QColor(theme.AMBER if feed is chosen else "#8a5a1c")
            painter.setPen(QPen(ink, 1.5, Qt.PenStyle.DashLine if feed.route_m is None else Qt.PenStyle.SolidLine))
            painter.drawPolyline([self.spot_at(*point) for point in points])
            if feed is chosen:
                length = metres(feed.positive.length_m)
                text = f"wire {length}" if feed.route_m is not None else f"{length} as typed"
                painter.setFont(theme.font(LABEL_SIZE))
                one, other = max(pairwise(points), key=lambda leg: math.dist(*leg))
                middle = (self.spot_at(*one) + self.spot_at(*other)) / 2
                painter.drawText(middle + QPointF(8, -6), text)

    def _handles(self, painter: QPainter) -> None:
        """What the selected piece can be taken hold of by, and the numbers of its lamps or of the group's."""
        painter.setPen(QPen(QColor("#ffffff"), 1))
        painter.setBrush(QColor(theme.AMBER))
        for each, at in self.handles():
            if each.role in ("between", "leg"):
                painter.drawEllipse(at, 3, 3)
            elif each.role != "lamp":
                painter.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))
        painter.setFont(theme.font(NUMBER_SIZE))
        for text, slot, ink in self._numbers():
            painter.setPen(QColor(ink))
            x, y = self._places[slot]
            painter.drawText(QRectF(x - 14, y - 24, 28, 14), Qt.AlignmentFlag.AlignCenter, text)

    def _numbers(self) -> Iterator[tuple[str, int, str]]:
        """Each light's number in the selected group's order, else in the selected piece, where they leave each other
        room."""
        build, selected = self._session.build, self._session.selection
        group = next((group for group in build.groups if group.id == selected.one("groups")), None)
        if group is not None:
            slots, ink = [build.line.slot_of(ref) for ref in group.slots], theme.NIGHT_TEAL
        else:
            pieces = selected.all("pieces")
            spans = [span for span in build.line.spans if span.piece.id in pieces]
            slots, ink = (list(range(spans[0].first, spans[0].stop)) if len(spans) == 1 else []), theme.NIGHT_FAINT
        for number in told_numbers(self._places[slots]):
            yield str(number), slots[number], ink

    def _by_hand(self, painter: QPainter) -> None:
        """The box that is being drawn, and the tape."""
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.box is not None:
            painter.setPen(QPen(QColor(theme.AMBER), 1, Qt.PenStyle.DashLine))
            painter.drawRect(self.box)
        if self.tape is not None:
            start, end = self.tape
            painter.setPen(QPen(QColor(theme.NIGHT_TEAL), 1.5))
            painter.drawLine(start, end)
            off = end - start
            length = metres(float(np.hypot(off.x(), off.y())) / self._placed[0])
            painter.setFont(theme.font(10))
            painter.drawText((start + end) / 2 + QPointF(6, -6), length)

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

    def spot_at(self, x_m: float, y_m: float) -> QPointF:
        """Where a point of the build is drawn, from the corner of the area of light."""
        scale, shift_x, shift_y = self._placed
        return QPointF(shift_x + scale * x_m, shift_y - scale * y_m)

    def point_m(self, at: QPointF) -> tuple[float, float]:
        """The point of the build under a place on the picture. [m]"""
        scale, shift_x, shift_y = self._placed
        return (at.x() - shift_x) / scale, (shift_y - at.y()) / scale

    @property
    def scale(self) -> float:
        """Screen pixels a metre."""
        return self._placed[0]

    def inside(self, at: QPointF) -> QPointF:
        """A place in the widget counted from the corner of the area of light."""
        return at - QPointF(RULER + 8, 0)

    def slot_near(self, at: QPointF) -> int | None:
        """The light that is nearest to a place, when it is near."""
        if not len(self._places):
            return None
        far = np.hypot(self._places[:, 0] - at.x(), self._places[:, 1] - at.y())
        slot = int(far.argmin())
        return slot if far[slot] < REACH else None

    def slots_in(self, box: QRectF) -> list[int]:
        """The lights in a box."""
        x, y = self._places.T
        there = (x >= box.left()) & (x <= box.right()) & (y >= box.top()) & (y <= box.bottom())
        return [int(slot) for slot in np.flatnonzero(there)]

    def zoom(self, at: QPointF, factor: float) -> None:
        """Show the build larger or smaller, the point under a place staying there."""
        scale, shift_x, shift_y = self._placed
        new = min(max(scale * factor, LEAST_SCALE), MOST_SCALE)
        grown = new / scale
        self.looks_at = (new, at.x() - (at.x() - shift_x) * grown, at.y() - (at.y() - shift_y) * grown)
        self.update()

    def pan(self, by: QPointF) -> None:
        """Move what is shown."""
        scale, shift_x, shift_y = self._placed
        self.looks_at = (scale, shift_x + by.x(), shift_y + by.y())
        self.update()

    def show_all(self) -> None:
        """Show the whole build."""
        self.looks_at = None
        self.update()
