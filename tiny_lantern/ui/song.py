"""The song of the build in hand, read in the background: its outline and its beats, as long as the file is there."""

from __future__ import annotations

from collections.abc import Callable
from importlib import resources
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtCore import QObject, Signal

if TYPE_CHECKING:
    from PySide6.QtCore import SignalInstance

    from tiny_lantern.model.build import Build
    from tiny_lantern.show.music.beats import Beats
    from tiny_lantern.show.music.sound import Sound
    from tiny_lantern.ui.background import Background

READING = "song"


class Holding(Protocol):
    """What holds a build whose song is read."""

    build_changed: SignalInstance
    warmed: SignalInstance
    refused: SignalInstance
    background: Background

    @property
    def build(self) -> Build:
        """The build in hand."""
        ...


class Song(QObject):
    """What is known of the build's song; ``changed`` when that is something else,
    ``beside`` tells the build's own file.

    Args:
        session: what holds the build.
        parent: what it goes with.
    """

    changed = Signal()

    def __init__(self, session: Holding, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self._file = ""
        self.beside: Callable[[], Path | None] = lambda: None
        self.sound: Sound | None = None
        self.beats: Beats | None = None
        session.build_changed.connect(self._follow)
        session.warmed.connect(self._follow)

    @property
    def missing(self) -> bool:
        """Whether the build names a file that is not there."""
        return bool(self._file) and not self.path.is_file()

    @property
    def path(self) -> Path:
        """Where it is: a name alone is looked for beside the build's file, then among what ships."""
        file, build = Path(self._file), self.beside()
        folders = [build.parent] if build is not None else []
        found = (folder / file for folder in (*folders, Path(str(resources.files("tiny_lantern"))) / "demo"))
        return file if file.is_absolute() else next((each for each in found if each.is_file()), file)

    @property
    def reading(self) -> bool:
        """Whether it is being read."""
        return self._session.background.running(READING)

    def _follow(self) -> None:
        """Read the song of a build that has another."""
        file = self._session.build.music.file
        if file == self._file:
            return
        self._file, self.sound, self.beats = file, None, None
        if file and not self.missing:
            from tiny_lantern.show.music.heard import heard  # only where there is a song

            self._session.background.start_task(
                READING, heard, (self.path,), True, lambda found: self._take(file, found), self._session.refused.emit
            )
        else:
            self._session.background.cancel(READING)
        self.changed.emit()

    def _take(self, file: str, found: Any) -> None:
        if file == self._file:
            self.sound, self.beats = found
            self.changed.emit()
