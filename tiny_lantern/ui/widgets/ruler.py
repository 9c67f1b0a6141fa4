"""The Line: every light on one axis under the title, in its live colours, with a caret at the selected slot."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.base import same_members
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.layout import metre_step
from tiny_lantern.model.line import Span
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.quantities import metres
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.model.wording import told_apart
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.colours import image_of, rgb_of, screen_table
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.layer import Layer

LIGHT_Y = 38
DOT_LEAST = 5.0
NEAR = 4.0
TICK_ROOM = 40
NAME_SIZE = 9.5
NAME_LEAST = 12.0


@guarded
class LineRuler(QWidget):
    """Draws the Line and takes clicks, wheel and arrow keys on it."""

    def __init__(self, session: Session, axis: LineAxis, frames: FrameSource) -> None:
        super().__init__()
        self._session, self._axis, self._frames = session, axis, frames
        self._drawn: tuple[object, ...] = ()
        self._pieces: tuple[Piece, ...] | None = None
        self._effects: tuple[Effect, ...] | None = None
        self._still = Layer(QColor(theme.NIGHT_GROUND))
        self.setFixedHeight(theme.RULER_HEIGHT)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The Line: all lights in wiring order")
        self.setToolTip("Click a light; arrow keys step, Ctrl+wheel zooms, wheel scrolls, 0 shows all")
        axis.changed.connect(self.update)
        session.selection_changed.connect(self.update)
        session.time_changed.connect(self.update)
        session.held_changed.connect(self.update)
        session.build_changed.connect(self._follow)
        self._follow()

    def _follow(self) -> None:
        build = self._session.build
        self._axis.follow(build)
        if same_members(build.pieces, self._pieces) and same_members(build.effects, self._effects):
            return
        self._pieces, self._effects = build.pieces, build.effects
        shows = (build.line.wired, build.effects)
        if shows != self._drawn:
            self._drawn = shows
            self.update()

    @property
    def axis_width(self) -> float:
        """Width of the axis on the screen. [screen pixels]"""
        return max(1.0, self.width() - theme.LINE_LEFT - theme.LINE_RIGHT)

    def paintEvent(self, event: QPaintEvent) -> None:
        self._axis.follow(self._session.build)  # painted amid an edit, before the session has told of it
        painter = QPainter(self)
        shows = (self._session.build.line.wired, self._axis.left_m, self._axis.right_m)
        painter.drawPixmap(0, 0, self._still.picture(self, self.size().toSizeF(), shows, self._scale))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setClipRect(self._axis_area)
        self._lights(painter, self._frames.seen())
        self._caret(painter)
        if self.hasFocus():
            painter.setClipping(False)
            painter.setPen(QPen(QColor(theme.AMBER), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(theme.LINE_LEFT - 6, 2.5, self.axis_width + 12, theme.RULER_HEIGHT - 5))

    @property
    def _axis_area(self) -> QRectF:
        return QRectF(theme.LINE_LEFT - 8, 0, self.axis_width + 16, theme.RULER_HEIGHT)

    def _pieces_in_view(self) -> Iterator[tuple[Span, float, float]]:
        """Each strip with where it begins and ends on the screen. [screen pixels]"""
        for span, left, right in self._axis.boxes_in_view(self.axis_width):
            yield span, theme.LINE_LEFT + left, theme.LINE_LEFT + right

    def _scale(self, painter: QPainter) -> None:
        """All that stands still while the show plays: the title, the strips' names and their metres."""
        self._title(painter)
        painter.setClipRect(self._axis_area)
        wide = [box for box in self._pieces_in_view() if box[2] - box[1] >= NAME_LEAST]
        rooms = [(max(left, theme.LINE_LEFT), min(right, theme.LINE_LEFT + self.axis_width)) for _, left, right in wide]
        painter.setFont(theme.font(NAME_SIZE))
        names = told_apart(
            [span.piece.name for span, _, _ in wide],
            lambda number, text: theme.text_width(text, NAME_SIZE) <= rooms[number][1] - rooms[number][0],
        )
        for (span, left, right), room, name in zip(wide, rooms, names, strict=True):
            self._names(painter, *room, name, _size_of(span.piece) if name == span.piece.name else "")
            if isinstance(span.piece, PixelRun) and right - left >= TICK_ROOM:
                self._ticks(painter, left, right, span.piece.length_m)
        if not wide:
            self._crowd(painter)

    def _crowd(self, painter: QPainter) -> None:
        """How many strips there are, where none has room for its name."""
        count = sum(1 for _ in self._pieces_in_view())
        if count:
            painter.setPen(QColor(theme.NIGHT_FAINT))
            painter.drawText(QPointF(theme.LINE_LEFT, 21), f"{count} pieces; Ctrl+wheel zooms in to their names")

    def _title(self, painter: QPainter) -> None:
        build = self._session.build
        painter.setFont(theme.font(10.5))
        painter.setPen(QColor(theme.NIGHT_INK))
        painter.drawText(QPointF(theme.MARGIN + 6, 32), "The Line")
        painter.setFont(theme.font(9))
        painter.setPen(QColor(theme.NIGHT_FAINT))
        length = sum(strip.length_m for strip in build.strips)
        count = build.line.slot_count
        lights = f"{count:,} light{'' if count == 1 else 's'}" if count else "no lights yet"
        text = f"{lights} · {metres(length)}" if length else lights
        painter.drawText(QPointF(theme.MARGIN + 6, 50), text)

    def _names(self, painter: QPainter, left: float, right: float, name: str, length: str) -> None:
        """A strip's name at the left of what is in view of it, and its length at the right where there is room."""
        painter.setFont(theme.font(NAME_SIZE))
        painter.setPen(QColor(theme.NIGHT_INK))
        painter.drawText(QPointF(left, 21), name)
        if length and right - left > theme.text_width(name, NAME_SIZE) + theme.text_width(length, NAME_SIZE) + 16:
            painter.setPen(QColor(theme.NIGHT_FAINT))
            painter.drawText(QPointF(right - theme.text_width(length, NAME_SIZE), 21), length)

    def _lights(self, painter: QPainter, frame: np.ndarray) -> None:
        """Each light as a dot where there is room, else all of them as a band in which neighbours blend."""
        shown = screen_table()[frame]
        close = [
            (span, left, right)
            for span, left, right in self._pieces_in_view()
            if (right - left) / span.piece.slot_count < DOT_LEAST
        ]
        if close:
            self._band(painter, frame, close)
        crowded = {span.first for span, _, _ in close}
        for span, left, right in self._pieces_in_view():
            if span.first not in crowded:
                self._dots(painter, left, right, shown[span.first : span.stop])

    def _band(self, painter: QPainter, frame: np.ndarray, strips: list[tuple[Span, float, float]]) -> None:
        """The lights of strips too close for dots, column by column of the screen."""
        ratio = self.devicePixelRatioF()
        columns = self._axis.columns(max(1, round(self.axis_width * ratio)))
        rgb = screen_table()[columns.blend(frame)]
        rgb[columns.first < 0] = rgb_of(theme.NIGHT_GROUND)
        line = image_of(rgb[None])
        for left, right in _joined([(left, right) for _, left, right in strips]):
            painter.fillRect(QRectF(left, LIGHT_Y - 5, right - left, 10), QColor("#1b212b"))
            part = QRectF((left - theme.LINE_LEFT) * ratio, 0, (right - left) * ratio, 1)
            painter.drawImage(QRectF(left, LIGHT_Y - 3.5, right - left, 7), line, part)

    def _dots(self, painter: QPainter, left: float, right: float, colours: np.ndarray) -> None:
        count = len(colours)
        each = (right - left) / count
        painter.setPen(Qt.PenStyle.NoPen)
        radius = min(6.0, each * 0.36)
        first = max(0, int((theme.LINE_LEFT - 20 - left) / each))
        stop = min(count, int((theme.LINE_LEFT + self.axis_width + 20 - left) / each) + 1)
        for slot in range(first, stop):
            centre = QPointF(left + (slot + 0.5) * each, LIGHT_Y)
            colour = QColor(*(int(value) for value in colours[slot]))
            halo = QColor(colour)
            halo.setAlpha(60)
            painter.setBrush(halo)
            painter.drawEllipse(centre, radius * 1.7, radius * 1.7)
            painter.setBrush(colour if colour.lightness() > 24 else QColor("#2b323d"))
            painter.drawEllipse(centre, radius, radius)

    def _ticks(self, painter: QPainter, left: float, right: float, length_m: float) -> None:
        scale = (right - left) / length_m
        step = metre_step(length_m, most=max(1, int((right - left) / 46)))
        painter.setFont(theme.font(8))
        painter.setPen(QColor(theme.NIGHT_FAINT))
        number = 0
        while number * step <= length_m + 1e-9:
            x = left + number * step * scale
            painter.drawLine(QPointF(x, 49), QPointF(x, 53))
            text = f"{number * step:g}"
            painter.drawText(QRectF(x - 24, 54, 48, 14), Qt.AlignmentFlag.AlignHCenter, text)
            number += 1

    def _caret(self, painter: QPainter) -> None:
        slot = self._session.slot
        if slot is None or not self._axis.spans:
            return
        x = theme.LINE_LEFT + float(self._axis.to_screen(self._axis.slot_place(slot), self.axis_width))
        painter.setPen(QPen(QColor("#ffffff"), 1))
        painter.drawLine(QPointF(x, 28), QPointF(x, 50))
        painter.setBrush(QColor("#ffffff"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 4, 24), QPointF(x + 4, 24), QPointF(x, 29)]))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._pick(event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self._pick(event.position().x())

    def _pick(self, x: float) -> None:
        slot = self._axis.slot_at(self._axis.to_place(x - theme.LINE_LEFT, self.axis_width))
        if slot is not None:
            self._session.select_slot(slot)

    def wheelEvent(self, event: QWheelEvent) -> None:
        turn_axis(self._axis, event, event.position().x() - theme.LINE_LEFT, self.axis_width)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not step_selection(self._session, self._axis, event):
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            self.update()
        return super().event(event)


def _size_of(piece: Piece) -> str:
    """How long a piece with rails is, how many lamps another one has."""
    if isinstance(piece, PixelRun):
        return metres(piece.length_m)
    return f"{piece.slot_count} lamp{'' if piece.slot_count == 1 else 's'}"


def turn_axis(axis: LineAxis, event: QWheelEvent, x: float, width: float) -> None:
    """Ctrl+wheel zooms about the pointer, a plain wheel scrolls."""
    turn = event.angleDelta().y() or event.angleDelta().x()
    if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
        axis.zoom(0.8 if turn > 0 else 1.25, axis.to_place(x, width))
    else:
        axis.scroll(-0.1 if turn > 0 else 0.1)
    event.accept()


def step_selection(session: Session, axis: LineAxis, event: QKeyEvent) -> bool:
    """Arrow keys, Home and End move the selected slot; 0 shows the whole Line. Whether the key was one of them."""
    count = session.build.line.slot_count
    slot = session.slot
    stride = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
    moves = {
        Qt.Key.Key_Left: (slot or 0) - stride,
        Qt.Key.Key_Right: (-1 if slot is None else slot) + stride,
        Qt.Key.Key_Home: 0,
        Qt.Key.Key_End: count - 1,
    }
    if event.key() == Qt.Key.Key_0:
        axis.show_all()
        return True
    if event.key() not in moves or not count:
        return False
    chosen = max(0, min(count - 1, moves[Qt.Key(event.key())]))
    session.select_slot(chosen)
    axis.reveal(axis.slot_place(chosen))
    return True


def _joined(boxes: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Left and right of rows of boxes, those that nearly touch as one. [screen pixels]"""
    found = [boxes[0]]
    for left, right in boxes[1:]:
        if left - found[-1][1] <= NEAR:
            found[-1] = (found[-1][0], right)
        else:
            found.append((left, right))
    return found
