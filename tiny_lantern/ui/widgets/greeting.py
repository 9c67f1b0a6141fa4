"""What an empty build greets with: a demo, a kind of build to start from, the first piece; and what a crash left."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from tiny_lantern.catalogue.starters import KINDS, starter
from tiny_lantern.model.autosave import Draft, discard
from tiny_lantern.ui.files import DEMOS, Files
from tiny_lantern.ui.widgets.fields import button, faint, heading


class Greeting(QWidget):
    """Three ways in, and a way back after a crash."""

    started = Signal(object, str)
    first_piece = Signal()

    def __init__(self, files: Files) -> None:
        super().__init__()
        self._files = files
        self.setObjectName("surface")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(30, 20, 30, 20)
        self._banner = QVBoxLayout()
        outer.addLayout(self._banner)
        outer.addStretch(1)
        title = heading("What shall glow?")
        title.setStyleSheet("font-size: 24px;")
        title.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        outer.addWidget(title)
        row = QHBoxLayout()
        row.setSpacing(18)
        row.addStretch(1)
        for card in (self._demos(), self._kinds(), self._first()):
            row.addWidget(card)
        row.addStretch(1)
        outer.addSpacing(14)
        outer.addLayout(row)
        outer.addStretch(2)
        self.offer_drafts()

    def _card(self, title: str, text: str) -> tuple[QFrame, QVBoxLayout]:
        frame = QFrame()
        frame.setObjectName("panel")
        frame.setFixedSize(214, 236)
        column = QVBoxLayout(frame)
        column.setContentsMargins(16, 14, 16, 14)
        column.addWidget(heading(title))
        column.addWidget(faint(text))
        column.addSpacing(4)
        return frame, column

    def _demos(self) -> QFrame:
        frame, column = self._card("Look at one that exists", "A whole build with its wires, its snags and its show.")
        for name, title in DEMOS:
            style = "primary" if name == DEMOS[0][0] else ""
            column.addWidget(button(title, partial(self._files.open_demo, name), style))
        column.addStretch(1)
        return frame

    def _kinds(self) -> QFrame:
        frame, column = self._card("Start from a kind", "One strip, fed and lit, to change as you like.")
        for number, (title, *_) in enumerate(KINDS):
            column.addWidget(button(title, partial(self._start, number)))
        column.addStretch(1)
        return frame

    def _first(self) -> QFrame:
        frame, column = self._card("Add the first piece", "Begin with an empty Line and a strip of your own.")
        self.add_first = button("Add a strip", self.first_piece.emit)
        column.addWidget(self.add_first)
        column.addWidget(button("Open a file …", lambda: self._files.ask_open()))
        for path in self._files.recent[:3]:
            column.addWidget(button(path.stem[:24], partial(self._files.open, path), "link", str(path)))
        column.addStretch(1)
        return frame

    def _start(self, kind: int) -> None:
        self.started.emit(starter(kind), KINDS[kind][0].lower())

    def _discard(self, draft: Draft, frame: QFrame) -> None:
        discard(draft)
        frame.hide()

    def offer_drafts(self) -> None:
        """Offer each build that a crash left behind."""
        for draft in self._files.left_behind():
            frame = QFrame()
            frame.setObjectName("banner")
            row = QHBoxLayout(frame)
            origin = draft.source.name if draft.source else "a build that was never saved"
            row.addWidget(faint(f"The program stopped before this was saved: {origin}."), 1)
            row.addWidget(button("Recover it", partial(self._files.recover, draft), "primary"))
            row.addWidget(button("Discard", partial(self._discard, draft, frame)))
            self._banner.addWidget(frame)
