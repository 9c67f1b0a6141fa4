"""The strips in wiring order, as a table."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView

from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.model.line import Span
from tiny_lantern.model.quantities import metres
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import quiet
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.row_table import RowTable

HEADS = ("piece", "part", "count", "length", "on the Line", "order", "cuts")
FIGURES = (2, 3, 4)
MOST_CUTS = 20


class StripTable(RowTable):
    """The strips in wiring order."""

    def __init__(self, session: Session) -> None:
        super().__init__(HEADS, FIGURES, stretched=1)
        self._session = session
        self.setAccessibleName("Strips in wiring order")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.currentCellChanged.connect(self._chosen)
        self._spans: tuple[Span, ...] = ()
        self._parts: dict[str, str] = {}
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the build's strips; a drag under way changes none of these figures."""
        if self._session.dragging:
            return
        build = self._session.build
        self._spans = build.line.spans
        self._parts = {part.id: part.name for part in build.parts}
        with quiet(self):
            self.show_rows(len(self._spans), self._row_texts)
            chosen = self._session.selection.one("pieces")
            row = next((row for row, span in enumerate(self._spans) if span.piece.id == chosen), None)
            if row is not None:
                self.setCurrentCell(row, 0)
        self.fit()

    def _row_texts(self, row: int) -> tuple[str, ...]:
        span = self._spans[row]
        strip, part = span.piece, self._parts[span.piece.part_id]
        lights = f"{span.first} to {span.stop - 1}"
        if not isinstance(strip, PixelRun):
            return (strip.name, part, f"{strip.slot_count}", "", lights, "", "")
        cuts = ", ".join(str(cut) for cut in strip.cuts[:MOST_CUTS]) or "none"
        more = " …" if len(strip.cuts) > MOST_CUTS else ""
        return (
            strip.name,
            part,
            f"{strip.pixel_count}",
            metres(strip.length_m),
            lights,
            strip.colour_order,
            cuts + more,
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        piece_id = self._session.selection.one("pieces")
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and piece_id:
            name = self._session.build.line.piece(piece_id).name
            self._session.apply(f"Removed {name}", partial(remove_piece, piece_id=piece_id))
        else:
            super().keyPressEvent(event)

    def _chosen(self, row: int, *_: int) -> None:
        found = self._session.build.line.spans
        if 0 <= row < len(found):
            self._session.select_slot(found[row].first)
