"""The person's drawer of parts while the program runs: read when first asked for, written at every change."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from platformdirs import user_data_path
from PySide6.QtCore import QObject, Signal

from tiny_lantern.catalogue import drawer as drawers
from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.catalogue.shelf import known_parts
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import FileMark, mark_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.part import Shelf
from tiny_lantern.ui.history import History


class DrawerKeeper(QObject):
    """Holds the drawer with its own steps to take back; what another window wrote meanwhile is read first.

    A file that cannot be read is told once, set aside and never written over.
    """

    changed = Signal()
    said = Signal(str)
    refused = Signal(object)

    def __init__(self, parent: QObject, path: Path | None = None) -> None:
        super().__init__(parent)
        self.path = path or user_data_path("tiny-lantern", appauthor=False) / "parts.json"
        self._history: History[Drawer] | None = None
        self._mark: FileMark | None = None

    @property
    def drawer(self) -> Drawer:
        """The drawer as it stands, what another window wrote meanwhile included."""
        self._read_again()
        return self._steps().current

    @property
    def undo_label(self) -> str | None:
        """What undo would take back."""
        return self._steps().undo_label

    @property
    def redo_label(self) -> str | None:
        """What redo would do again."""
        return self._steps().redo_label

    def parts_for(self, build: Build) -> Shelf:
        """Every part that a build can be given."""
        return known_parts(build, self.drawer)

    def apply(self, label: str, edit: Callable[[Drawer], Drawer]) -> bool:
        """Make one step that can be taken back; a refusal is told and changes nothing."""
        try:
            before = self.drawer
            after = edit(before)
            if after == before:
                return False
            self._write(after)
        except LanternError as error:
            self.refused.emit(error)
            return False
        self._steps().push(label, after)
        self.changed.emit()
        self.said.emit(f"{label}.")
        return True

    def undo(self) -> None:
        """Take the last step back."""
        self._step(self._steps().undo, self._steps().redo, "Took back")

    def redo(self) -> None:
        """Do the step again that was taken back."""
        self._step(self._steps().redo, self._steps().undo, "Did again")

    def _step(self, go: Callable[[], str | None], back: Callable[[], str | None], word: str) -> None:
        label = go()
        if label is None:
            return
        try:
            self._write(self.drawer)
        except LanternError as error:
            back()
            self.refused.emit(error)
            return
        self.changed.emit()
        self.said.emit(f"{word}: {label}.")

    def _steps(self) -> History[Drawer]:
        if self._history is None:
            self._history = History(self._read())
        return self._history

    def _read(self) -> Drawer:
        self._mark = mark_of(self.path)
        try:
            return drawers.load(self.path)
        except LanternError as error:
            aside = self._aside()
            self.refused.emit(LanternError(error.what, error.where, f"the file was set aside as {aside.name}"))
            return Drawer()

    def _aside(self) -> Path:
        """Where a file goes that cannot be read."""
        number = 1
        while (aside := self.path.with_suffix(f".unreadable-{number}.json")).exists():
            number += 1
        try:
            self.path.rename(aside)
        except OSError:
            self.path = self.path.with_suffix(".new.json")
        return aside

    def _read_again(self) -> None:
        """Take up what another window wrote since."""
        if self._history is not None and mark_of(self.path) != self._mark:
            self._history = History(self._read())

    def _write(self, drawer: Drawer) -> None:
        drawers.save(drawer, self.path)
        self._mark = mark_of(self.path)
