"""A table of rows that are chosen whole: words left, figures right, one column taking the room that is left."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence

from PySide6.QtCore import QEvent, QSize, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from tiny_lantern.ui.guarded import guarded

ROW_HEIGHT = 24
HEAD_HEIGHT = 30
WIDEST_COLUMN = 160
LEAST_STRETCHED = 110
ROWS_IN_SIGHT = 12
MOST_HINTED = 18


@guarded
class RowTable(QTableWidget):
    """Rows of words and figures."""

    def __init__(self, heads: Sequence[str], figures: Collection[int], stretched: int) -> None:
        super().__init__(0, len(heads))
        self._figures, self._stretched = figures, stretched
        self._changed_columns = set(range(len(heads)))
        self._texts_of: Callable[[int], Sequence[str]] = lambda row: ()
        self._count = 0
        self.verticalScrollBar().valueChanged.connect(self._write_rows_in_sight)
        for column, text in enumerate(heads):
            head = QTableWidgetItem(text)
            head.setTextAlignment(self.side_of(column))
            self.setHorizontalHeaderItem(column, head)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(ROW_HEIGHT)
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)

    def sizeHint(self) -> QSize:
        """As wide as its columns and as high as its rows, up to so many."""
        wide = sum(self.columnWidth(column) for column in range(self.columnCount())) + 24
        return QSize(wide, fitting_height(self.rowCount(), MOST_HINTED) + 4)

    def side_of(self, column: int) -> Qt.AlignmentFlag:
        """Where a column's text stands."""
        side = Qt.AlignmentFlag.AlignRight if column in self._figures else Qt.AlignmentFlag.AlignLeft
        return side | Qt.AlignmentFlag.AlignVCenter

    def show_rows(self, count: int, texts_of: Callable[[int], Sequence[str]]) -> None:
        """Show so many rows; only those in sight are written, the others when one scrolls to them.

        Args:
            count: how many rows there are.
            texts_of: the words of a row by its number.
        """
        self._texts_of, self._count = texts_of, count
        if count != self.rowCount():
            self.setRowCount(count)
            self.updateGeometry()
        self._write_rows_in_sight()

    def _write_rows_in_sight(self) -> None:
        top = self.verticalScrollBar().value()
        blocked = self.blockSignals(True)
        in_sight = max(ROWS_IN_SIGHT, self.viewport().height() // ROW_HEIGHT + 2)
        for row in range(max(0, top - 1), min(self._count, top + in_sight)):
            for column, text in enumerate(self._texts_of(row)):
                self.put(row, column, text)
        self.blockSignals(blocked)

    def put(self, row: int, column: int, text: str) -> None:
        """Write one cell, making it when it is not there."""
        cell = self.item(row, column)
        if cell is None:
            cell = QTableWidgetItem()
            cell.setTextAlignment(self.side_of(column))
            self.setItem(row, column, cell)
        self.write(cell, column, text)

    def write(self, cell: QTableWidgetItem, column: int, text: str) -> None:
        """Put a text into a cell; its column is measured anew the next time the table is fitted."""
        if cell.text() != text:
            cell.setText(text)
            self._changed_columns.add(column)

    def fit(self, most_rows: int = 5) -> None:
        """Make the table as high as its rows, up to so many, and each column as wide as its words within reason.

        Asked for rather than kept up by the header, which would measure every cell at every change of one.
        """
        self.setFixedHeight(fitting_height(self.rowCount(), most_rows))
        self.fit_columns()

    def fit_columns(self) -> None:
        """Make each column as wide as its words within reason."""
        for column in self._changed_columns - {self._stretched}:
            self.resizeColumnToContents(column)
            self.setColumnWidth(column, min(self.columnWidth(column), WIDEST_COLUMN))
        self._changed_columns.clear()
        self._stretch()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() in (QEvent.Type.StyleChange, QEvent.Type.FontChange):
            self._changed_columns.update(range(self.columnCount()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if event.size().height() > event.oldSize().height():
            self._write_rows_in_sight()
            self.fit_columns()
        self._stretch()

    def _stretch(self) -> None:
        """Give one column the room that the others leave; where that is too little to read, the table scrolls."""
        others = sum(self.columnWidth(column) for column in range(self.columnCount()) if column != self._stretched)
        self.setColumnWidth(self._stretched, max(LEAST_STRETCHED, self.viewport().width() - others))


def fitting_height(rows: int, most_rows: int = 5) -> int:
    """Height of a table that shows its rows, down to one and up to so many. [screen pixels]"""
    return HEAD_HEIGHT + ROW_HEIGHT * max(1, min(rows, most_rows))
