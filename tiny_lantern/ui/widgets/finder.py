"""Find: lamps, pieces, groups, parts, supplies, feeds, effects, snags and commands by a word; one key away."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from tiny_lantern.ui.guarded import guarded

MOST_SHOWN = 40
KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


@dataclass(frozen=True)
class Choice:
    """One line of what was found, and what choosing it does."""

    title: str
    about: str
    act: Callable[[], object]


@guarded
class Finder(QDialog):
    """A line to type in and what it finds below; arrow keys choose, Enter goes there."""

    def __init__(self, look_up: Callable[[str], Sequence[Choice]], parent: QWidget) -> None:
        super().__init__(parent)
        self._look_up = look_up
        self._choices: Sequence[Choice] = ()
        self.setObjectName("surface")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Find")
        self.resize(560, 420)
        self.word = QLineEdit()
        self.word.setPlaceholderText("a lamp by name or number, a piece, a part, a snag, a command")
        self.word.setAccessibleName("Find")
        self.list = QListWidget()
        self.list.setAccessibleName("What was found")
        self.word.textChanged.connect(self._show)
        self.word.returnPressed.connect(self._go)
        self.word.installEventFilter(self)
        self.list.itemActivated.connect(lambda _: self._go())
        self.list.itemClicked.connect(lambda _: self._go())
        column = QVBoxLayout(self)
        column.addWidget(self.word)
        column.addWidget(self.list)
        self._show("")

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Arrow keys go through the list while the line keeps the focus."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in KEYS:
            self.list.event(event)
            return True
        return super().eventFilter(watched, event)

    def _show(self, word: str) -> None:
        self._choices = self._look_up(word)[:MOST_SHOWN]
        self.list.clear()
        for choice in self._choices:
            self.list.addItem(QListWidgetItem(f"{choice.title}   ·   {choice.about}" if choice.about else choice.title))
        if self._choices:
            self.list.setCurrentRow(0)

    def _go(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self._choices):
            self.close()
            self._choices[row].act()
