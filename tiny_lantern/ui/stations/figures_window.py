"""The whole show in figures, each row with the moment of its peak: choosing one goes there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QAbstractItemView, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.electrical.battery import lasting
from tiny_lantern.model.build import Build
from tiny_lantern.model.quantities import amps, clock, volts
from tiny_lantern.show.figure import Figure
from tiny_lantern.show.figures import show_figures
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import faint, quiet
from tiny_lantern.ui.widgets.row_table import RowTable
from tiny_lantern.ui.widgets.snug import snug

HEADS = ("what", "mean", "peak", "at", "may carry", "lasts")
NUMBERS = (1, 2, 3, 4, 5)
ABOUT = "Strips as solved frame by frame, driven lamps by their duties. Choose a row to go to its moment."


def lasts(row: Figure) -> str:
    """How long a battery or a contact lasts, in words; nothing for what has no such end."""
    if row.nights is not None:
        return f"{row.nights:,.0f} nights"
    return lasting(row.lasts_s) if row.lasts_s is not None else ""


class FiguresWindow(QWidget):
    """Works the figures out in the background whenever the show is known anew."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.rows: tuple[Figure, ...] = ()
        self.table = RowTable(HEADS, NUMBERS, stretched=0)
        self.table.setAccessibleName("The show in figures")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(lambda row, *_: self._go(row))
        self._word = faint("Worked out …")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        column.addWidget(self._word)
        column.addWidget(faint(ABOUT))
        session.draw_changed.connect(self.again)
        self.again()

    def again(self) -> None:
        """Work them out anew."""
        session = self._session
        build, draw, drive = session.build, session.draw, session.drive
        if session.dragging:
            return

        def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> tuple[Figure, ...]:
            return show_figures(build, draw, drive, cancelled)

        session.background.start("figures", work, lambda rows: self._show(build, rows), session.refused.emit)

    def _show(self, build: Build, rows: tuple[Figure, ...]) -> None:
        if not isValid(self) or build is not self._session.build:
            return
        self.rows = rows
        with quiet(self.table):
            self.table.show_rows(len(rows), self._texts)
        self.table.fit_columns()
        self._word.setText(self._worst())
        snug(self)

    def _texts(self, number: int) -> tuple[str, ...]:
        row = self.rows[number]
        may = "—" if row.allowed_a is None else f"{amps(row.allowed_a)}{'  ▲' if row.over else ''}"
        when = clock(self._session.build.timeline.begins_s(row.tick))
        return (row.what, amps(row.mean_a), amps(row.peak_a), when, may, lasts(row))

    def _worst(self) -> str:
        """The worst instant and the worst pixel of the strips."""
        draw, build = self._session.draw, self._session.build
        if draw is None or draw.worst_pixel is None or not len(draw.total_a):
            nothing = (
                "No supply feeds the show, and nothing drives its lamps." if build.effects else "There is no show yet."
            )
            return f"{len(self.rows)} rows." if self.rows else nothing
        strip_id, pixel = draw.worst_pixel
        most = clock(draw.timeline.begins_s(draw.worst_tick))
        lowest = clock(draw.timeline.begins_s(int(draw.worst_v.argmin())))
        return (
            f"Strips draw most at {most}, {amps(float(draw.total_a.max()))} together; the lowest pixel is {pixel} of "
            f"{build.line.strip(strip_id).name} at {lowest}, {volts(float(draw.worst_v.min()))}."
        )

    def _go(self, row: int) -> None:
        if 0 <= row < len(self.rows):
            figure = self.rows[row]
            self._session.select_place(replace(figure.place, time_s=None))
            self._session.set_time(self._session.build.timeline.begins_s(figure.tick))
