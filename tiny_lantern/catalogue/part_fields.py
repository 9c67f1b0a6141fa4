"""The fields of a part, laid flat: ``dies.1.forward_v`` for what lies inside it, with their units."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel

from tiny_lantern.model.base import made
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.registry import PART_TYPES
from tiny_lantern.model.quantities import parse_quantity

Flat = dict[str, str | float | bool]
UNITS = (("_ohm_per_m", "ohm/m"), ("_per_m", ""), ("_ohm", "ohm"), ("_mm2", "mm2"), ("_hz", "Hz"), ("_v", "V"),
         ("_a", "A"), ("_w", "W"), ("_m", "m"), ("_s", "s"))  # fmt: skip


@cache
def unit_of(name: str) -> str | None:
    """The unit that the end of a field's name tells; None where it tells none."""
    return next((unit for end, unit in UNITS if name.endswith(end)), None)


def label_of(name: str) -> str:
    """A field's name as a person reads it: ``dies.1.forward_v`` is ``dies 1 forward``, ``cost_per_m`` stays whole."""
    *before, last = name.split(".")
    end = next((end if unit else "" for end, unit in UNITS if last.endswith(end)), "")
    return " ".join([*before, last.removesuffix(end)]).replace("_", " ")


def flat(part: Part) -> Flat:
    """The fields of a part by their path, lists counted from 1; what is not said is left out."""
    found: Flat = {}
    _flatten(part.model_dump(mode="json"), "", found)
    return found


def _flatten(value: Any, path: str, found: Flat) -> None:
    if isinstance(value, dict):
        for name, inner in value.items():
            _flatten(inner, f"{path}.{name}" if path else name, found)
    elif isinstance(value, list):
        for number, inner in enumerate(value, 1):
            _flatten(inner, f"{path}.{number}", found)
    elif value is not None:
        found[path] = value


def with_field(part: Part, name: str, value: str | float | bool | None) -> Part:
    """A part with one of its fields changed.

    Args:
        part: the part.
        name: the field's path, as ``flat`` gives it.
        value: the new value; None takes it away.

    Raises:
        LanternError: what it would become is no part, with the field.
    """
    fields = flat(part)
    fields.pop(name, None)
    if value is not None:
        fields[name] = value
    return unflat(fields)


def unflat(fields: Flat) -> Part:
    """The part that has these fields; texts are read as the field wants them, quantities as people write them.

    Raises:
        LanternError: they make no part, with the field.
    """
    kind = PART_TYPES.get(str(fields.get("kind", "")))
    if kind is None:
        raise LanternError(f"“{fields.get('kind', '')}” is no kind of part", "kind", ", ".join(sorted(PART_TYPES)))
    return made(kind, **_nested({name: _value(name, value) for name, value in fields.items()}))


@lru_cache(maxsize=10_000, typed=True)
def _value(name: str, value: str | float | bool) -> str | float | bool:
    unit = unit_of(name)
    return parse_quantity(value, unit, name) if unit is not None and isinstance(value, str) else value


def _nested(fields: Flat) -> dict[str, Any]:
    """Fields by path as objects in objects; numbered ones become lists."""
    tree: dict[str, Any] = {}
    for path, value in fields.items():
        *way, last = path.split(".")
        at = tree
        for step in way:
            at = at.setdefault(step, {})
            if not isinstance(at, dict):
                raise LanternError(f"“{step}” is a value and holds no fields", path, "the field by itself")
        at[last] = value
    return {name: _lists(value) for name, value in tree.items()}


def _lists(value: Any) -> Any:
    if not isinstance(value, dict):
        return value
    inner = {name: _lists(each) for name, each in value.items()}
    if inner and all(name.isdecimal() for name in inner):
        return tuple(inner[name] for name in sorted(inner, key=int))
    return inner


@dataclass(frozen=True)
class PartField:
    """A field of a part as it is shown: its path, its value, its unit where it has one, the values it may take where
    they are few, and whether it may be left empty."""

    path: str
    value: str | float | bool | None
    unit: str | None
    choices: tuple[str | bool, ...]
    optional: bool

    @property
    def label(self) -> str:
        """Its name as a person reads it."""
        return label_of(self.path)


def fields_of(part: Part) -> list[PartField]:
    """Every field of a part that holds a value by itself, but for its kind and id; those not said are empty."""
    return plain_fields(part, ("kind", "id"))


def plain_fields(model: BaseModel, but: Collection[str] = ()) -> list[PartField]:
    """Every field of a model that holds a value by itself, but for some."""
    return [field for field in _fields(model, "") if field.path.split(".")[0] not in but]


def _fields(value: Any, path: str, annotation: Any = None) -> Iterator[PartField]:
    if isinstance(value, BaseModel):
        for name, info in type(value).model_fields.items():
            yield from _fields(getattr(value, name), f"{path}.{name}" if path else name, info.annotation)
    elif isinstance(value, tuple):
        for number, each in enumerate(value, 1):
            yield from _fields(each, f"{path}.{number}", next(iter(get_args(annotation)), None))
    elif value is not None or not _is_model(annotation):
        optional = type(None) in get_args(annotation)
        yield PartField(path, value, unit_of(path), _choices(value, annotation), optional)


def _is_model(annotation: Any) -> bool:
    return any(isinstance(each, type) and issubclass(each, BaseModel) for each in get_args(annotation))


def _choices(value: Any, annotation: Any) -> tuple[str | bool, ...]:
    if isinstance(value, bool):
        return (True, False)
    plain = [annotation, *get_args(annotation)]
    found = next((each for each in plain if get_origin(each) is Literal), None)
    return tuple(get_args(found)) if found is not None else ()
