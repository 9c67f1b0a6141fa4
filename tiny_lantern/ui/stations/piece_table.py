"""All pieces as a list: in wiring order, or sorted by any column, and filtered by a word."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QAbstractItemView

from tiny_lantern.catalogue.kinds import kind_for
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.model.layout import slot_places, spacing_of
from tiny_lantern.model.line import Span
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.quantities import metres
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import quiet
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.row_table import RowTable

HEADS = ("piece", "part", "kind", "lights", "length", "on the Line", "order", "cuts")
FIGURES = (3, 4, 5)
MOST_CUTS, MOST_ROWS = 20, 4
Row = tuple[str, ...]


@guarded
class PieceTable(RowTable):
    """The pieces, of all kinds."""

    def __init__(self, session: Session) -> None:
        super().__init__(HEADS, FIGURES, stretched=1)
        self._session = session
        self.setAccessibleName("Pieces")
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.currentCellChanged.connect(self._chosen)
        self.horizontalHeader().setSectionsClickable(True)
        self.horizontalHeader().sectionClicked.connect(self._sort)
        self._word, self._by, self._down = "", -1, False
        self._spans: list[Span] = []
        self._parts: dict[str, Part] = {}
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        session.selection_changed.connect(in_view.refresh)
        self.refresh()

    def show_only(self, word: str) -> None:
        """Show only the pieces that have a word in their name, part, kind or lamps' names."""
        self._word = word.strip().casefold()
        self.refresh()

    def _sort(self, column: int) -> None:
        """Sort by a column; once more the other way round, and a third time in wiring order again."""
        if column != self._by:
            self._by, self._down = column, False
        elif not self._down:
            self._down = True
        else:
            self._by, self._down = -1, False
        self.horizontalHeader().setSortIndicatorShown(self._by >= 0)
        order = Qt.SortOrder.DescendingOrder if self._down else Qt.SortOrder.AscendingOrder
        self.horizontalHeader().setSortIndicator(self._by, order)
        self.refresh()

    def refresh(self) -> None:
        """Show the build's pieces; a drag under way changes none of these figures."""
        if self._session.dragging:
            return
        build = self._session.build
        self._parts = {part.id: part for part in build.parts}
        self._spans = [span for span in build.line.spans if self._matches(span)]
        if self._by >= 0:
            self._spans.sort(key=self._key(self._by), reverse=self._down)
        with quiet(self):
            self.show_rows(len(self._spans), self._row_texts)
            chosen = self._session.selection.one("pieces")
            row = next((row for row, span in enumerate(self._spans) if span.piece.id == chosen), None)
            if row is not None:
                self.setCurrentCell(row, 0)
            else:
                self.clearSelection()
        self.fit(MOST_ROWS)

    def _matches(self, span: Span) -> bool:
        if not self._word:
            return True
        piece = span.piece
        said = (word for note in piece.notes for word in (note.place, note.function))
        part = self._parts[piece.part_id]
        words = (piece.name, part.name, kind_for(piece, part).word, *said)
        return any(self._word in word.casefold() for word in words)

    def _key(self, column: int) -> Callable[[Span], tuple[float, str]]:
        def key(span: Span) -> tuple[float, str]:
            figure = {3: span.piece.slot_count, 4: _length_m(span), 5: span.first}.get(column, 0.0)
            return (figure, self._texts(span)[column].casefold())

        return key

    def _row_texts(self, row: int) -> Row:
        return self._texts(self._spans[row])

    def _texts(self, span: Span) -> Row:
        piece = span.piece
        part = self._parts[piece.part_id]
        length = _size(span) if piece.slot_count > 1 else ""
        order = getattr(piece, "colour_order", None) or ""
        lights = f"{span.first} to {span.stop - 1}" if piece.slot_count > 1 else f"{span.first}"
        return (
            piece.name,
            part.name,
            kind_for(piece, part).word,
            f"{piece.slot_count}",
            length,
            lights,
            order,
            _cuts(span),
        )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        piece_id = self._session.selection.one("pieces")
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and piece_id:
            name = self._session.build.line.piece(piece_id).name
            self._session.apply(f"Removed {name}", partial(remove_piece, piece_id=piece_id))
        else:
            super().keyPressEvent(event)

    def _chosen(self, row: int, *_: int) -> None:
        if 0 <= row < len(self._spans):
            self._session.select_slot(self._spans[row].first)


def _length_m(span: Span) -> float:
    """How long a piece is, laid straight. [m]"""
    piece = span.piece
    return piece.length_m if isinstance(piece, PixelRun) else piece.slot_count * spacing_of(piece)


def _size(span: Span) -> str:
    """Its length, or width and height of what lies in rows."""
    if span.piece.layout.shape != "grid":
        return metres(_length_m(span))
    width, height = np.ptp(slot_places(span.piece), axis=0)
    return f"{width:.2f} × {height:.2f} m"


def _cuts(span: Span) -> str:
    piece = span.piece
    if not isinstance(piece, PixelRun):
        return ""
    more = " …" if len(piece.cuts) > MOST_CUTS else ""
    return (", ".join(str(cut) for cut in piece.cuts[:MOST_CUTS]) or "none") + more
