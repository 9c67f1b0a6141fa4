"""References by id: declared where the field is, checked and cascaded by one mechanism for all kinds of thing."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from tiny_lantern.model.errors import LanternError

OFFERED = 6
PARTS = "parts."


@dataclass(frozen=True)
class Refers:
    """Said of a field that holds the id of something in a list of the build; what refers goes when that goes."""

    to: str


@dataclass(frozen=True)
class Reference:
    """An id held somewhere in a thing: which, to what list, and where."""

    identity: str
    to: str
    where: str


def references(thing: BaseModel, where: str = "") -> Iterator[Reference]:
    """Every reference that a thing holds, in whatever is inside it too.

    Args:
        thing: the thing.
        where: its own path, before the paths inside it.
    """
    for name, to, inside in _fields(type(thing)):
        value = getattr(thing, name)
        path = f"{where}.{name}" if where else name
        if to is not None:
            if isinstance(value, tuple):
                yield from (Reference(each, to, f"{path}[{number}]") for number, each in enumerate(value))
            elif value is not None:
                yield Reference(value, to, path)
        elif inside and isinstance(value, BaseModel):
            yield from references(value, path)
        elif inside and isinstance(value, tuple):
            for number, item in enumerate(value):
                if isinstance(item, BaseModel):
                    yield from references(item, f"{path}[{number}]")


@cache
def _fields(kind: type[BaseModel]) -> tuple[tuple[str, str | None, bool], ...]:
    """The fields that matter of a kind of thing: name, what list it refers to, whether there may be more inside."""
    found = []
    for name, field in kind.model_fields.items():
        to = _refers_to(field)
        inside = to is None and _holds_models(field.annotation)
        if to is not None or inside:
            found.append((name, to, inside))
    return tuple(found)


@cache
def part_fields(kind: type[BaseModel]) -> dict[str, str]:
    """The fields of a kind of thing that name parts, with the kind of part that each names, in their order."""
    return {name: to.removeprefix(PARTS) for name, to, _ in _fields(kind) if to is not None and to.startswith(PARTS)}


def _refers_to(field: FieldInfo) -> str | None:
    said = [each for each in _metadata(field) if isinstance(each, Refers)]
    return said[0].to if said else None


def _metadata(field: FieldInfo) -> Iterator[Any]:
    yield from field.metadata
    for inner in getattr(field.annotation, "__args__", ()):
        yield from getattr(inner, "__metadata__", ())


def _holds_models(annotation: Any) -> bool:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return any(True for _ in _fields(annotation))
    return any(_holds_models(inner) for inner in getattr(annotation, "__args__", ()))


def check_known(held: Iterable[Reference], where: str, known: Mapping[str, Collection[str]]) -> None:
    """Refuse a thing that refers to what is not there.

    Args:
        held: the references that it holds.
        where: its path.
        known: the ids in each list, by the list's name.

    Raises:
        LanternError: a reference is not found.
    """
    for reference in held:
        ids = known[reference.to]
        if reference.identity not in ids:
            offered = ", ".join(sorted(ids)[:OFFERED]) or "nothing yet; add it first"
            place = f"{where}.{reference.where}"
            raise LanternError(f"nothing here has the id “{reference.identity}”", place, offered)
