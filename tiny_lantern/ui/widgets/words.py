"""A field for words, in one line or several, that keeps what was typed until it can be used."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QFileDialog, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui import theme
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.widgets.fields import button, plain_tip

LINES_HIGH = 96


@guarded
class _Lines(QPlainTextEdit):
    """Several lines; leaving it or Ctrl+Enter finishes them, Escape gives them up."""

    finished = Signal()
    given_up = Signal()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        if event.reason() != Qt.FocusReason.PopupFocusReason:
            self.finished.emit()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.finished.emit()
        elif event.key() == Qt.Key.Key_Escape and self.document().isModified():
            self.given_up.emit()
        else:
            super().keyPressEvent(event)


class WordsEdit(QWidget):
    """Words that ``read`` understands; what it refuses is told and stays to be mended.

    Args:
        name: what the field is, for messages and for screen readers.
        hint: what can be written.
        read: raises a ValueError for what cannot be used.
        lines: whether they stand in several lines.
        from_file: reads a file into words, where that is offered; raises a LanternError.
        files: which files are offered.
    """

    entered = Signal(str)
    faulty = Signal(object)

    def __init__(
        self, name: str, hint: str, read: Callable[[str], object], lines: bool = False,
        from_file: Callable[[str], str] | None = None, files: str = "",
    ) -> None:  # fmt: skip
        super().__init__()
        self._name, self._hint, self._read = name, hint, read
        self._from_file, self._files = from_file, files
        self._shown = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.field: QLineEdit | _Lines = _Lines() if lines else QLineEdit()
        self.field.setAccessibleName(name)
        self.field.setToolTip(plain_tip(f"{name}: {hint}"))
        if isinstance(self.field, _Lines):
            self.field.setFixedHeight(LINES_HIGH)
            self.field.setFont(theme.font(9))
            self.field.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
            self.field.setTabChangesFocus(True)
            self.field.finished.connect(self._finish)
            self.field.given_up.connect(self._give_up)
        else:
            self.field.editingFinished.connect(self._finish)
        self.setFocusProxy(self.field)
        column.addWidget(self.field)
        if from_file:
            column.addWidget(button("From a file…", self._choose, "small", f"Read {name} from a file"))

    def text(self) -> str:
        """What stands in it."""
        return self.field.toPlainText() if isinstance(self.field, _Lines) else self.field.text()

    def set_text(self, text: str) -> None:
        """Put words in as if they were typed, and use them."""
        if isinstance(self.field, _Lines):
            self.field.setPlainText(text)
        else:
            self.field.setText(text)
        self._finish()

    def show_words(self, text: str) -> None:
        """Show the words in use; what a person is typing, or has yet to mend, is left alone."""
        changed, self._shown = text != self._shown, text
        if self.text() == text:
            self._mark(False)
        elif changed or not (self._modified() or self.field.property("fault")):
            self._put(text)

    def _modified(self) -> bool:
        return self.field.document().isModified() if isinstance(self.field, _Lines) else self.field.isModified()

    def _put(self, text: str) -> None:
        if isinstance(self.field, _Lines):
            self.field.setPlainText(text)
        else:
            self.field.setText(text)
            self.field.setCursorPosition(0)
        self._mark(False)

    def _give_up(self) -> None:
        self._put(self._shown)

    def _finish(self) -> None:
        text = self.text()
        if text == self._shown:
            self._mark(False)
            return
        try:
            self._read(text)
        except ValueError as error:
            if not self.field.property("fault"):
                self.faulty.emit(LanternError(str(error), self._name, self._hint))
            self._mark(True)
            return
        self._mark(False)
        self.entered.emit(text)

    def _choose(self) -> None:
        chosen, _ = QFileDialog.getOpenFileName(self, f"Read {self._name}", "", self._files)
        if chosen and self._from_file:
            self.take_file(chosen)

    def take_file(self, path: str) -> None:
        """Use the words of a file; one that is none is told."""
        assert self._from_file is not None
        try:
            text = self._from_file(path)
        except LanternError as error:
            self.faulty.emit(error)
            return
        self.set_text(text)

    def _mark(self, fault: bool) -> None:
        if bool(self.field.property("fault")) != fault:
            self.field.setProperty("fault", fault)
            self.field.style().unpolish(self.field)
            self.field.style().polish(self.field)
