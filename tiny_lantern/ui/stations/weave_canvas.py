"""The weave: the Line across, time downward; effects are rectangles that are drawn, moved, stretched and retimed."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from tiny_lantern.model.edits_many import move_effects
from tiny_lantern.model.edits_scenes import scene_ends_s
from tiny_lantern.model.edits_show import lay_new, place_effect
from tiny_lantern.model.effects import Effect, Look
from tiny_lantern.model.quantities import clock
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_axis import WeaveAxis
from tiny_lantern.ui.stations.weave_boxes import TAB_HIGH, Boxes, WeaveBoxes, draw_boxes
from tiny_lantern.ui.stations.weave_hold import Holder
from tiny_lantern.ui.stations.weave_keys import SNAP_S, WeaveKeys
from tiny_lantern.ui.stations.weave_margin import WeaveMargin
from tiny_lantern.ui.stations.weave_raster import WeaveRaster
from tiny_lantern.ui.widgets.calm import Calm
from tiny_lantern.ui.widgets.fields import plain_tip
from tiny_lantern.ui.widgets.layer import MovingLayer

EDGE, CATCH_PX = 6.0, 8.0
NEW_S = 4.0
NEAR = 2.0
SNAP_PX, MOST_MARKS = 5.0, 1000
PASSING_MS = 140


@dataclass(frozen=True)
class Grip:
    """What the mouse holds: an effect, the edges that move with it, and where it was taken."""

    effect_id: str
    edges: str
    slot: int
    time_s: float
    first: int
    stop: int
    start_s: float
    length_s: float


@guarded
class WeaveCanvas(QWidget):
    """Draws the weave and takes the mouse and the keyboard."""

    laid = Signal()

    def __init__(self, session: Session, axis: LineAxis, time: TimeAxis) -> None:
        super().__init__()
        self._session, self._axis, self._time = session, WeaveAxis(axis, self), time
        self._raster = WeaveRaster(self._axis, time, session.background, self.update)
        self._boxes = WeaveBoxes(self._axis, time)
        self._margin = WeaveMargin(session, time)
        self._still = MovingLayer(TAB_HIGH)
        self._calm = Calm(self, self.update)
        self.brush: Look | None = None
        self._grip: Grip | None = None
        self._drawing: tuple[int, float, int, float] | None = None
        self._scrubbing = False
        self.holder = Holder(session, self)
        self._keys = WeaveKeys(session, axis, time, self.holder)
        self.setMouseTracking(True)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setMinimumSize(200, 160)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(
            "The weave: arrow keys move the selected effect, Alt+arrows stretch it, N picks the next"
        )
        for signal in (session.build_changed, session.time_changed, session.selection_changed, session.draw_changed,
                       session.song.changed,
                       session.loop_changed,
                       self._axis.changed, time.changed):  # fmt: skip
            signal.connect(self.update)
        self._passing = QTimer(self)
        self._passing.setSingleShot(True)
        self._passing.setInterval(PASSING_MS)
        self._passing.timeout.connect(self.update)
        for moved in (self._axis.changed, time.changed):
            moved.connect(self._pass_by)
        session.build_changed.connect(lambda: time.follow(session.build.show_s))
        session.build_changed.connect(self._calm.ask)
        session.build_changed.connect(lambda: self.show_group(self.group_id))

    @property
    def axis_width(self) -> float:
        """Width of the Line's axis in this widget. [screen pixels]"""
        return max(1.0, self.width() - theme.GUTTER)

    def effect_box(self, effect: Effect) -> QRectF:
        """Where an effect of the build lies in this widget."""
        number = next(n for n, one in enumerate(self._session.build.effects) if one.id == effect.id)
        return self._boxes_now.one(number)

    @property
    def _boxes_now(self) -> Boxes:
        return self._boxes.of(self._session.build, self.axis_width, self.height())

    @property
    def group_id(self) -> str | None:
        """The group whose lights are shown in its order; None while all of the Line is."""
        return self._axis.group_id

    def show_group(self, group_id: str | None) -> None:
        """Show the lights of a group in its order, or all of the Line as it is wired."""
        self._axis.show_group(self._session.build, group_id)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        build = self._session.build
        area = QRectF(theme.GUTTER, 0, self.axis_width, self.height())
        image = self._image()
        if image is not None and build.pieces:
            painter.fillRect(QRectF(0, 0, theme.GUTTER, self.height()), QColor(theme.NIGHT_GROUND))
            painter.drawImage(area, image)
        else:
            painter.fillRect(self.rect(), QColor(theme.NIGHT_GROUND))
        painter.setClipRect(area)
        painter.drawPixmap(0, 0, self._boxes_picture())
        self._scenes(painter)
        self._new(painter)
        self._selected_slot(painter)
        painter.setClipping(False)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawPixmap(0, 0, self._margin.picture(self))
        self._caret(painter)
        if not build.pieces:
            painter.setPen(QColor(theme.NIGHT_FAINT))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, "Add a strip in Pieces, then weave light on it here.")
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.AMBER), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area.adjusted(0.5, 0.5, -0.5, -0.5))

    def _image(self) -> QImage | None:
        """The raster; while changes come too fast for it, as it last was."""
        if self._calm.waiting and self._raster.kept_image is not None:
            return self._raster.kept_image
        if self._passing.isActive() and not self._session.dragging:
            return self._raster.passing(self._session.build, self.axis_width, self.height())
        return self._raster.image(self._session.build, self.axis_width, self.height(), self._session.dragging)

    def _pass_by(self) -> None:
        """The view moves: only what comes into it is rendered until it rests."""
        self._passing.start()
        self.update()

    def _boxes_picture(self) -> QPixmap:
        """The boxes of many effects, which a moving caret leaves as they are."""
        kept = self._still.kept(self.size()) if self._calm.waiting else None
        if kept is not None:
            return kept
        build, chosen, boxes = self._session.build, self._session.selection.all("effects"), self._boxes_now
        shows = (build.effects, build.pieces, self.group_id, chosen, *(f"{scale:.9g}" for scale in boxes.scale))

        def draw(painter: QPainter, part: QRect) -> None:
            draw_boxes(painter, build.effects, boxes, chosen, QRectF(part))

        with self._calm.measured():
            return self._still.picture(self, self.size(), boxes.origin, shows, draw)

    def _scenes(self, painter: QPainter) -> None:
        """Where scenes begin, with their names, how long they fade in, and the stretch that is played over and over."""
        session, height = self._session, self.height()
        if session.loop_s is not None:
            top, bottom = (self._time.to_y(time_s, height) for time_s in session.loop_s)
            painter.fillRect(QRectF(self.width() - 4, top, 4, bottom - top), QColor(theme.NIGHT_TEAL))
        painter.setFont(theme.font(8.5))
        for scene, (start_s, _) in zip(session.build.scenes, scene_ends_s(session.build), strict=True):
            y = self._time.to_y(start_s, height)
            fade = self._time.to_y(start_s + scene.fade_s, height) - y
            if fade > 1:
                painter.fillRect(QRectF(theme.GUTTER, y, self.axis_width, fade), theme.with_alpha("#ffffff", 22))
            painter.setPen(QPen(QColor("#ffffff"), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(theme.GUTTER, y), QPointF(self.width(), y))
            wide = theme.text_width(scene.name, 8.5) + 10
            box = QRectF(self.width() - 6 - wide, y, wide, 16)
            painter.fillRect(box, theme.with_alpha(theme.NIGHT_GROUND, 215))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, scene.name)

    def _new(self, painter: QPainter) -> None:
        if self._drawing is None:
            return
        box = self._drawn_box(*self._drawing)
        painter.setPen(QPen(QColor(theme.AMBER), 2, Qt.PenStyle.DashLine))
        painter.setBrush(theme.with_alpha(theme.AMBER, 50))
        painter.drawRect(box)

    def _drawn_box(self, slot_a: int, time_a: float, slot_b: int, time_b: float) -> QRectF:
        edges = [edge for slot in sorted((slot_a, slot_b)) for edge in self._axis.edges_of(slot) or ()]
        if self.group_id is not None or not edges:
            edges = [self._axis.left_m, self._axis.right_m]
        left, right = (float(self._axis.to_screen(edge, self.axis_width)) for edge in (min(edges), max(edges)))
        top, bottom = (self._time.to_y(time_s, self.height()) for time_s in sorted((time_a, time_b)))
        return QRectF(theme.GUTTER + left, top, right - left, max(2.0, bottom - top))

    def _selected_slot(self, painter: QPainter) -> None:
        slot = self._session.slot
        edges = self._axis.edges_of(slot) if slot is not None and self._axis.spans else None
        if edges is not None:
            x = theme.GUTTER + float(self._axis.to_screen(sum(edges) / 2, self.axis_width))
            painter.setPen(QPen(theme.with_alpha("#ffffff", 120), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, 0), QPointF(x, self.height()))

    def _caret(self, painter: QPainter) -> None:
        y = self._time.to_y(self._session.time_s, self.height())
        painter.setPen(QPen(QColor("#ffffff"), 1.4))
        painter.drawLine(QPointF(theme.GUTTER - 8, y), QPointF(self.width(), y))
        painter.setBrush(QColor(theme.AMBER))
        painter.setPen(Qt.PenStyle.NoPen)
        tip = QPointF(theme.GUTTER, y)
        painter.drawPolygon(QPolygonF([tip, tip + QPointF(-9, -6), tip + QPointF(-9, 6)]))
        amps = self._margin.drawn_a(self._session.time_s)
        if amps is not None:
            painter.setFont(theme.font(8.5))
            painter.setPen(QColor(theme.AMBER))
            below = y < self.height() - 22
            box = QRectF(2, y + 3 if below else y - 19, theme.GUTTER - 4, 16)
            painter.fillRect(box, theme.with_alpha(theme.NIGHT_GROUND, 210))
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, f"{amps:.1f} A")

    def _slot(self, x: float) -> int:
        return self._axis.slot_at(self._axis.to_place(x - theme.GUTTER, self.axis_width)) or 0

    def _when(self, y: float) -> float:
        return min(max(self._time.to_time(y, self.height()), 0.0), self._session.build.show_s)

    def _snapped(self, time_s: float) -> float:
        music = self._session.build.music
        near = music.near(time_s)
        reach_s = self._when(CATCH_PX) - self._when(0.0)
        if near is not None and abs(music.marks_s[near] - time_s) <= reach_s:
            return music.marks_s[near]
        return round(time_s / SNAP_S) * SNAP_S

    def effect_at(self, at: QPointF) -> tuple[Effect, str] | None:
        """The topmost effect under a point and the edges that are near, a string of ``l r t b``."""
        number = self._boxes_now.at(at, NEAR)
        if number is None:
            return None
        box = self._boxes_now.one(number)
        near = {
            "l": at.x() - box.left(),
            "r": box.right() - at.x(),
            "t": at.y() - box.top(),
            "b": box.bottom() - at.y(),
        }
        room = {"l": box.width(), "r": box.width(), "t": box.height(), "b": box.height()}
        edges = "".join(e for e, far in near.items() if far < EDGE and room[e] > 3 * EDGE)
        return self._session.build.effects[number], edges

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if event.button() != Qt.MouseButton.LeftButton or not self._session.build.pieces:
            return
        if at.x() < theme.GUTTER:
            self._scrubbing = True
            self._session.set_time(self._when(at.y()))
            return
        slot, time_s = self._slot(at.x()), self._when(at.y())
        if self.holder.on:
            self.holder.follow(slot, time_s)
            self.holder.keep()
            return
        if self.brush is not None:
            start = self._snapped(time_s)
            self._drawing = (slot, start, slot, start)
            return
        found = self.effect_at(at)
        if found is None:
            self._session.select("effects")
            self._session.select_slot(slot)
            self._session.set_time(time_s)
            self._scrubbing = True
            return
        effect, edges = found
        chosen = self._session.selection.all("effects")
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            more = [one for one in chosen if one != effect.id] if effect.id in chosen else [*chosen, effect.id]
            self._session.select("effects", *more)
            return
        if effect.id not in chosen or edges:
            self._session.select("effects", effect.id)
        self._session.select_slot(slot)
        first, stop = self._session.build.line.covered(effect)
        self._grip = Grip(effect.id, edges, slot, time_s, first, stop, effect.start_s, effect.length_s)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self.holder.on and not self._scrubbing and at.x() >= theme.GUTTER:
            self.holder.follow(self._slot(at.x()), self._when(at.y()))
            self.setToolTip(plain_tip(self.holder.words()))
        elif self._scrubbing:
            self._session.set_time(self._when(at.y()))
        elif self._drawing:
            self._drawing = (*self._drawing[:2], self._slot(at.x()), self._snapped(self._when(at.y())))
            self.update()
        elif self._grip:
            self._drag(self._grip, self._slot(at.x()), self._when(at.y()))
        else:
            self._show_cursor(at)
            self._tell(at)

    def _tell(self, at: QPointF) -> None:
        """Say which lamp and which moment are under the hand."""
        build = self._session.build
        slot = self._slot(at.x())
        if not 0 <= slot < build.line.slot_count:
            return
        ref = build.line.ref_at(slot)
        self.setToolTip(plain_tip(f"{build.line.piece(ref.piece_id).spoken(ref.index)} at {clock(self._when(at.y()))}"))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._scrubbing = False
        if self._drawing:
            slot_a, time_a, slot_b, time_b = self._drawing
            self._drawing = None
            low, high = sorted((slot_a, slot_b))
            start, end = sorted((time_a, time_b))
            self.lay(low, high, start, end - start if end - start >= SNAP_S else NEW_S)
        elif self._grip:
            grip, self._grip = self._grip, None
            if self._session.dragging:
                many = len(self._session.selection.all("effects"))
                what = f"{many} effects" if many > 1 and not grip.edges else self._kind(grip.effect_id)
                self._session.commit(f"{'Stretched' if grip.edges else 'Moved'} {what}")

    def lay(self, first: int, last: int, start_s: float, length_s: float) -> None:
        """Lay the brush on some lights for some time, and put the brush down."""
        if self.brush is None or not self._session.build.pieces:
            return
        look, self.brush = self.brush, None
        edit = partial(
            lay_new, kind=look.kind, first_slot=first, last_slot=last, start_s=start_s,
            length_s=min(length_s, max(SNAP_S, self._session.build.show_s - start_s)), group_id=self.group_id,
        )  # fmt: skip
        if self._session.apply(f"Laid {look.word}", edit):
            self._session.select("effects", self._session.build.effects[-1].id)
        self.laid.emit()

    def _drag(self, grip: Grip, slot: int, time_s: float) -> None:
        slots, seconds = slot - grip.slot, self._step(grip, time_s - grip.time_s)
        chosen = self._session.selection.all("effects")
        if not grip.edges and len(chosen) > 1:
            self._session.preview(partial(move_effects, ids=chosen, slots=slots, seconds=seconds))
            return
        first, stop, start, length = grip.first, grip.stop, grip.start_s, grip.length_s
        if not grip.edges:
            first, stop, start = first + slots, stop + slots, start + seconds
        if "l" in grip.edges:
            first = min(max(0, first + slots), stop - 1)
        if "r" in grip.edges:
            stop = max(min(self._session.build.line.slot_count, stop + slots), first + 1)
        if "t" in grip.edges:
            moved = min(max(-start, seconds), length - SNAP_S)
            start, length = start + moved, length - moved
        if "b" in grip.edges:
            length = max(SNAP_S, length + seconds)
        edit = partial(
            place_effect, effect_id=grip.effect_id, first_slot=first, stop_slot=stop, start_s=start, length_s=length
        )
        self._session.preview(edit)

    def _step(self, grip: Grip, seconds: float) -> float:
        """How far an edge goes in time: to where another effect, a scene or the caret is near, else by tenths."""
        ends = {"t": (0.0,), "b": (grip.length_s,)}.get(grip.edges[-1:], (0.0, grip.length_s))
        near_s = abs(self._time.to_time(SNAP_PX, self.height()) - self._time.to_time(0.0, self.height()))
        build, held = self._session.build, set(self._session.selection.all("effects")) | {grip.effect_id}
        marks = [0.0, build.show_s, self._session.time_s, *(scene.start_s for scene in build.scenes)]
        for effect in build.effects[:MOST_MARKS]:
            if effect.id not in held:
                marks += [effect.start_s, effect.start_s + effect.length_s]
        offsets = [mark - (grip.start_s + end) for mark in marks for end in ends]
        best = min(offsets, key=lambda offset: abs(offset - seconds))
        return best if abs(best - seconds) <= near_s else self._snapped(seconds)

    def _show_cursor(self, at: QPointF) -> None:
        found = self.effect_at(at) if self._session.build.pieces and at.x() >= theme.GUTTER else None
        shape = Qt.CursorShape.CrossCursor if self.brush else Qt.CursorShape.ArrowCursor
        if found and not self.brush:
            shapes = {
                "": Qt.CursorShape.SizeAllCursor, "l": Qt.CursorShape.SizeHorCursor, "r": Qt.CursorShape.SizeHorCursor,
                "t": Qt.CursorShape.SizeVerCursor, "b": Qt.CursorShape.SizeVerCursor,
            }  # fmt: skip
            diagonal = Qt.CursorShape.SizeFDiagCursor if found[1] in ("lt", "rb") else Qt.CursorShape.SizeBDiagCursor
            shape = shapes.get(found[1], diagonal)
        self.setCursor(shape)

    def _kind(self, effect_id: str) -> str:
        effect = next(effect for effect in self._session.build.effects if effect.id == effect_id)
        return effect.look.word

    def wheelEvent(self, event: QWheelEvent) -> None:
        down = (event.angleDelta().y() or event.angleDelta().x()) < 0
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._time.zoom(1.25 if down else 0.8, self._when(event.position().y()))
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self._axis.scroll(_notch(self.axis_width) if down else -_notch(self.axis_width))
        else:
            self._time.scroll(_notch(self.height()) if down else -_notch(self.height()))
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._escape()
        elif not self._keys.take(event):
            super().keyPressEvent(event)

    def _escape(self) -> None:
        if self.holder.on:
            self.holder.switch(False)
        elif self._grip or self._drawing:
            self._grip = self._drawing = None
            self._session.drop_preview()
        elif self.brush:
            self.brush = None
            self.laid.emit()
        else:
            self._session.select("effects")
        self.update()


def _notch(length: float) -> float:
    """How much of the view one notch of the wheel moves it by: a tenth, in whole pixels."""
    return round(0.1 * length) / max(1.0, length)
