"""Files on disk: read only what is a regular file of bearable size, write whole or not at all, leave links as links."""

from __future__ import annotations

import os
import re
import stat
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import BinaryIO

from tiny_lantern.model.errors import LanternError

MAX_BYTES = 64_000_000
MARK = ".lantern-"
TEMPORARY = re.compile(r"^\.lantern-(\d+)-.*\.tmp$")
WRITABLE = 0o222


@dataclass(frozen=True)
class FileMark:
    """What tells one state of a file from another: its number on the disk, size, and time of change to the
    nanosecond."""

    inode: int
    size: int
    changed_ns: int


def mark_of(path: Path) -> FileMark | None:
    """The state of a file now; None when it is not there."""
    try:
        found = path.stat()
    except OSError:
        return None
    return FileMark(found.st_ino, found.st_size, found.st_mtime_ns)


def read_bytes(path: Path, most: int = MAX_BYTES) -> bytes:
    """The content of a regular file.

    A pipe or a device is refused without being waited for.

    Args:
        path: the file.
        most: the largest size that is read, in bytes.

    Raises:
        LanternError: it cannot be read, is no regular file, or is too large.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    except OSError as error:
        raise LanternError(f"the file cannot be read ({error.strerror})", str(path)) from None
    except ValueError:
        raise LanternError("this is no name of a file", repr(str(path))[:80]) from None
    try:
        found = os.fstat(handle)
        if not stat.S_ISREG(found.st_mode):
            what = "this is a folder" if stat.S_ISDIR(found.st_mode) else "this is not a regular file"
            raise LanternError(what, path.name, "a .lantern file")
        if found.st_size > most:
            what = f"the file is {found.st_size / 1e6:.0f} MB"
            raise LanternError(what, path.name, f"a file of at most {most / 1e6:.0f} MB")
        with open(handle, "rb", closefd=False) as file:
            return file.read(most)
    except OSError as error:
        raise LanternError(f"the file cannot be read ({error.strerror})", str(path)) from None
    finally:
        os.close(handle)


def write_atomically(path: Path, content: bytes) -> None:
    """Write a file whole or not at all; see ``stream_atomically``.

    Raises:
        LanternError: as there.
    """

    def write(file: BinaryIO) -> None:
        file.write(content)

    stream_atomically(path, write)


def stream_atomically(path: Path, write: Callable[[BinaryIO], None]) -> None:
    """Write beside the target, flush to disk, then put it in place; a link stays a link to the file written.

    Args:
        path: the target.
        write: writes the content into an open file; what it raises leaves the target as it was.

    Raises:
        LanternError: the folder cannot be written, the file is read-only, or its name is too long.
    """
    draft = ""
    try:
        target = _target(path)
        if target.exists() and not target.stat().st_mode & WRITABLE:
            raise LanternError("this file is read-only", str(path), "another name, or the file made writable first")
        if target.is_dir():
            raise LanternError("this is a folder", str(path), "the name of a file")
        target.parent.mkdir(parents=True, exist_ok=True)
        mode = target.stat().st_mode & 0o777 if target.exists() else 0o644
        clear_temporary(target.parent)
        handle, draft = tempfile.mkstemp(prefix=f"{MARK}{os.getpid()}-", suffix=".tmp", dir=target.parent)
        with os.fdopen(handle, "wb") as file:
            write(file)
            file.flush()
            os.fsync(file.fileno())
        os.chmod(draft, mode)
        os.replace(draft, target)
        _flush_folder(target.parent)
    except OSError as error:
        if draft:
            Path(draft).unlink(missing_ok=True)
        told = error.strerror or "the disk refuses it"
        raise LanternError(f"cannot write here ({told})", str(path), "a folder you may write to") from None
    except BaseException:
        if draft:
            Path(draft).unlink(missing_ok=True)
        raise


def _target(path: Path) -> Path:
    """The file that a path leads to.

    Raises:
        LanternError: its links lead in a ring.
    """
    try:
        return path.resolve()
    except RuntimeError:
        raise LanternError("this link leads in a ring", str(path), "the name of a file") from None


def clear_temporary(folder: Path) -> None:
    """Remove what writers that are gone left half written in a folder."""
    try:
        names = [entry.name for entry in os.scandir(folder) if entry.name.startswith(MARK)]
    except OSError:
        return
    for name in names:
        found = TEMPORARY.match(name)
        if found and not process_lives(int(found[1])):
            (folder / name).unlink(missing_ok=True)


def process_lives(number: int) -> bool:
    """Whether a process of that number runs."""
    try:
        os.kill(number, 0)
    except ProcessLookupError:
        return False
    except (PermissionError, OverflowError):
        return True
    return True


def short_name(name: str, most_bytes: int = 120) -> str:
    """A name for a file from what a person called something: no separators, no control characters, not too long.

    Args:
        name: what it is called.
        most_bytes: the longest it may be in UTF-8.
    """
    plain = (
        "".join(" " if ord(letter) < 32 or letter in "/\\\x7f" else letter for letter in name).strip(". ") or "build"
    )
    return plain.encode("utf-8")[:most_bytes].decode("utf-8", "ignore").strip() or "build"


def _flush_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
