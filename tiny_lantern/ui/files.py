"""Opening, saving, recent files, and the draft that survives a crash."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from platformdirs import user_state_path
from PySide6.QtCore import QObject, QSettings, QTimer, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from tiny_lantern.model import autosave
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import SUFFIX, load, loads, save
from tiny_lantern.ui.session import Session

DEMOS = (("footbridge", "Heron Footbridge"), ("cloak", "Glow-worm Cloak"))
KEEP_AFTER_MS = 1500
MOST_RECENT = 8


def demo_build(name: str) -> Build:
    """A build that ships.

    Raises:
        LanternError: there is none of that name.
    """
    source = resources.files("tiny_lantern.demo") / f"{name}{SUFFIX}"
    if not source.is_file():
        raise LanternError(f"there is no demo “{name}”", "--demo", ", ".join(name for name, _ in DEMOS))
    return loads(source.read_text(encoding="utf-8"), f"demo {name}")


class Files(QObject):
    """Ties the session to the file it came from."""

    changed = Signal()

    def __init__(self, session: Session, window: QWidget, drafts: Path | None = None) -> None:
        super().__init__(window)
        self._window = window
        self._session = session
        self.path: Path | None = None
        self._saved: Build = self._session.build
        self._folder = drafts or user_state_path("tiny-lantern", appauthor=False) / "drafts"
        self._draft = autosave.draft_for_this_process(self._folder, None)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(KEEP_AFTER_MS)
        self._timer.timeout.connect(self.keep_draft)
        self._session.build_changed.connect(self._on_build)

    @property
    def unsaved(self) -> bool:
        """Whether the build differs from its file."""
        return self._session.history.current != self._saved

    @property
    def recent(self) -> list[Path]:
        """Files opened or saved lately that still exist, newest first."""
        stored = QSettings().value("recent", [])
        names = [stored] if isinstance(stored, str) else list(stored or [])  # type: ignore[call-overload]
        return [Path(name) for name in names if Path(name).exists()][:MOST_RECENT]

    def left_behind(self) -> list[autosave.Draft]:
        """Drafts that a crash left."""
        return autosave.left_behind(self._folder)

    def new(self) -> None:
        """Start an empty build; the one in hand stays as a draft until it is saved or the window closes."""
        self.take(Build(), None)

    def take(self, build: Build, path: Path | None) -> None:
        """Take up a build from a file, or from none."""
        if self.unsaved:
            self.keep_aside()
        self.path = path
        self._saved = build
        self._session.open(build)
        if path:
            self._remember(path)
        autosave.drop(self._draft)
        self._draft = autosave.draft_for_this_process(self._folder, path)
        self.changed.emit()

    def keep_aside(self) -> None:
        """Save the unsaved build in hand under a name of its own, so that opening another loses nothing."""
        aside = self._folder.parent / "set-aside"
        number = 1
        while (path := aside / f"{self._session.build.name[:60].replace('/', '-')} {number}{SUFFIX}").exists():
            number += 1
        try:
            save(self._session.history.current, path)
        except LanternError as error:
            self._session.refused.emit(error)
            return
        self._remember(path)
        self._session.say(f"Your unsaved build was set aside as {path}.")

    def open(self, path: Path) -> bool:
        """Open a file; one that cannot be used is told and changes nothing."""
        try:
            build = load(path)
        except LanternError as error:
            self._session.refused.emit(error)
            return False
        self.take(build, path)
        self._session.say(f"Opened {path.name}.")
        return True

    def open_demo(self, name: str) -> None:
        """Open a build that ships."""
        self.take(demo_build(name), None)
        self._session.say(f"Opened the demo {self._session.build.name}.")

    def recover(self, draft: autosave.Draft) -> None:
        """Take up a draft that a crash left; it counts as unsaved."""
        try:
            build = load(draft.path)
        except LanternError as error:
            self._session.refused.emit(error)
            return
        self.take(build, draft.source)
        self._saved = Build()
        autosave.drop(draft)
        self.keep_draft()
        self.changed.emit()
        self._session.say(f"Recovered {build.name}; save it to keep it.")

    def save(self) -> bool:
        """Write to the build's file, asking for one when there is none."""
        return self.ask_save() if self.path is None else self.save_to(self.path)

    def save_to(self, path: Path) -> bool:
        """Write to a file; a refusal is told."""
        try:
            save(self._session.history.current, path)
        except LanternError as error:
            self._session.refused.emit(error)
            return False
        self.path = path
        self._saved = self._session.history.current
        self._remember(path)
        autosave.drop(self._draft)
        self.changed.emit()
        self._session.say(f"Saved {path.name}.")
        return True

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        chosen, _ = QFileDialog.getOpenFileName(self._window, "Open a build", "", f"Tiny Lantern builds (*{SUFFIX})")
        if chosen:
            self.open(Path(chosen))

    def ask_save(self) -> bool:
        """Ask for a file and save to it."""
        name = f"{self._session.build.name.replace('/', '-')}{SUFFIX}"
        chosen, _ = QFileDialog.getSaveFileName(
            self._window, "Save the build", name, f"Tiny Lantern builds (*{SUFFIX})"
        )
        if not chosen:
            return False
        path = Path(chosen)
        return self.save_to(path if path.suffix == SUFFIX else path.with_name(path.name + SUFFIX))

    def keep_draft(self) -> None:
        """Write the draft of an unsaved build."""
        self._timer.stop()
        if not self.unsaved:
            autosave.drop(self._draft)
            return
        try:
            autosave.keep(self._draft, self._session.history.current)
        except LanternError as error:
            self._session.say(f"No draft could be kept: {error.sentence()}")

    def close(self) -> None:
        """The window closes by intent: an unsaved build is set aside, the draft is dropped."""
        self._timer.stop()
        if self.unsaved and self._session.history.current != Build():
            self.keep_aside()
        autosave.drop(self._draft)

    def _on_build(self) -> None:
        if not self._session.dragging:
            self._timer.start()
            self.changed.emit()

    def _remember(self, path: Path) -> None:
        names = [str(path.resolve()), *(str(old) for old in self.recent if old != path.resolve())]
        QSettings().setValue("recent", names[:MOST_RECENT])
