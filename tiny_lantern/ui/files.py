"""Opening, saving, recent files, and the draft that survives a crash."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from importlib import resources
from itertools import islice
from pathlib import Path

from platformdirs import user_state_path
from PySide6.QtCore import QObject, QSettings, Qt, QTimer, Signal
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from tiny_lantern.model import autosave
from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import FileMark, mark_of, short_name
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import SUFFIX, load, loads, save
from tiny_lantern.ui.session import Session

DEMOS = (("pier", "Gull Pier"), ("footbridge", "Heron Footbridge"), ("cloak", "Glow-worm Cloak"))
KEEP_WITHIN_MS = 1000
MOST_RECENT = 8
MOST_DRAFTS = 5
Ask = Callable[[str, tuple[str, ...]], int]


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
    _draft_failed = Signal(str)

    def __init__(self, session: Session, window: QWidget, drafts: Path | None = None) -> None:
        super().__init__(window)
        self._window = window
        self._session = session
        self.path: Path | None = None
        self.ask: Ask = self._ask
        self._mark: FileMark | None = None
        self._saved: Build = self._session.build
        self._kept: Build | None = None
        self._folder = drafts or user_state_path("tiny-lantern", appauthor=False) / "drafts"
        self._keeper = autosave.DraftKeeper(self._folder)
        self._writer = ThreadPoolExecutor(1, "draft")
        self._writing: Future[None] | None = None
        self._closed = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(KEEP_WITHIN_MS)
        self._timer.timeout.connect(self.keep_draft)
        self._draft_failed.connect(self._session.say)
        self._session.build_changed.connect(self._on_build)

    @property
    def unsaved(self) -> bool:
        """Whether the build differs from its file."""
        return self._session.history.current is not self._saved and self._session.history.current != self._saved

    @property
    def recent(self) -> list[Path]:
        """Files opened or saved lately that still exist, newest first."""
        stored = QSettings().value("recent", [])
        names = [stored] if isinstance(stored, str) else list(stored or [])  # type: ignore[call-overload]
        return [Path(name) for name in names if Path(name).exists()][:MOST_RECENT]

    def set_aside(self) -> Path | None:
        """The build that closing set aside, until it was opened or put off; None where nothing was."""
        stored = QSettings().value("set aside", "")
        path = Path(str(stored)) if stored else None
        return path if path is not None and path.is_file() else None

    def forget_aside(self) -> None:
        """Do not offer again what closing set aside; the file stays among the recent ones."""
        QSettings().remove("set aside")

    def left_behind(self) -> list[autosave.Draft]:
        """The newest drafts that a crash left."""
        return list(islice(autosave.left_behind(self._folder), MOST_DRAFTS))

    def look_for_drafts(self) -> None:
        """Say in the status line, once it is known, that a draft waits: reading one may take a while."""
        self._session.background.start(
            "drafts",
            lambda *_: next(autosave.left_behind(self._folder), None),
            self._tell_of_draft,
            self._session.refused.emit,
        )

    def _tell_of_draft(self, draft: autosave.Draft | None) -> None:
        if draft is not None:
            self._session.say("A build from before a crash is kept: menu, Recent, Recover.")

    def new(self) -> None:
        """Start an empty build; the one in hand is set aside when it was not saved."""
        self.take(Build(), None)

    def take(self, build: Build, path: Path | None, mark: FileMark | None = None) -> bool:
        """Take up a build from a file, or from none; refused when the one in hand could not be kept."""
        if self.unsaved and not self.keep_aside():
            return False
        self.path, self._mark = path, mark or (mark_of(path) if path else None)
        self._saved = build
        self._session.open(build)
        if path:
            self._remember(path)
        self._drop_draft()
        self.changed.emit()
        return True

    def keep_aside(self) -> bool:
        """Save the unsaved build in hand under a name of its own, so that opening another loses nothing."""
        aside = self._folder.parent / "set-aside"
        stem = short_name(self._session.history.current.name)
        number = 1
        while (path := aside / f"{stem} {number}{SUFFIX}").exists():
            number += 1
        try:
            save(self._session.history.current, path)
        except LanternError as error:
            self._session.refused.emit(error)
            return False
        self._remember(path)
        QSettings().setValue("set aside", str(path))
        self._session.say(f"Your unsaved build was set aside as {path}.")
        return True

    def open(self, path: Path) -> bool:
        """Open a file; one that cannot be used is told and changes nothing."""
        mark = mark_of(path)
        try:
            build = load(path)
        except LanternError as error:
            self._session.refused.emit(error)
            return False
        if not self.take(build, path, mark):
            return False
        if path == self.set_aside():
            self.forget_aside()
        self._session.say(f"Opened {path.name}.")
        return True

    def open_demo(self, name: str) -> None:
        """Open a build that ships."""
        if self.take(demo_build(name), None):
            self._session.say(f"Opened the demo {self._session.build.name}.")

    def recover(self, draft: autosave.Draft) -> None:
        """Take up a draft that a crash left; it counts as unsaved, and stays until it is kept again."""
        try:
            build = load(draft.path)
        except LanternError as error:
            self._session.refused.emit(error)
            return
        if not self.take(build, draft.source):
            return
        self._saved = Build()
        if self.keep_draft(wait=True):
            autosave.discard(draft)
        self.changed.emit()
        self._session.say(f"Recovered {build.name}; save it to keep it.")

    def save(self) -> bool:
        """Write to the build's file, asking for one when there is none."""
        return self.ask_save() if self.path is None else self.save_to(self.path)

    def save_to(self, path: Path) -> bool:
        """Write to a file; a refusal is told, and a file that someone else changed is not written over unasked."""
        present = mark_of(path)
        theirs = present is not None and path == self.path and present != self._mark
        if theirs and not self._may_replace(path):
            return False
        build = self._session.history.current
        try:
            save(build, path)
        except LanternError as error:
            self._session.refused.emit(error)
            return False
        self.path, self._mark = path, mark_of(path)
        self._saved = build
        self._remember(path)
        self._drop_draft()
        self.changed.emit()
        self._session.say(f"Saved {path.name}.")
        return True

    def _may_replace(self, path: Path) -> bool:
        """What to do about a file that was changed by someone else since it was read or written here."""
        choices = ("Save under another name …", "Replace it with mine", "Do nothing")
        chosen = self.ask(f"{path.name} was changed by another program or window since you opened it.", choices)
        if chosen == 0:
            self.ask_save()
        return chosen == 1

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        chosen, _ = QFileDialog.getOpenFileName(self._window, "Open a build", "", f"Tiny Lantern builds (*{SUFFIX})")
        if chosen:
            self.open(Path(chosen))

    def ask_save(self) -> bool:
        """Ask for a file and save to it."""
        name = f"{short_name(self._session.build.name)}{SUFFIX}"
        chosen, _ = QFileDialog.getSaveFileName(
            self._window, "Save the build", name, f"Tiny Lantern builds (*{SUFFIX})"
        )
        if not chosen:
            return False
        path = Path(chosen)
        if path.suffix != SUFFIX:
            path = path.with_name(path.name + SUFFIX)
            if path.exists() and self.ask(f"{path.name} is there already.", ("Replace it", "Do nothing")) != 0:
                return False
        return self.save_to(path)

    def keep_draft(self, wait: bool = False) -> bool:
        """Write the draft of an unsaved build beside the window's work; with ``wait``, whether it is on the disk."""
        self._timer.stop()
        build = self._session.history.current
        if self._closed:
            return False
        if not self.unsaved:
            self._drop_draft()
            return True
        self._kept = build
        self._writing = self._writer.submit(self._keeper.keep, build, self.path)
        self._writing.add_done_callback(self._told)
        return not wait or self._written()

    def _written(self) -> bool:
        """Wait for the draft on its way; whether it got there."""
        return self._writing is None or self._writing.exception() is None

    def _told(self, done: Future[None]) -> None:
        error = None if done.cancelled() else done.exception()
        if error is not None:
            sentence = error.sentence() if isinstance(error, LanternError) else str(error)
            self._draft_failed.emit(f"No draft could be kept: {sentence}")

    def _drop_draft(self) -> None:
        self._timer.stop()
        self._kept = None
        if self._closed:
            return
        self._writing = self._writer.submit(self._keeper.drop)

    def close(self) -> bool:
        """The window closes by intent: an unsaved build is set aside, the draft dropped. Whether it may close: what
        could not be kept is asked about, and the draft stays."""
        self._timer.stop()
        pristine = self._session.history.current == Build()
        if self.unsaved and not pristine and not self.keep_aside() and not self._lose_or_save():
            self.keep_draft(wait=True)
            return False
        self._closed = True
        self._writer.submit(self._keeper.drop).result()
        self._writer.shutdown()
        return True

    def close_at_once(self) -> None:
        """The window must close without asking: an unsaved build stays as a draft for the next start."""
        self._timer.stop()
        if self.unsaved:
            self.keep_draft(wait=True)
            self._writer.submit(self._keeper.let_go).result()
        else:
            self._writer.submit(self._keeper.drop).result()
        self._closed = True
        self._writer.shutdown()

    def _lose_or_save(self) -> bool:
        """Ask about a build that could not be set aside; whether it is saved now or given up."""
        choices = ("Save under another name …", "Stay here", "Close without it")
        chosen = self.ask("Your build is not saved, and it could not be set aside.", choices)
        return self.ask_save() if chosen == 0 else chosen == 2

    def _ask(self, text: str, choices: tuple[str, ...]) -> int:
        """Ask with buttons; the number of the one pressed, the last but one for none."""
        box = QMessageBox(self._window)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setWindowTitle("Tiny Lantern")
        box.setText(text)
        buttons = [box.addButton(choice, QMessageBox.ButtonRole.ActionRole) for choice in choices]
        box.setEscapeButton(buttons[1] if len(buttons) > 2 and choices[1] == "Stay here" else buttons[-1])
        box.exec()
        pressed = box.clickedButton()
        return next((number for number, made in enumerate(buttons) if made is pressed), len(choices) - 1)

    def _on_build(self) -> None:
        if self._session.dragging or self._closed:
            return
        if not self._timer.isActive():
            self._timer.start()
        self.changed.emit()

    def _remember(self, path: Path) -> None:
        names = [str(path.resolve()), *(str(old) for old in self.recent if old != path.resolve())]
        QSettings().setValue("recent", names[:MOST_RECENT])
