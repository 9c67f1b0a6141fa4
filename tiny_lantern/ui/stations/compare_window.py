"""Ways to drive a piece side by side, each solved; *Use this way* is one step."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)
from shiboken6 import isValid

from tiny_lantern.model.quantities import engineering
from tiny_lantern.plans.compare import Compared, compare
from tiny_lantern.plans.schools import schools
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.bars import Bars
from tiny_lantern.ui.widgets.fields import button, faint, heading, quiet, side_by_side
from tiny_lantern.ui.widgets.row_table import RowTable
from tiny_lantern.ui.widgets.snug import snug

HEADS = ("way", "pins", "joints", "cost", "comes round", "flicker", "bits", "brightest", "even", "hottest", "worst")
FIGURES = (1, 2, 3, 4, 6, 7, 8, 9, 10)
BARRED: dict[int, Callable[[Compared], float]] = {
    1: lambda row: row.pins, 2: lambda row: row.joints, 3: lambda row: row.cost, 6: lambda row: row.bits,
    7: lambda row: row.brightest_cd, 8: lambda row: row.evenness, 9: lambda row: row.hottest_c,
}  # fmt: skip
ABOUT = "Bars are to one scale in each column. Choosing a row says when that way wins; Use this way makes it so."
SCHOOL_HEADS = ("question", "one side", "the other", "on this build")


class CompareWindow(QWidget):
    """Solves each way in the background, and shows them as they come."""

    def __init__(self, session: Session, piece_id: str) -> None:
        super().__init__()
        self._session, self._piece_id = session, piece_id
        self.rows: list[Compared] = []
        self._bars = Bars(self)
        self.table = RowTable(HEADS, FIGURES, stretched=0)
        self.table.setAccessibleName("Ways to drive")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(lambda *_: self._show_word())
        self.schools = QTableWidget(0, len(SCHOOL_HEADS))
        self.schools.setHorizontalHeaderLabels(SCHOOL_HEADS)
        self.schools.setAccessibleName("Where practitioners disagree, and when each side wins")
        self.schools.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.schools.setWordWrap(True)
        self.schools.setSizeAdjustPolicy(QTableWidget.SizeAdjustPolicy.AdjustToContents)
        self.schools.verticalHeader().hide()
        self.schools.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.schools.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.ResizeToContents)
        self._word = faint("Each way is solved on this build …")
        self.use = button("Use this way", self.use_chosen, "primary", "One step; undo takes it back")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        column.addWidget(self._word)
        column.addWidget(faint(ABOUT))
        column.addWidget(heading("Where practitioners disagree"))
        column.addWidget(self.schools, 1)
        column.addLayout(side_by_side(self.use))
        session.build_changed.connect(self._again)
        self._again()

    def _again(self) -> None:
        build, piece_id = self._session.build, self._piece_id
        if self._session.dragging or all(piece.id != piece_id for piece in build.pieces):
            return

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> list[Compared]:
            return list(compare(build, piece_id, cancelled))

        self._session.background.start("compare", work, self._show, self._session.refused.emit)

    def _show(self, rows: list[Compared]) -> None:
        if not isValid(self):  # closed while it was worked out
            return
        self.rows = rows
        with quiet(self.table):
            self.table.show_rows(len(rows), self._texts)
            now = next((number for number, row in enumerate(rows) if row.now), 0)
            if rows:
                self.table.setCurrentCell(now, 0)
        self.table.clearSpans()
        for number, row in enumerate(rows):
            if row.build is None:
                self.table.setSpan(number, 0, 1, len(HEADS))
        self.table.fit_columns()
        self._show_schools()
        self._show_word()
        self.table.setItemDelegate(self._bars)
        self._bars.shares = [self._shares(row) for row in rows]
        snug(self)

    def _show_schools(self) -> None:
        told = schools(self._session.build, self.rows)
        self.schools.setRowCount(len(told))
        for number, school in enumerate(told):
            for column, text in enumerate((school.question, school.one, school.other, school.here)):
                self.schools.setItem(number, column, QTableWidgetItem(text))
        self.schools.resizeRowsToContents()

    def _texts(self, number: int) -> tuple[str, ...]:
        row = self.rows[number]
        name = f"{row.way.word} (now)" if row.now else row.way.word
        if row.build is None:
            return (f"{name}: {row.refusal}", *[""] * 10)
        return (
            name, f"{row.pins}", f"{row.joints}", f"{row.cost:.2f}", row.refresh, row.flicker, f"{row.bits}",
            engineering(row.brightest_cd, "cd"), f"{row.evenness:.0%}", f"{row.hottest_c:.0f} °C",
            f"{row.worst}{' !' if row.over else ''}",
        )  # fmt: skip

    def _shares(self, row: Compared) -> dict[int, float]:
        """How long the bar of each figure of a row is, to one scale a column; none for what cannot be. [-]"""
        if row.build is None:
            return {}
        found = {}
        for column, figure in BARRED.items():
            most = max((figure(other) for other in self.rows if other.build is not None), default=0.0)
            found[column] = figure(row) / most if most > 0 else 0.0
        return found

    @property
    def chosen(self) -> Compared | None:
        """The way that is chosen."""
        row = self.table.currentRow()
        return self.rows[row] if 0 <= row < len(self.rows) else None

    def _show_word(self) -> None:
        row = self.chosen
        if row is not None:
            self._word.setText(row.refusal or f"{row.way.word.capitalize()}: wins for {row.way.wins}.")
        self.use.setEnabled(row is not None and row.build is not None and not row.now)

    def use_chosen(self) -> None:
        """Drive the piece in the way that is chosen, as one step."""
        row = self.chosen
        if row is not None and row.build is not None:
            build = row.build
            self._session.apply(f"Driven by {row.way.word}", lambda _: build)
