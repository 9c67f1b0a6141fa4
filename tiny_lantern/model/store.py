"""Reading and writing ``.lantern`` files: plain JSON, checked whole before anything changes."""

from __future__ import annotations

import json
import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from tiny_lantern.model.build import FORMAT, VERSION, Build
from tiny_lantern.model.errors import LanternError

SUFFIX = ".lantern"
MAX_BYTES = 16_000_000
Migration = Callable[[dict[str, Any]], dict[str, Any]]
MIGRATIONS: dict[int, Migration] = {}


def dumps(build: Build) -> str:
    """The build as text: fields in their declared order, two spaces, a newline at the end."""
    return json.dumps(build.model_dump(mode="json"), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def loads(text: str, name: str = "the text") -> Build:
    """Read a build from text.

    Args:
        text: a ``.lantern`` file's content.
        name: how messages call it.

    Raises:
        LanternError: it is not a build that this version understands, with the place.
    """
    return from_dict(_parse(text, name), name)


def from_dict(data: Any, name: str = "the data", migrations: dict[int, Migration] | None = None) -> Build:
    """A build from plain JSON values, brought up to this version first.

    Raises:
        LanternError: as ``loads``.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LanternError("this is not a Tiny Lantern build", name, f"a file whose “format” is “{FORMAT}”")
    try:
        current = _migrated(data, name, MIGRATIONS if migrations is None else migrations)
        return Build.model_validate(_with_tuples(current), strict=True)
    except ValidationError as error:
        raise _first_fault(error, name) from None
    except RecursionError:
        raise LanternError("brackets are nested too deeply", name, "a .lantern file") from None


def load(path: Path) -> Build:
    """Read a build from a file.

    Raises:
        LanternError: the file cannot be read or is not a build, with the place.
    """
    try:
        size = path.stat().st_size
        if size > MAX_BYTES:
            what = f"the file is {size / 1e6:.0f} MB"
            raise LanternError(what, path.name, f"a build of at most {MAX_BYTES / 1e6:.0f} MB")
        text = path.read_bytes().decode("utf-8")
    except OSError as error:
        raise LanternError(f"the file cannot be read ({error.strerror})", str(path)) from None
    except UnicodeDecodeError as error:
        raise LanternError(f"byte {error.start} is not UTF-8 text", path.name, "a UTF-8 .lantern file") from None
    return loads(text.removeprefix("\ufeff"), path.name)


def save(build: Build, path: Path) -> None:
    """Write a build so that the file holds either the old or the new one whole, never a part.

    Raises:
        LanternError: the folder cannot be written.
    """
    write_atomically(path, dumps(build).encode("utf-8"))


def write_atomically(path: Path, content: bytes) -> None:
    """Write beside the target, flush to disk, then put it in place.

    Raises:
        LanternError: the folder cannot be written.
    """
    draft = ""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, draft = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".tmp", dir=path.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        if path.exists():
            os.chmod(draft, path.stat().st_mode & 0o777)
        else:
            os.chmod(draft, 0o644)
        os.replace(draft, path)
    except OSError as error:
        if draft:
            Path(draft).unlink(missing_ok=True)
        raise LanternError(f"cannot write here ({error.strerror})", str(path), "a folder you may write to") from None


def _parse(text: str, name: str) -> Any:
    try:
        return json.loads(text, object_pairs_hook=_no_twice)
    except json.JSONDecodeError as error:
        where = f"{name}, line {error.lineno} column {error.colno}"
        what = "the file ends too early" if error.pos >= len(text.rstrip()) - 1 else f"not JSON: {error.msg.lower()}"
        raise LanternError(what, where, "a whole .lantern file") from None
    except RecursionError:
        raise LanternError("brackets are nested too deeply", name, "a .lantern file") from None
    except LanternError as error:
        raise LanternError(error.what, name, error.accepted) from None
    except ValueError:
        raise LanternError("a number has too many digits", name, "numbers that fit a physical size") from None


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        names = [key for key, _ in pairs]
        twice = next(key for key in names if names.count(key) > 1)
        raise LanternError(f"the field “{twice}” stands twice in one object", "", "each field once")
    return found


def _with_tuples(value: Any) -> Any:
    """JSON's lists as the tuples that the models hold, so that reading can be strict: no text taken for a number."""
    if isinstance(value, list):
        return tuple(_with_tuples(item) for item in value)
    if isinstance(value, dict):
        return {key: _with_tuples(item) for key, item in value.items()}
    return value


def _migrated(data: dict[str, Any], name: str, migrations: dict[int, Migration]) -> dict[str, Any]:
    version = data.get("version")
    if not isinstance(version, int) or isinstance(version, bool):
        raise LanternError("the version is missing", f"{name}: version", f"a whole number up to {VERSION}")
    if version > VERSION:
        what = f"the file is of version {version}, made by a newer Tiny Lantern"
        raise LanternError(what, f"{name}: version", f"up to version {VERSION}; please update the program")
    while version < VERSION:
        if version not in migrations:
            raise LanternError(f"version {version} was never in use", f"{name}: version", f"version {VERSION}")
        data = migrations[version](data)
        version += 1
        data = {**data, "version": version}
    return data


def _first_fault(error: ValidationError, name: str) -> LanternError:
    faults = error.errors(include_url=False)
    fault = faults[0]
    cause = fault.get("ctx", {}).get("error")
    more = f" (and {len(faults) - 1} more)" if len(faults) > 1 else ""
    if isinstance(cause, LanternError):
        return LanternError(cause.what + more, f"{name}: {cause.where}", cause.accepted)
    given = fault.get("input")
    what = fault["msg"].removeprefix("Value error, ")
    shown = f", not {str(given)[:40]}" if isinstance(given, int | float | str) else ""
    return LanternError(f"{what[0].lower()}{what[1:]}{shown}{more}", f"{name}: {path_text(fault['loc'])}")


def path_text(location: tuple[int | str, ...]) -> str:
    """A place in the file, e.g. ``strips[0].pitch_m``."""
    text = ""
    for step in location:
        text += f"[{step}]" if isinstance(step, int) else f".{step}"
    return text.removeprefix(".") or "the whole file"
