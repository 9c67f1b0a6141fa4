"""What the hand does in the picture: select, move, take hold of handles, draw a box, measure, zoom; keys too.

A drag previews live and is one step at its end; Escape lets everything fall back.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent

from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_layout import shift_pieces
from tiny_lantern.model.edits_names import take_next
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.edits_room import move_room, remove_room, rooms
from tiny_lantern.model.edits_route import bent, follow_routes, without_corner
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.handles import Handle, dragged, grid_step, piece_ends, snapped, straightened
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.place import Place
from tiny_lantern.model.quantities import metres
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.board_marks import board_spot
from tiny_lantern.ui.widgets.picture import REACH, Picture
from tiny_lantern.ui.widgets.rooms import room_near

Floats = NDArray[np.float64]
GRIP, STILL = 9.0, 4.0
ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
COARSE_M, FINE_M = 0.5, 0.05
TAPE, SCALE, PHOTO = "tape", "scale the photo", "move the photo"
FREE = Qt.KeyboardModifier.AltModifier
MORE = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier


@dataclass(frozen=True)
class Drag:
    """What is being dragged from where: the edit for a point of the build, and what the step is called."""

    start: QPointF
    edit: Callable[[tuple[float, float], bool], Callable[[Build], Build]] | None
    label: str = ""
    more: bool = False


@guarded
class PictureHand(QObject):
    """Turns mouse and keys over the picture into selections and edits; ``mode`` says what a drag does instead.

    ``measured`` tells the two points between which the tape was laid to scale the photo. [m]
    """

    measured = Signal(object, object)

    def __init__(self, session: Session, picture: Picture) -> None:
        super().__init__(picture)
        self._session, self._picture = session, picture
        self._drag: Drag | None = None
        self._last: Callable[[Build], Build] | None = None
        self._pan: QPointF | None = None
        self.mode = ""
        self.next_in_group: int | None = None
        picture.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        kind = event.type()
        if isinstance(event, QMouseEvent):
            acts = {
                QEvent.Type.MouseButtonPress: self._press, QEvent.Type.MouseMove: self._move,
                QEvent.Type.MouseButtonRelease: self._release, QEvent.Type.MouseButtonDblClick: self._twice,
            }  # fmt: skip
            act = acts.get(kind)
            if act is not None:
                act(event)
            return act is not None
        if isinstance(event, QWheelEvent) and kind == QEvent.Type.Wheel:
            self._picture.zoom(self._picture.inside(event.position()), 1.2 ** (event.angleDelta().y() / 120))
            return True
        if isinstance(event, QKeyEvent) and kind == QEvent.Type.KeyPress:
            return self._key(event)
        return False

    # the mouse

    def _press(self, event: QMouseEvent) -> None:
        self._picture.setFocus()
        at = self._picture.inside(event.position())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan = at
            return
        if event.button() != Qt.MouseButton.LeftButton:
            return
        more = bool(event.modifiers() & MORE)
        self._last = None
        self._drag = self._taken(at, more)

    def _taken(self, at: QPointF, more: bool) -> Drag:
        """What a press takes hold of."""
        picture = self._picture
        if self.mode == PHOTO:
            return Drag(at, partial(self._photo_edit, at), "Moved the photo")
        if self.mode:
            return Drag(at, None)
        for supply in self._session.build.supplies:
            if (picture.spot_at(supply.x_m, supply.y_m) - at).manhattanLength() < REACH * 1.4:
                self._session.select("supplies", supply.id)
                return Drag(at, partial(self._supply_edit, supply.id, at), f"Moved {supply.name} in the picture")
        for board in self._session.build.boards:
            if (board_spot(self._session.build, board, picture.spot_at) - at).manhattanLength() < REACH * 1.2:
                self._session.select("boards", board.id)
                return Drag(
                    at,
                    partial(self._board_edit, board.id, board_spot(self._session.build, board, picture.spot_at) - at),
                    f"Moved {board.name} in the picture",
                )
        room = room_near(self._session.build, at, picture.spot_at, picture.scale)
        if room is not None and self.next_in_group is None:
            return self._room_drag(at, *room)
        if self.next_in_group is None and not more:
            handle = self._handle_near(at)
            if handle is not None:
                return self._handle_drag(at, handle)
        feed_id = picture.feed_near(at)
        if feed_id is not None and self.next_in_group is None:
            self._session.select("feeds", feed_id)
            return Drag(at, lambda to, free: lambda build: build)
        slot = picture.slot_near(at)
        if slot is None:
            return Drag(at, None, more=more)
        if self.next_in_group is not None:
            self._order_by_hand(slot)
            return Drag(at, lambda to, free: lambda build: build)
        return self._piece_drag(at, slot, more)

    def _piece_drag(self, at: QPointF, slot: int, more: bool) -> Drag:
        """Select a light's piece, with those selected when asked for, and move all that is selected."""
        for kind in ("feeds", "passages", "boxes"):
            self._session.select(kind)
        session, build = self._session, self._session.build
        piece = build.line.span_at(slot).piece
        chosen = session.selection.all("pieces")
        if more:
            others = tuple(other for other in chosen if other != piece.id)
            ids = others if piece.id in chosen else (*others, piece.id)
            session.select("pieces", *ids)
        elif piece.id not in chosen or len(chosen) == 1:
            session.select_slot(slot)
        ids = session.selection.all("pieces")
        name = piece.name if len(ids) == 1 else f"{len(ids)} pieces"
        if not ids:
            return Drag(at, None)
        ends = piece_ends(build, piece.id)
        return Drag(at, partial(self._shift_edit, ids, piece.id, at, ends), f"Moved {name} in the picture")

    def _handle_near(self, at: QPointF) -> Handle | None:
        near = [
            (QPointF(spot - at).manhattanLength(), number) for number, (_, spot) in enumerate(self._picture.handles())
        ]
        far, number = min(near, default=(GRIP + 1, 0))
        return self._picture.handles()[number][0] if far <= GRIP else None

    def _handle_drag(self, at: QPointF, handle: Handle) -> Drag:
        build = self._session.build
        if handle.role in ("via", "between"):
            return self._route_drag(at, handle)
        (piece_id,) = self._session.selection.all("pieces")
        piece = build.line.piece(piece_id)
        if handle.role == "lamp":
            self._session.select_slot(build.line.slot_of(SlotRef(piece_id=piece_id, index=handle.number)))
        done = {"start": "Stretched", "end": "Stretched", "size": "Sized", "bend": "Bent", "turn": "Turned",
                "corner": "Moved a corner of", "leg": "Made a corner in",
                "lamp": f"Moved lamp {handle.number} of"}[handle.role]  # fmt: skip
        ends = piece_ends(build, piece_id)

        def edit(to: tuple[float, float], free: bool) -> Callable[[Build], Build]:
            goal = to if free else self._snapped(to, ends)
            return partial(_with_routes, edit=partial(dragged, piece_id=piece_id, handle=handle, to=goal))

        return Drag(at, edit, f"{done} {piece.name}")

    def _route_drag(self, at: QPointF, handle: Handle) -> Drag:
        feed_id = self._session.selection.one("feeds") or ""
        letter = self._session.build.feed_letters[feed_id]
        ends = np.array([(hole.x_m, hole.y_m) for hole in self._session.build.passages]).reshape(-1, 2)

        def edit(to: tuple[float, float], free: bool) -> Callable[[Build], Build]:
            return partial(bent, feed_id=feed_id, handle=handle, to=to if free else self._snapped(to, ends))

        return Drag(at, edit, f"Led the wires of feed {letter}")

    def _room_drag(self, at: QPointF, kind: str, identity: str) -> Drag:
        """Select a passage or a box, and move it."""
        self._session.select_place(Place.on(kind, identity))
        build = self._session.build
        room = next(room for room in rooms(build) if room.id == identity)
        from_x, from_y = self._picture.point_m(at)

        def edit(to: tuple[float, float], free: bool) -> Callable[[Build], Build]:
            goal = (room.x_m + to[0] - from_x, room.y_m + to[1] - from_y)
            x_m, y_m = goal if free else self._snapped(goal, np.zeros((0, 2)))
            return partial(_with_routes, edit=partial(move_room, identity=identity, x_m=x_m, y_m=y_m))

        return Drag(at, edit, f"Moved {room.name}")

    def _snapped(self, to: tuple[float, float], ends: Floats) -> tuple[float, float]:
        scale = self._picture.scale
        return snapped(to, grid_step(scale), ends, GRIP / scale)

    def _supply_edit(
        self, supply_id: str, start: QPointF, to: tuple[float, float], free: bool
    ) -> Callable[[Build], Build]:
        from_x, from_y = self._picture.point_m(start)

        def edit(build: Build) -> Build:
            supply = next(supply for supply in build.supplies if supply.id == supply_id)
            x_m, y_m = round(supply.x_m + to[0] - from_x, 3), round(supply.y_m + to[1] - from_y, 3)
            return follow_routes(change_supply(build, supply_id, x_m=x_m, y_m=y_m))

        return edit

    def _board_edit(self, board_id: str, off: QPointF, to: tuple[float, float], free: bool) -> Callable[[Build], Build]:
        at = self._picture.spot_at(*to) + off
        return partial(
            change_board, board_id=board_id, at_m=tuple(round(each, 3) for each in self._picture.point_m(at))
        )

    def _shift_edit(
        self, ids: tuple[str, ...], taken: str, start: QPointF, ends: Floats, to: tuple[float, float], free: bool
    ) -> Callable[[Build], Build]:
        """Move pieces so that the first light of the one taken lies on the grid, or on the end of another piece."""
        build = self._session.history.current
        from_x, from_y = self._picture.point_m(start)
        dx_m, dy_m = to[0] - from_x, to[1] - from_y
        if not free:
            first = slot_places(build.line.piece(taken))[0]
            x_m, y_m = float(first[0]), float(first[1])
            goal = self._snapped((x_m + dx_m, y_m + dy_m), ends)
            dx_m, dy_m = goal[0] - x_m, goal[1] - y_m
        return partial(_with_routes, edit=partial(shift_pieces, piece_ids=ids, dx_m=dx_m, dy_m=dy_m))

    def _photo_edit(self, start: QPointF, to: tuple[float, float], free: bool) -> Callable[[Build], Build]:
        from tiny_lantern.model.edits_photo import change_photo  # loads the library that reads pictures

        photo = self._session.history.current.photo
        from_x, from_y = self._picture.point_m(start)
        if photo is None:
            return lambda build: build
        return partial(change_photo, x_m=photo.x_m + to[0] - from_x, y_m=photo.y_m + to[1] - from_y)

    def _order_by_hand(self, slot: int) -> None:
        group_id, place = self._session.selection.one("groups"), self.next_in_group
        if group_id is None or place is None:
            return
        ref = self._session.build.line.ref_at(slot)
        edit = partial(take_next, group_id=group_id, ref=ref, place=place)
        if self._session.apply(f"Put a light at place {place}", edit):
            self.next_in_group = place + 1

    def _move(self, event: QMouseEvent) -> None:
        picture, at = self._picture, self._picture.inside(event.position())
        if self._pan is not None:
            picture.pan(at - self._pan)
            self._pan = at
            return
        drag = self._drag
        if drag is None:
            self._show_cursor(at)
            return
        if (at - drag.start).manhattanLength() < STILL and not self._session.dragging and picture.box is None:
            return
        if drag.edit is not None:
            edit = drag.edit(picture.point_m(at), bool(event.modifiers() & FREE))
            if not _alike(edit, self._last):  # most steps of the hand stay at the same place of the grid
                self._last = edit
                self._session.preview(edit)
        elif self.mode:
            picture.tape = (drag.start, at)
        else:
            picture.box = QRectF(drag.start, at).normalized()
        picture.update()

    def _show_cursor(self, at: QPointF) -> None:
        picture = self._picture
        if self.mode:
            picture.setCursor(Qt.CursorShape.CrossCursor)
        elif self._handle_near(at) is not None:
            picture.setCursor(Qt.CursorShape.SizeAllCursor)
        else:
            near = picture.slot_near(at)
            picture.setCursor(Qt.CursorShape.ArrowCursor if near is None else Qt.CursorShape.OpenHandCursor)
            picture.setToolTip("" if near is None else self._told(near))

    def _told(self, slot: int) -> str:
        """A light in words: its place, its numbers counted from 0 and from 1, and what it shows."""
        ref = self._session.build.line.ref_at(slot)
        piece = self._session.build.line.piece(ref.piece_id)
        function = piece.function_name(ref.index)
        return f"{piece.place_name(ref.index)} · number {ref.index} from 0, {ref.index + 1} from 1" + (
            f" · {function}" if function else ""
        )

    def _release(self, event: QMouseEvent) -> None:
        drag, picture = self._drag, self._picture
        self._drag = self._pan = None
        if drag is None:
            return
        if drag.edit is not None and self._session.dragging:
            self._session.commit(drag.label)
        elif picture.box is not None:
            self._take_box(picture.box, drag.more)
            picture.box = None
        elif self.mode == SCALE and picture.tape is not None:
            self.measured.emit(*(picture.point_m(end) for end in picture.tape))
        elif drag.edit is None and not self.mode and not drag.more:
            self._session.select_place(replace(self._session.selection, refs=()))
        picture.update()

    def _take_box(self, box: QRectF, more: bool) -> None:
        """Select the pieces that have a light in the box."""
        build = self._session.build
        found = [build.line.span_at(slot).piece.id for slot in self._picture.slots_in(box)]
        before = self._session.selection.all("pieces") if more else ()
        self._session.select_slot(None)
        self._session.select("pieces", *dict.fromkeys((*before, *found)))

    def _twice(self, event: QMouseEvent) -> None:
        at = self._picture.inside(event.position())
        handle, feed_id = self._handle_near(at), self._session.selection.one("feeds")
        if handle is not None and handle.role == "via" and feed_id is not None:
            edit = partial(without_corner, feed_id=feed_id, number=handle.number)
            self._session.apply("Took a corner out of a wire's way", edit)
        elif handle is not None and handle.role == "corner":
            (piece_id,) = self._session.selection.all("pieces")
            edit = partial(_with_routes, edit=partial(straightened, piece_id=piece_id, number=handle.number))
            self._session.apply("Took a corner out of a path", edit)
        elif self._picture.slot_near(at) is None and handle is None:
            self._picture.show_all()

    # the keyboard

    def _key(self, event: QKeyEvent) -> bool:
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape:
            return self._let_go()
        ids = self._session.selection.all("pieces")
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus) and not event.modifiers() & MORE:
            middle = QPointF(self._picture.width() / 2, self._picture.height() / 2)
            self._picture.zoom(middle, 1 / 1.2 if key == Qt.Key.Key_Minus else 1.2)
            return True
        if not ids:
            return self._room_key(key, event)
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._session.apply(f"Removed {self._named(ids)}", partial(_without, ids=ids))
            return True
        if key not in ARROWS:
            return False
        size = self._step(event)
        dx_m, dy_m = (size * step for step in ARROWS[key])
        edit = partial(_with_routes, edit=partial(shift_pieces, piece_ids=ids, dx_m=dx_m, dy_m=dy_m))
        self._session.apply(f"Moved {self._named(ids)} by {metres(size)}", edit)
        return True

    def _room_key(self, key: Qt.Key, event: QKeyEvent) -> bool:
        """Keys for a selected passage or box: arrows move it, Delete takes it away."""
        chosen, build = self._session.selection, self._session.build
        ids = (chosen.one("passages"), chosen.one("boxes"))
        room = next((room for room in rooms(build) if room.id in ids), None)
        if room is None:
            return False
        if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._session.apply(f"Removed {room.name}", partial(remove_room, identity=room.id))
            return True
        if key not in ARROWS:
            return False
        size = self._step(event)
        x_m, y_m = room.x_m + size * ARROWS[key][0], room.y_m + size * ARROWS[key][1]
        edit = partial(_with_routes, edit=partial(move_room, identity=room.id, x_m=x_m, y_m=y_m))
        self._session.apply(f"Moved {room.name} by {metres(size)}", edit)
        return True

    def _step(self, event: QKeyEvent) -> float:
        """How far an arrow key moves: coarse with Shift, by the finest grid with Alt. [m]"""
        if event.modifiers() & FREE:
            return grid_step(self._picture.scale)
        return COARSE_M if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else FINE_M

    def _named(self, ids: tuple[str, ...]) -> str:
        return self._session.build.line.piece(ids[0]).name if len(ids) == 1 else f"{len(ids)} pieces"

    def _let_go(self) -> bool:
        """Let everything that is under way fall back; True when something was."""
        picture = self._picture
        under_way = self._drag is not None or picture.box is not None or picture.tape is not None or bool(self.mode)
        self._drag, picture.box, picture.tape = None, None, None
        self.mode, self.next_in_group = "", None
        self._session.drop_preview()
        picture.update()
        return under_way


def _alike(one: Callable[[Build], Build], other: Callable[[Build], Build] | None) -> bool:
    """Whether two edits are the same act with the same figures."""
    if not (isinstance(one, partial) and isinstance(other, partial)) or one.func is not other.func:
        return False
    inner, outer = one.keywords.get("edit"), other.keywords.get("edit")
    if inner is not None and outer is not None:
        return _alike(inner, outer)
    return (one.args, one.keywords) == (other.args, other.keywords)


def _with_routes(build: Build, edit: Callable[[Build], Build]) -> Build:
    """An edit, and wires as long as their ways are after it."""
    return follow_routes(edit(build))


def _without(build: Build, ids: tuple[str, ...]) -> Build:
    for piece_id in ids:
        build = remove_piece(build, piece_id)
    return build
