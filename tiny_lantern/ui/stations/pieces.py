"""Pieces: what is lit, with what, where; an inventory to scale with the picture it makes."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from tiny_lantern.ui import theme
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.stations.strip_form import StripForm
from tiny_lantern.ui.stations.strip_table import StripTable
from tiny_lantern.ui.widgets.fields import panel, scrolled
from tiny_lantern.ui.widgets.picture import Picture


class PiecesStation(QWidget):
    """Left the selected strip's fields, right the picture and the list of strips."""

    def __init__(self, session: Session, frames: FrameSource) -> None:
        super().__init__()
        self._session = session
        self.picture = Picture(session, frames)
        self.table = StripTable(session)
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(self.picture, 1)
        right.addWidget(self.table)
        frame, column = panel(theme.LEFT_PANEL)
        self.form = StripForm(session)
        column.addWidget(scrolled(self.form))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme.MARGIN)
        row.addWidget(frame)
        row.addLayout(right, 1)
