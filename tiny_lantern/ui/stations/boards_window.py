"""The boards of a build by their place in the chain: what each is and plays; more of them, their names and order."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import get_args

from PySide6.QtWidgets import QAbstractItemView, QLineEdit, QVBoxLayout, QWidget

from tiny_lantern.catalogue.drawer import offered
from tiny_lantern.findings.driven import use_board
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.data_lines import on_data_lines
from tiny_lantern.model.drive import Board
from tiny_lantern.model.edits_drive import another_board, change_board, remove_board, shift_board
from tiny_lantern.model.listening import Listening, Rate
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, button, combo, faint, quiet, set_choice, show_text, side_by_side
from tiny_lantern.ui.widgets.quantity import QuantityEdit
from tiny_lantern.ui.widgets.row_table import RowTable
from tiny_lantern.ui.widgets.snug import snug

HEADS = ("place", "name", "kind", "drives", "data lines")
ABOUT = (
    "The first board counts the frames and hands each number on; every other plays the frame that it is given, and its "
    "part of the lights. Which board drives a lamp is chosen in Drive, whose data line a strip hangs on in Pieces. A "
    "board by itself can listen to a computer over the cable that loads it (Live board …, in Weave)."
)
ALONE = (
    ("no", None),
    ("yes; without one it plays its own show", "show"),
    ("yes; without one it is dark", "dark"),
    ("yes; without one its light stays", "hold"),
)
FIRST = "board-8bit-small"


class BoardsWindow(QWidget):
    """Follows the build while it is open."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table = RowTable(HEADS, (0,), stretched=3)
        self.table.setAccessibleName("Boards in the chain")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.currentCellChanged.connect(lambda *_: self._show_chosen())
        self.name = QLineEdit()
        self.name.editingFinished.connect(self._rename)
        self.part = combo([], "What it is", self._set_part)
        rows = Rows()
        rows.add("name", self.name)
        rows.add("kind", self.part)
        self.alone = combo(ALONE, "Whether it listens to a computer, and what it does by itself", self._set_alone)
        self.rate = combo([(f"{rate:,} bits a second", rate) for rate in get_args(Rate)], "How quick its line is",
                          lambda rate: self._set_listening(bits_per_s=rate))  # fmt: skip
        self.alone_s = QuantityEdit("silence", "s", lambda value: f"{value:g} s")
        self.alone_s.setToolTip("After how long without a word from the computer it is on its own again")
        self.alone_s.entered.connect(lambda value: self._set_listening(alone_s=value))
        self.alone_s.faulty.connect(session.refused.emit)
        rows.add("listens to a computer", self.alone)
        rows.add("line", self.rate)
        rows.add("silence", self.alone_s)
        self.add = button("Another board", self._add, tip="The last in the chain; it drives nothing yet")
        self.earlier = button("Earlier", partial(self._move, -1), "small", "One place nearer to the first")
        self.later = button("Later", partial(self._move, 1), "small", "One place nearer to the last")
        self.remove = button("Remove", self._remove, "small", "With what it drives; the lamps stay, undriven")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        column.addLayout(rows.grid)
        column.addLayout(side_by_side(self.add, self.earlier, self.later, self.remove))
        about = faint(ABOUT)
        about.setWordWrap(True)
        column.addWidget(about)
        session.build_changed.connect(self.refresh)
        session.drawers.changed.connect(self.refresh)
        self.refresh()

    @property
    def chosen(self) -> Board | None:
        """The board whose row is chosen; the first when none is."""
        boards = self._session.build.boards
        row = max(0, self.table.currentRow())
        return boards[min(row, len(boards) - 1)] if boards else None

    def refresh(self) -> None:
        """Show the build in hand."""
        if self._session.dragging:
            return
        texts = rows_of(self._session.build)
        with quiet(self.table):
            self.table.show_rows(len(texts), lambda row: texts[row])
        self.table.fit_columns()
        self._show_chosen()
        snug(self)

    def _show_chosen(self) -> None:
        board = self.chosen
        for widget in (self.name, self.part, self.earlier, self.later, self.remove, self.alone):
            widget.setEnabled(board is not None)
        listens = board.listens if board is not None else None
        for widget in (self.rate, self.alone_s):
            widget.setEnabled(listens is not None)
        with quiet(self.alone), quiet(self.rate):
            set_choice(self.alone, listens.alone if listens else None)
            set_choice(self.rate, (listens or Listening()).bits_per_s)
        self.alone_s.show_value((listens or Listening()).alone_s)
        if board is None:
            return
        show_text(self.name, board.name)
        with quiet(self.part):
            self.part.clear()
            for words, part in offered(self._session.parts.of(BoardPart), self._session.drawers.drawer):
                self.part.addItem(words, part.id)
            set_choice(self.part, board.part_id)
        boards = self._session.build.boards
        self.earlier.setEnabled(board.id != boards[0].id)
        self.later.setEnabled(board.id != boards[-1].id)

    def _apply(self, label: str, edit: Callable[[Build], Build], chosen: str | None = None) -> None:
        """Make an edit, and keep a board chosen wherever its row is then."""
        self._session.apply(label, edit)
        ids = [board.id for board in self._session.build.boards]
        if chosen in ids:
            self.table.setCurrentCell(ids.index(chosen), 1)
        self.refresh()

    def _add(self) -> None:
        known = self._session.parts
        usual = self.chosen.part_id if self.chosen is not None else FIRST
        part = known.find(BoardPart, usual)
        self._apply("Added a board", lambda build: another_board(build, part))
        self.table.setCurrentCell(len(self._session.build.boards) - 1, 1)

    def _rename(self) -> None:
        board, text = self.chosen, self.name.text().strip()
        if board is not None and text and text != board.name:
            self._apply("Renamed a board", partial(change_board, board_id=board.id, name=text), board.id)
        self.refresh()

    def _set_part(self, part_id: object) -> None:
        board, part = self.chosen, self._session.parts.find(BoardPart, str(part_id))
        if board is not None:
            self._apply(f"Used a {part.name}", partial(use_board, board_id=board.id, part=part), board.id)

    def _set_alone(self, alone: object) -> None:
        board = self.chosen
        if board is None:
            return
        if alone is None:
            self._apply("Let a board listen no more", partial(change_board, board_id=board.id, listens=None), board.id)
        else:
            self._set_listening(alone=alone)

    def _set_listening(self, **changes: object) -> None:
        board = self.chosen
        if board is not None:
            listens = revise(board.listens or Listening(), **changes)
            self._apply("Let a board listen", partial(change_board, board_id=board.id, listens=listens), board.id)

    def _move(self, by: int) -> None:
        board = self.chosen
        if board is not None:
            self._apply("Moved a board in the chain", partial(shift_board, board_id=board.id, by=by), board.id)

    def _remove(self) -> None:
        board = self.chosen
        if board is not None:
            self._apply("Removed a board with what it drives", partial(remove_board, board_id=board.id))


def rows_of(build: Build) -> list[tuple[str, ...]]:
    """A row for each board: its place, its name, what it is, what it drives, and what hangs on its data lines."""
    lines = on_data_lines(build)
    found: list[tuple[str, ...]] = []
    for place, board in enumerate(build.boards, 1):
        part = build.shelf.find(BoardPart, board.part_id)
        drives = [driver.name for driver in build.drivers if driver.board_id == board.id]
        strips = [piece.name for piece in lines[board.id]]
        found.append((str(place), board.name, part.name, ", ".join(drives) or "—", ", ".join(strips) or "—"))
    return found
