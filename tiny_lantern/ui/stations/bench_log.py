"""The log of the bench, and what lamps are seen to do."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from pathlib import Path

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QAbstractItemView, QFileDialog, QLineEdit, QTextBrowser, QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.bench.journal import journal
from tiny_lantern.bench.patterns import pattern_of
from tiny_lantern.bench.sheet import LampSeen, lamps_seen
from tiny_lantern.model.bench import SeenWord
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import short_name, write_atomically
from tiny_lantern.model.edits_bench import log, see
from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import button, faint, quiet, side_by_side
from tiny_lantern.ui.widgets.row_table import RowTable

SEEN: tuple[tuple[str, SeenWord | None], ...] = (
    ("as it should", None), ("dark", "dark"), ("dim", "dim"), ("bright", "bright"), ("lit", "lit"),
)  # fmt: skip
MOST_LINES = 400


class LogPanel(QWidget):
    """The log in order, the newest below; a note is written under it."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: object = None
        self.page = QTextBrowser()
        self.page.setAccessibleName("The log")
        self.page.setStyleSheet("QTextBrowser { background: transparent; border: none; }")
        self.note = QLineEdit()
        self.note.setPlaceholderText("a note …")
        self.note.setAccessibleName("A note for the log")
        self.note.returnPressed.connect(self._write)
        self.save = button("Save …", self._ask, "small", "The log as Markdown")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.page, 1)
        column.addLayout(side_by_side(self.note, self.save))
        session.build_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """The log of the build in hand."""
        entries = self._session.build.bench.log
        if entries is self._shown:
            return
        self._shown = entries
        lines = [f"{entry.at[11:] or '  '}  {entry.text}" for entry in entries[-MOST_LINES:]]
        self.page.setPlainText("\n".join(lines))
        bar = self.page.verticalScrollBar()
        bar.setValue(bar.maximum())
        self.save.setEnabled(bool(entries))

    def _write(self) -> None:
        text = self.note.text().strip()
        if text and self._session.apply("A note in the log", partial(log, kind="note", text=text, at=now())):
            self.note.clear()

    def _ask(self) -> None:
        name = f"{short_name(self._session.build.name)} log.md"
        chosen, _ = QFileDialog.getSaveFileName(self, "Save the log", name, "Markdown (*.md)")
        if chosen:
            self.save_to(Path(chosen))

    def save_to(self, path: Path) -> None:
        """Write the log; a refusal is told.

        Args:
            path: the file.
        """
        try:
            write_atomically(path, journal(self._session.build).encode("utf-8"))
        except LanternError as error:
            self._session.refused.emit(error)
            return
        self._session.say(f"Wrote {path.name}.")


class SeenPanel(QWidget):
    """What each lamp should do in a pattern, and what it is seen to do."""

    look_simulated = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pattern = "dark"
        self._lamps: tuple[LampSeen, ...] = ()
        self._of: object = None
        self.table = RowTable(("lamp", "should be", "is"), (), stretched=0)
        self.table.setAccessibleName("Lamps and what they are seen to do")
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.words = [
            button(text, partial(self.say_of_chosen, word), "small", f"The lamps that are chosen are {text}")
            for text, word in SEEN
        ]
        self.all_well = button("All as they should be", self.say_all_well, "small", "Every lamp of this pattern")
        self.simulated = button("Look", self.look_simulated.emit, "primary", "What the lamps of the practice do")
        self.simulated.hide()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.table, 1)
        column.addLayout(side_by_side(*self.words))
        column.addLayout(side_by_side(self.all_well, self.simulated))
        column.addWidget(faint("Look past bright lamps, not into them."))
        session.build_changed.connect(self.refresh)

    @property
    def pattern(self) -> str:
        """The key of the pattern that is shown."""
        return self._pattern

    def practise(self, on: bool) -> None:
        """Look at simulated lamps, or say what one's own do.

        Args:
            on: whether a fault is hidden.
        """
        for each in (*self.words, self.all_well):
            each.setVisible(not on)
        self.simulated.setVisible(on)

    def keep(self, seen: Mapping[str, str]) -> None:
        """Keep what every lamp was seen to do.

        Args:
            seen: the words by the lamps' names in the circuit.
        """
        off = sum(word in ("dark", "dim") for word in seen.values())
        words = f"{self._pattern}: all lamps looked at, {off} dark or dim."
        edit = partial(see, pattern=self._pattern, seen=seen, words=words, at=now())
        self._session.apply("Looked at all lamps", edit)

    def show_pattern(self, key: str) -> None:
        """Show the lamps in a pattern.

        Args:
            key: the pattern's key.
        """
        self._pattern = key
        self.refresh()

    def refresh(self) -> None:
        """The lamps of the build in hand."""
        build = self._session.build
        if not self.isVisible():
            return
        pattern = pattern_of(build, self._pattern)
        if pattern is None:
            self._show(build, self._pattern, ())
            return
        circuit = (
            build.boards,
            build.drivers,
            build.channels,
            build.supplies,
            build.rails,
            build.pieces,
            self._pattern,
        )
        if circuit == self._of:
            self._show(build, self._pattern, self._lamps)
            return
        self._of = circuit
        take = partial(self._show, build, self._pattern)
        task: Callable[..., object] = lamps_seen
        self._session.background.start_task("seen", task, (build, pattern), False, take, self._session.refused.emit)

    def _show(self, build: Build, pattern: str, lamps: tuple[LampSeen, ...]) -> None:
        if not isValid(self) or pattern != self._pattern:
            return
        self._lamps = lamps
        seen = {look.lamp: look.word for look in self._session.build.bench.looks if look.pattern == pattern}
        chosen = {index.row() for index in self.table.selectionModel().selectedRows()}
        with quiet(self.table):
            self.table.show_rows(len(lamps), lambda row: (lamps[row].name, lamps[row].word,
                                                          seen.get(lamps[row].lamp, "")))  # fmt: skip
        self.table.fit_columns()
        for row in chosen:
            self.table.selectRow(row) if row < len(lamps) else None

    def say_of_chosen(self, word: SeenWord | None) -> None:
        """Say what the lamps that are chosen are seen to do; None is as they should.

        Args:
            word: the word.
        """
        rows = sorted({index.row() for index in self.table.selectionModel().selectedRows()})
        lamps = [self._lamps[row] for row in rows if row < len(self._lamps)]
        if lamps:
            self._say(lamps, word)

    def say_all_well(self) -> None:
        """Say that every lamp does what it should."""
        self._say(list(self._lamps), None)

    def _say(self, lamps: list[LampSeen], word: SeenWord | None) -> None:
        if not lamps:
            return
        one = f"{lamps[0].name} is {word or lamps[0].word}"
        told = one if len(lamps) == 1 else f"{len(lamps)} lamps are {word or 'as they should be'}"
        seen = {lamp.lamp: word or lamp.word for lamp in lamps}
        pattern = pattern_of(self._session.build, self._pattern)
        words = f"{pattern.name if pattern is not None else self._pattern}: {told}."
        edit = partial(see, pattern=self._pattern, seen=seen, words=words, at=now())
        self._session.apply(told, edit)
