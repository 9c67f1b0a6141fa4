"""Edits that serve every station: fresh ids, parts kept with the build, finding and replacing one item."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from typing import Any, Protocol, TypeVar, runtime_checkable

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.references import LIST_FIELDS, all_ids

Edit = Callable[[Build], Build]


@runtime_checkable
class Shrinks(Protocol):
    """Something that can do without some of what it refers to."""

    def without(self, ids: Collection[str]) -> object | None:
        """What is left of it; None when nothing is."""
        ...


T = TypeVar("T")


def fresh_id(build: Build, stem: str) -> str:
    """An id made from a name that nothing in the build has yet."""
    return fresh(stem, {identity for identity, _ in all_ids(build)})


def fresh_family(build: Build, stem: str) -> str:
    """An id made from a name that nothing has yet, nor anything that is numbered after it (``id-3``)."""
    taken = {identity for identity, _ in all_ids(build)}
    heads = {identity.rpartition("-")[0] for identity in taken if identity.rpartition("-")[2].isdigit()}
    return fresh(stem, taken | heads)


def fresh(stem: str, taken: Collection[str]) -> str:
    """An id made from a name that is not taken."""
    base = re.sub(r"[^a-z0-9]+", "-", stem.lower()).strip("-")[:48] or "item"
    if base not in taken:
        return base
    number = 2
    while f"{base}-{number}" in taken:
        number += 1
    return f"{base}-{number}"


def with_part(build: Build, part: Part) -> Build:
    """The build with a part of its own; nothing changes when it is there already."""
    if any(known.id == part.id for known in build.parts):
        return build
    return revise(build, parts=(*build.parts, part))


def change_parts(build: Build, *parts: Part) -> Build:
    """The build with parts in place of its own ones of the same ids, others added."""
    changed = {part.id: part for part in parts}
    kept = tuple(changed.pop(part.id, part) for part in build.parts)
    return revise(build, parts=(*kept, *changed.values()))


def without_all(build: Build, identity: str) -> Build:
    """The build without a thing, and without whatever refers to it or to what goes with it."""
    gone, more = {identity}, True
    while more:
        refers = {
            thing.id
            for field in LIST_FIELDS
            for thing in getattr(build, field)
            if thing.id not in gone and _left(thing, gone) is None
        }
        gone, more = gone | refers, bool(refers)
    kept = {
        field: tuple(left for thing in getattr(build, field) if (left := _left(thing, gone)) is not None)
        for field in LIST_FIELDS
    }
    return revise(build, **kept)


def _left(thing: Any, gone: set[str]) -> Any:
    """What is left of a thing without those that go: itself, less of it where it can do with less, or nothing."""
    if thing.id in gone:
        return None
    if not any(reference.identity in gone for reference in thing.held):
        return thing
    return thing.without(gone) if isinstance(thing, Shrinks) else None


def item(items: tuple[T, ...], identity: str, what: str) -> T:
    """The item with an id.

    Raises:
        LanternError: there is none.
    """
    for candidate in items:
        if candidate.id == identity:  # type: ignore[attr-defined]
            return candidate
    raise LanternError(f"there is no {what} “{identity}” in this build", what, "one that is listed")


def replaced(items: tuple[T, ...], identity: str, new: T) -> tuple[T, ...]:
    """The items with the one of that id replaced."""
    return tuple(new if old.id == identity else old for old in items)  # type: ignore[attr-defined]


def without(items: tuple[T, ...], identity: str) -> tuple[T, ...]:
    """The items but the one of that id."""
    return tuple(old for old in items if old.id != identity)  # type: ignore[attr-defined]


def shifted(items: tuple[T, ...], identity: str, by: int) -> tuple[T, ...]:
    """The items with one moved by some places, stopping at the ends."""
    order = list(items)
    at = next(number for number, old in enumerate(order) if old.id == identity)  # type: ignore[attr-defined]
    moved = order.pop(at)
    order.insert(max(0, min(len(order), at + by)), moved)
    return tuple(order)


def change_build(build: Build, **changes: Any) -> Build:
    """The build with some of its own fields changed: name, notes, site, limits, data, tick, length of the show."""
    return revise(build, **changes)


def numbered_name(name: str, taken: set[str]) -> str:
    """A name like another that nothing has yet: ``West rail`` gives ``West rail 2``, that one ``West rail 3``."""
    stem, _, last = name.rpartition(" ")
    stem, number = (stem, int(last)) if stem and last.isdecimal() and len(last) < 6 else (name, 1)
    while True:
        number += 1
        tail = f" {number}"
        made = f"{stem[: 120 - len(tail)]}{tail}"
        if made not in taken:
            return made
