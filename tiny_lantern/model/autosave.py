"""Drafts kept while a build is open, so that a crash loses nothing.

A draft is a pair of files in the drafts folder: the build, and a small note that names the process, the file
the build came from, and when it was kept. A draft whose process is gone was left by a crash.
"""

from __future__ import annotations

import json
import os
from dataclasses import dataclass
from pathlib import Path

from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import SUFFIX, dumps, load, write_atomically


@dataclass(frozen=True)
class Draft:
    """A kept build: where it is, which process kept it, and the file it belongs to (if any)."""

    path: Path
    process_id: int
    source: Path | None

    @property
    def note_path(self) -> Path:
        """The note beside the build."""
        return self.path.with_suffix(".json")


def draft_for_this_process(folder: Path, source: Path | None) -> Draft:
    """The one draft that this process keeps."""
    return Draft(folder / f"draft-{os.getpid()}{SUFFIX}", os.getpid(), source)


def keep(draft: Draft, build: Build) -> None:
    """Write the draft.

    Raises:
        LanternError: the folder cannot be written.
    """
    write_atomically(draft.path, dumps(build).encode("utf-8"))
    note = {"process_id": draft.process_id, "source": str(draft.source) if draft.source else None}
    write_atomically(draft.note_path, json.dumps(note).encode("utf-8"))


def drop(draft: Draft) -> None:
    """Remove a draft that is no longer wanted."""
    draft.path.unlink(missing_ok=True)
    draft.note_path.unlink(missing_ok=True)


def left_behind(folder: Path) -> list[Draft]:
    """Readable drafts whose process is gone, newest first."""
    found = []
    for note_path in sorted(folder.glob("draft-*.json"), key=lambda path: path.stat().st_mtime, reverse=True):
        draft = _read_note(note_path)
        if draft and draft.path.exists() and not _alive(draft.process_id) and _readable(draft.path):
            found.append(draft)
    return found


def _read_note(path: Path) -> Draft | None:
    try:
        note = json.loads(path.read_text(encoding="utf-8"))
        source = Path(note["source"]) if note["source"] else None
        return Draft(path.with_suffix(SUFFIX), int(note["process_id"]), source)
    except (OSError, ValueError, KeyError, TypeError):
        return None


def _readable(path: Path) -> bool:
    try:
        load(path)
    except LanternError:
        return False
    return True


def _alive(process_id: int) -> bool:
    try:
        os.kill(process_id, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True
