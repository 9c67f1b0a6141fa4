"""Drafts: the build as it is written while it is open, so that a crash loses nothing.

A draft is a build and a small note beside it that names the file it came from. While the program that keeps it runs it
holds a lock file; a draft whose lock is free was left by a crash, whatever process has its number now.
"""

from __future__ import annotations

import fcntl
import json
import os
import secrets
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from tiny_lantern.model.build import Build
from tiny_lantern.model.disk import clear_temporary, mark_of, read_bytes, write_atomically
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import SUFFIX, dumps, load

MOST_NOTE_BYTES = 100_000


@dataclass(frozen=True)
class Draft:
    """A kept build: where it is, and the file it belongs to (if any)."""

    path: Path
    source: Path | None

    @property
    def note_path(self) -> Path:
        """The note beside the build."""
        return self.path.with_suffix(".json")

    @property
    def lock_path(self) -> Path:
        """The lock that is held while the program that keeps it runs."""
        return self.path.with_suffix(".lock")


class DraftKeeper:
    """Keeps the one draft of this program; the lock is taken with the first one and given back when it is dropped.

    Args:
        folder: where drafts are.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._token = f"draft-{os.getpid()}-{secrets.token_hex(4)}"
        self._lock: int | None = None

    def keep(self, build: Build, source: Path | None) -> None:
        """Write the draft.

        Raises:
            LanternError: the folder cannot be written.
        """
        draft = self._draft(source)
        self._hold(draft)
        write_atomically(draft.path, dumps(build).encode("utf-8"))
        note = {"source": str(source) if source else None}
        write_atomically(draft.note_path, json.dumps(note).encode("utf-8", "surrogateescape"))

    def drop(self) -> None:
        """Remove the draft, which is no longer wanted."""
        draft = self._draft(None)
        for path in (draft.path, draft.note_path, draft.lock_path):
            _removed(path)
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None

    def let_go(self) -> None:
        """Leave the draft for the next start to find."""
        if self._lock is not None:
            os.close(self._lock)
            self._lock = None

    def _draft(self, source: Path | None) -> Draft:
        return Draft(self._folder / f"{self._token}{SUFFIX}", source)

    def _hold(self, draft: Draft) -> None:
        if self._lock is not None:
            return
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            self._lock = os.open(draft.lock_path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            what = f"no draft can be kept here ({error.strerror})"
            raise LanternError(what, str(self._folder), "a folder you may write to") from None


def discard(draft: Draft) -> None:
    """Remove a draft that a crash left and nobody wants."""
    for path in (draft.path, draft.note_path, draft.lock_path):
        _removed(path)


def left_behind(folder: Path) -> Iterator[Draft]:
    """Drafts that a crash left, newest first: readable, and not older than the file they came from.

    Each is read only when it is asked for, since a large one takes its time.
    """
    clear_temporary(folder)
    found: list[tuple[int, Draft]] = []
    for path in folder.glob(f"draft-*{SUFFIX}"):
        draft = Draft(path, _source(path.with_suffix(".json")))
        mark = mark_of(path)
        if mark and not _held(draft.lock_path) and _newer_than_file(mark.changed_ns, draft.source):
            found.append((mark.changed_ns, draft))
    newest_first = sorted(found, key=lambda pair: pair[0], reverse=True)
    return (draft for _, draft in newest_first if _readable(draft.path))


def _source(note: Path) -> Path | None:
    """The file that a note names; None where there is no note or it says nothing that can be used."""
    try:
        said = json.loads(read_bytes(note, MOST_NOTE_BYTES).decode("utf-8"))
        source = said["source"]
        return Path(source) if isinstance(source, str) and source and "\0" not in source else None
    except (LanternError, ValueError, KeyError, TypeError, RecursionError):
        return None


def _newer_than_file(draft_ns: int, source: Path | None) -> bool:
    mark = mark_of(source) if source else None
    return mark is None or draft_ns > mark.changed_ns


def _held(lock: Path) -> bool:
    """Whether a running program holds a lock."""
    try:
        handle = os.open(lock, os.O_RDWR | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def _readable(path: Path) -> bool:
    try:
        load(path)
    except LanternError:
        return False
    return True


def _removed(path: Path) -> None:
    try:
        path.unlink(missing_ok=True)
    except OSError:
        return
