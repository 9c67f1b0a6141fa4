"""Reading and writing ``.lantern`` files: plain JSON, checked whole before anything changes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from tiny_lantern.model.build import FORMAT, VERSION, Build
from tiny_lantern.model.disk import read_bytes, write_atomically
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.faults import first_fault
from tiny_lantern.model.migrations import MIGRATIONS, Migration

SUFFIX = ".lantern"
MOST_BYTES = 32_000_000
MOST_FIELDS = 400_000
MOST_VALUES = 1_000_000
HOLDERS = (list, dict)
COUNTED = (('":', MOST_FIELDS, "fields"), ("{", MOST_FIELDS, "objects"), ("[", MOST_FIELDS, "lists"),
           (",", MOST_VALUES, "values"))  # fmt: skip


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
    return from_dict(parsed(text, name), name)


def from_dict(data: Any, name: str = "the data", migrations: dict[int, Migration] | None = None) -> Build:
    """A build from plain JSON values, brought up to this version first.

    Raises:
        LanternError: as ``loads``.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LanternError("this is not a Tiny Lantern build", name, f"a file whose “format” is “{FORMAT}”")
    try:
        current = _migrated(data, name, MIGRATIONS if migrations is None else migrations)
        return Build.model_validate(with_tuples(current), strict=True)
    except ValidationError as error:
        raise first_fault(error, name) from None
    except RecursionError:
        raise LanternError("brackets are nested too deeply", name, "a .lantern file") from None


def load(path: Path) -> Build:
    """Read a build from a file.

    Raises:
        LanternError: the file cannot be read or is not a build, with the place.
    """
    content = read_bytes(path, MOST_BYTES)
    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError as error:
        raise LanternError(f"byte {error.start} is not UTF-8 text", path.name, "a UTF-8 .lantern file") from None
    return loads(text.removeprefix("\ufeff"), path.name)


def save(build: Build, path: Path) -> None:
    """Write a build so that the file holds either the old or the new one whole, never a part.

    Raises:
        LanternError: the folder cannot be written.
    """
    write_atomically(path, dumps(build).encode("utf-8"))


def parsed(text: str, name: str) -> Any:
    """The JSON values of a text of bearable size, no field twice in one object.

    Args:
        text: a file's content.
        name: how messages call it.

    Raises:
        LanternError: it is no JSON, with the place.
    """
    for sign, most, what in COUNTED:  # before anything is made of it
        count = text.count(sign)
        if count > most:
            raise LanternError(f"the file holds about {count:,} {what}", name, f"a build of at most {most:,}")
    try:
        return json.loads(text, object_pairs_hook=_no_twice)
    except json.JSONDecodeError as error:
        where = f"{name}, line {error.lineno} column {error.colno}"
        what = "the file ends too early" if error.pos >= len(text.rstrip()) - 1 else "this is not JSON from here on"
        raise LanternError(what, where, "a whole .lantern file") from None
    except RecursionError:
        raise LanternError("brackets are nested too deeply", name, "a .lantern file") from None
    except LanternError as error:
        raise LanternError(error.what, name, error.accepted) from None
    except ValueError:
        raise LanternError("a number has too many digits", name, "numbers that fit a physical size") from None


def _no_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if key in found:
            raise LanternError(f"the field “{key[:40]}” stands twice in one object", "", "each field once")
        found[key] = value
    return found


def with_tuples(value: Any) -> Any:
    """JSON's lists as the tuples that the models hold, so that reading can be strict: no text taken for a number."""
    if isinstance(value, list):
        return tuple([with_tuples(item) if item.__class__ in HOLDERS else item for item in value])
    if isinstance(value, dict):
        return {key: with_tuples(item) if item.__class__ in HOLDERS else item for key, item in value.items()}
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
