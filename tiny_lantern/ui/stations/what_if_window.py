"""What if another part were fitted, or one were missing: each solved beside the build, which stays as it is."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable

from PySide6.QtWidgets import QAbstractItemView, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.findings.what_if import Outcome, outcomes
from tiny_lantern.model.quantities import amps
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, faint, quiet, side_by_side
from tiny_lantern.ui.widgets.row_table import RowTable
from tiny_lantern.ui.widgets.snug import snug

HEADS = ("what if", "most in a channel", "hottest", "snags", "the worst of them")
FIGURES = (1, 2)
ABOUT = (
    "Choosing a row tells the worst of it; Make it so fits it. Nothing is changed by looking. A part in doubt is read "
    "on its case, never felt with a finger."
)


class WhatIfWindow(QWidget):
    """Judges each change in the background."""

    def __init__(self, session: Session, driver_id: str) -> None:
        super().__init__()
        self._session, self._driver_id = session, driver_id
        self.rows: list[Outcome] = []
        self.table = RowTable(HEADS, FIGURES, stretched=0)
        self.table.setAccessibleName("What if")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(lambda *_: self._show_word())
        self._word = faint("Each is solved on this build …")
        self.fit = button("Make it so", self.make_it_so, "primary", "One step; undo takes it back")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        column.addWidget(self._word)
        column.addWidget(faint(ABOUT))
        column.addLayout(side_by_side(self.fit))
        session.findings_changed.connect(self.again)
        self.again()

    def again(self) -> None:
        """Judge them anew, once the build in hand is judged."""
        session, evidence, driver_id = self._session, self._session.evidence, self._driver_id
        there = any(driver.id == driver_id for driver in session.build.drivers)
        if evidence is None or evidence.build is not session.build or not there:
            return
        parts = list(session.parts)

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> list[Outcome]:
            return list(outcomes(evidence, driver_id, parts, cancelled))

        session.background.start("what-if", work, self._show, session.refused.emit)

    def _show(self, rows: list[Outcome]) -> None:
        if not isValid(self):  # closed while it was worked out
            return
        self.rows = rows
        with quiet(self.table):
            self.table.show_rows(len(rows), self._texts)
            if rows:
                self.table.setCurrentCell(0, 0)
        self.table.fit_columns()
        self._show_word()
        snug(self)

    def _texts(self, number: int) -> tuple[str, ...]:
        row = self.rows[number]
        if row.refusal:
            return (row.change.words, "", "", "", row.refusal)
        counts = Counter(finding.severity for finding in row.findings)
        told = ", ".join(f"{count} {severity.label}" for severity, count in sorted(counts.items()))
        worst = row.findings[0].title if row.findings else "nothing to mend"
        return (row.change.words, amps(row.most_a), f"{row.hottest_c:.0f} °C", told, worst)

    @property
    def chosen(self) -> Outcome | None:
        """The row that is chosen."""
        row = self.table.currentRow()
        return self.rows[row] if 0 <= row < len(self.rows) else None

    def _show_word(self) -> None:
        row = self.chosen
        if row is not None:
            told = row.refusal or (
                row.findings[0].message if row.findings else "No rule on driving has anything to say."
            )
            self._word.setText(told)
        self.fit.setEnabled(row is not None and not row.refusal and self.table.currentRow() > 0)

    def make_it_so(self) -> None:
        """Make the chosen change one step."""
        row = self.chosen
        if row is not None and not row.refusal and self.table.currentRow() > 0:
            self._session.apply(f"Tried: {row.change.words}", row.change.edit)
