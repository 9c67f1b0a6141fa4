"""The strips in wiring order, as a table."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView, QTableWidgetItem

from tiny_lantern.electrical.network import part_of
from tiny_lantern.model.edits_pieces import remove_strip
from tiny_lantern.model.line import find_strip, spans
from tiny_lantern.model.quantities import metres
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import quiet
from tiny_lantern.ui.widgets.row_table import RowTable

HEADS = ("strip", "part", "pixels", "length", "lights", "order", "cuts")
FIGURES = (2, 3, 4)


class StripTable(RowTable):
    """The strips in wiring order."""

    def __init__(self, session: Session) -> None:
        super().__init__(HEADS, FIGURES, stretched=1)
        self._session = session
        self.setAccessibleName("Strips in wiring order")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.currentCellChanged.connect(self._chosen)
        session.build_changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the build's strips; a drag under way changes none of these figures."""
        if self._session.dragging:
            return
        build = self._session.build
        with quiet(self):
            self.setRowCount(len(build.strips))
            for row, span in enumerate(spans(build)):
                strip = span.strip
                cuts = ", ".join(str(cut) for cut in strip.cuts) or "none"
                texts = (strip.name, part_of(build, strip).name, f"{strip.pixel_count}", metres(strip.length_m),
                         f"{span.first} to {span.stop - 1}", strip.colour_order, cuts)  # fmt: skip
                for column, text in enumerate(texts):
                    cell = QTableWidgetItem(text)
                    cell.setTextAlignment(self.side_of(column))
                    self.setItem(row, column, cell)
                if strip.id == self._session.selection.strip_id:
                    self.setCurrentCell(row, 0)
        self.fit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        strip_id = self._session.selection.strip_id
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and strip_id:
            name = find_strip(self._session.build, strip_id).name
            self._session.apply(f"Removed {name}", partial(remove_strip, strip_id=strip_id))
        else:
            super().keyPressEvent(event)

    def _chosen(self, row: int, *_: int) -> None:
        found = spans(self._session.build)
        if 0 <= row < len(found):
            self._session.select(slot=found[row].first)
