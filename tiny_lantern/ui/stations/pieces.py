"""Pieces: what is lit, with what, where; an inventory to scale with the picture it makes."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.catalogue.kinds import StartKind, add_first, kind_of
from tiny_lantern.model.edits_room import add_box, add_passage
from tiny_lantern.model.place import Place
from tiny_lantern.ui import theme
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.group_bar import GroupBar
from tiny_lantern.ui.stations.piece_form import PieceForm
from tiny_lantern.ui.stations.piece_table import PieceTable
from tiny_lantern.ui.stations.room_form import RoomForm
from tiny_lantern.ui.widgets.fields import panel, scrolled
from tiny_lantern.ui.widgets.kind_tray import KindTray
from tiny_lantern.ui.widgets.photo_bar import PhotoBar
from tiny_lantern.ui.widgets.picture import Picture
from tiny_lantern.ui.widgets.picture_hand import PictureHand


class PiecesStation(QWidget):
    """Left the selected pieces' fields, right the picture, the kinds to add, and the list."""

    def __init__(self, session: Session, frames: FrameSource) -> None:
        super().__init__()
        self._session = session
        self.picture = Picture(session, frames)
        self.hand = PictureHand(session, self.picture)
        self.photo = PhotoBar(session, self.picture, self.hand)
        self.picture.resized.connect(self.photo.refresh)
        self.tray = KindTray()
        self.tray.chosen.connect(self.add)
        self.table = PieceTable(session)
        self.groups = GroupBar(session, self.hand)
        self.groups.filtered.connect(self.table.show_only)
        self.groups.room_wanted.connect(self.add_room)
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.picture, 1)
        right.addWidget(self.tray)
        right.addWidget(self.groups)
        right.addWidget(self.table)
        frame, column = panel(theme.LEFT_PANEL)
        self.form, self.room = PieceForm(session), RoomForm(session)
        self._forms = (scrolled(self.form), scrolled(self.room))
        for area in self._forms:
            column.addWidget(area)
        session.selection_changed.connect(self._show_form)
        session.build_changed.connect(self._show_form)
        self._show_form()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)

    def _show_form(self) -> None:
        """The fields of the selected passage or box, else of the selected pieces."""
        piece_form, room_form = self._forms
        room = self.room.room is not None
        if room == room_form.isHidden() or piece_form.isHidden() != room:
            piece_form.setHidden(room)
            room_form.setHidden(not room)
            self.room.refresh()

    def add_room(self, kind: str) -> None:
        """Add a passage or a box where the picture looks, and select it."""
        left, bottom, right, top = self.picture.view_m()
        x_m, y_m = round((left + right) / 2, 2), round((bottom + top) / 2, 2)
        if kind == "boxes":
            done = self._session.apply("Added a box", partial(add_box, x_m=x_m, y_m=y_m))
        else:
            done = self._session.apply("Added a passage", partial(add_passage, x_m=x_m, y_m=y_m))
        if done:
            self._session.select_place(Place.on(kind, getattr(self._session.build, kind)[-1].id))
            self.picture.setFocus()

    def add(self, kind: StartKind) -> None:
        """Add a first piece of a kind, of the part that a piece of this kind had last, and ask for its name."""
        build = self._session.build
        parts = kind.parts(self._session.parts)
        used = [piece.part_id for piece in build.pieces]
        part = next((part for part in parts if part.id in used), parts[0])
        if self._session.apply(f"Added {kind.word}", partial(add_first, kind=kind, part=part)):
            self._session.select_slot(self._session.build.line.spans[-1].first)
            name = self.form.fields["name"]
            assert isinstance(name, QLineEdit)
            name.setFocus()
            name.selectAll()

    def add_strip(self) -> None:
        """Add a strip."""
        self.add(kind_of("strip"))
