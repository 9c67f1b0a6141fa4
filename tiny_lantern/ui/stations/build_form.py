"""What belongs to the whole build: its name, where it stands, the show's length and rate, the data line, notes."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QGridLayout, QLineEdit, QPlainTextEdit, QVBoxLayout, QWidget

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import data_outputs
from tiny_lantern.ui.guarded import guarded
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import Rows, combo, heading, quiet, set_choice, show_text
from tiny_lantern.ui.widgets.in_view import InView
from tiny_lantern.ui.widgets.quantity import QuantityEdit


@guarded
class NotesEdit(QPlainTextEdit):
    """Tells when a person has finished writing."""

    left = Signal()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class BuildForm(QWidget):
    """Shows and changes the build's own fields."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("Build"))
        column.addLayout(self._build_fields())
        in_view = InView(self, self.refresh)
        session.build_changed.connect(in_view.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the build's fields."""
        self._show_build(self._session.build)

    def _build_fields(self) -> QGridLayout:
        rows = Rows()
        self.build_name = QLineEdit()
        self.build_name.editingFinished.connect(self._set_build_name)
        self.outdoor = combo([("indoors", False), ("outdoors", True)], "Where it stands", self._set_outdoor)
        self.show_length = QuantityEdit("Length of the show", "s", lambda value: f"{value:g} s")
        self.show_length.entered.connect(lambda v: self._change_build("Changed the length of the show", show_s=v))
        self.tick = QuantityEdit("Frames a second", "Hz", lambda value: f"{value:g} Hz")
        self.tick.entered.connect(lambda v: self._change_build("Changed the frame rate", tick_hz=v))
        self.after = combo(
            [("plays again", "repeat"), ("holds its last frame", "hold"), ("goes dark", "dark")],
            "After its end",
            lambda after: self._change_build("Changed what comes after", after_end=after),
        )
        self.plays = QuantityEdit("How often it plays before that", "", "{:g}".format)
        self.plays.entered.connect(lambda v: self._change_build("Changed how often it plays", plays=int(v)))
        self.wires = combo([("all in turn", False), ("one a strip", True)], "Data outputs", self._set_parallel)
        self.high = combo(
            [("as the board gives it", False), ("level shifter", True)], "High of the data", self._set_high
        )
        self.notes = NotesEdit()
        self.notes.setFixedHeight(56)
        self.notes.setTabChangesFocus(True)
        self.notes.left.connect(self._notes_left)
        for text, field in (("name", self.build_name), ("stands", self.outdoor), ("show", self.show_length),
                            ("frames", self.tick), ("at its end", self.after),
                            ("played", self.plays), ("data", self.wires), ("data high", self.high),
                            ("notes", self.notes)):  # fmt: skip
            rows.add(text, field)
            if isinstance(field, QuantityEdit):
                field.faulty.connect(self._session.refused)
        return rows.grid

    def _show_build(self, build: Build) -> None:
        with quiet(self.build_name, self.outdoor, self.after, self.wires, self.high, self.notes):
            show_text(self.build_name, build.name)
            set_choice(self.outdoor, build.site.outdoor)
            set_choice(self.after, build.after_end)
            set_choice(self.wires, build.data.parallel)
            set_choice(self.high, build.data.shifted)
            if not self.notes.hasFocus() and self.notes.toPlainText() != build.notes:
                self.notes.setPlainText(build.notes)
        self.show_length.show_value(build.show_s)
        self.tick.show_value(build.tick_hz)
        self.plays.show_value(build.plays)
        self.plays.setEnabled(build.after_end != "repeat")

    def _change_build(self, label: str, **changes: Any) -> None:
        self._session.apply(label, partial(change_build, **changes))
        self.refresh()

    def _set_build_name(self) -> None:
        text = self.build_name.text().strip()
        if text and text != self._session.build.name:
            self._change_build("Renamed the build", name=text)

    def _set_outdoor(self, outdoor: object) -> None:
        site = revise(self._session.build.site, outdoor=outdoor)
        self._change_build("Changed where the build stands", site=site)

    def _set_parallel(self, parallel: object) -> None:
        self._session.apply("Changed the data outputs", partial(data_outputs, parallel=bool(parallel)))

    def _set_high(self, shifted: object) -> None:
        data = revise(self._session.build.data, shifted=shifted)
        self._change_build("Changed the data's high", data=data)

    def _notes_left(self) -> None:
        if self.notes.toPlainText() != self._session.build.notes:
            self._change_build("Changed the notes", notes=self.notes.toPlainText())
