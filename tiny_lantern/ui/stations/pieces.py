"""Pieces: what is lit, with what, where; an inventory to scale with the picture it makes."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.catalogue.kinds import StartKind, add_first, kind_of
from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.ui import theme
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.group_bar import GroupBar
from tiny_lantern.ui.stations.piece_form import PieceForm
from tiny_lantern.ui.stations.piece_table import PieceTable
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
        right = QVBoxLayout()
        right.setSpacing(6)
        right.addWidget(self.picture, 1)
        right.addWidget(self.tray)
        right.addWidget(self.groups)
        right.addWidget(self.table)
        frame, column = panel(theme.LEFT_PANEL)
        self.form = PieceForm(session)
        column.addWidget(scrolled(self.form))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)

    def add(self, kind: StartKind) -> None:
        """Add a first piece of a kind, of the part that a piece of this kind had last, and ask for its name."""
        build = self._session.build
        parts = kind.parts(all_parts(build))
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
