"""What every part of a build has in common: frozen, strict, finite, and revised by making a new one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import fields
from functools import cached_property
from operator import is_
from typing import Annotated, Any, Self, TypeVar

from pydantic import BaseModel, ConfigDict, Field, GetCoreSchemaHandler, StringConstraints, ValidationError
from pydantic_core import CoreSchema

from tiny_lantern.model.faults import first_fault
from tiny_lantern.model.refers import Reference, references


def _end_at_first_fault(schema: Any, inside: bool = False) -> None:
    """Change the lists of one model's schema; a model ``inside`` it has been through this by itself."""
    if isinstance(schema, dict):
        if schema.get("type") == "model":
            if inside:
                return
            inside = True
        if schema.get("type") == "tuple":
            schema["fail_fast"] = True
        for value in schema.values():
            _end_at_first_fault(value, inside)
    elif isinstance(schema, list | tuple):
        for value in schema:
            _end_at_first_fault(value, inside)


class Frozen(BaseModel):
    """An immutable value; unknown fields and numbers that are not finite are refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        """A list that is read ends at its first fault: a file of a million faults costs no more than one of a few."""
        schema = handler(source)
        if not cls.__pydantic_complete__:  # what is made already has been through this
            _end_at_first_fault(schema)
        return schema

    def __iter__(self) -> Iterator[tuple[str, Any]]:  # type: ignore[override]
        """Its fields; what was worked out from them and cached is none."""
        own = self.__dict__
        return ((name, own[name]) for name in type(self).model_fields)

    @cached_property
    def held(self) -> tuple[Reference, ...]:
        """Every reference to something else in the build that it holds, in whatever is inside it too."""
        return tuple(references(self))

    def __getstate__(self) -> dict[Any, Any]:
        """What is sent to another process: its fields alone."""
        return {**super().__getstate__(), "__dict__": dict(self)}

    def __copy__(self) -> Self:
        """A copy that works out anew what was cached, since its fields may be changed at once."""
        copied = super().__copy__()
        for name in copied.__dict__.keys() - type(self).model_fields.keys():
            del copied.__dict__[name]
        return copied


M = TypeVar("M", bound=BaseModel)


def made(kind: type[M], /, **values: Any) -> M:
    """A model with the values that a person gave.

    Raises:
        LanternError: they do not make one, with the place.
    """
    try:
        return kind.model_validate(values)
    except ValidationError as error:
        raise first_fault(error) from None


def revise(model: M, /, **changes: Any) -> M:
    """The same model with some fields changed, validated as if read from a file.

    Raises:
        LanternError: what it would become is none, with the place.
    """
    return made(type(model), **{**dict(model), **changes})


def same_members(one: Sequence[object], other: Sequence[object] | None) -> bool:
    """Whether two sequences hold the very same objects, as two copies of a build do where nothing was changed."""
    return one is other or (other is not None and len(one) == len(other) and all(map(is_, one, other)))


class Lean:
    """A dataclass that is pickled by its fields alone; what was worked out from them is worked out again."""

    def __getstate__(self) -> dict[str, Any]:
        return {field.name: getattr(self, field.name) for field in fields(self)}  # type: ignore[arg-type]


def with_known_members(model: M, known: M | None) -> M:
    """An equal model that holds the very objects of another one wherever they are equal, so that what is remembered by
    identity is found again.

    Args:
        model: the model.
        known: one of the same kind, or None.
    """
    if known is None:
        return model
    same: dict[str, Any] = {}
    for name, value in model:
        other = getattr(known, name)
        if value == other:
            same[name] = other
        elif isinstance(value, tuple):
            by_id = {getattr(member, "id", None): member for member in other}
            same[name] = tuple(_known(member, by_id.get(getattr(member, "id", None))) for member in value)
    return model.model_copy(update=same)


def _known(member: Any, other: Any) -> Any:
    return other if member == other else member


Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9._-]{0,63}$")]
# Marks that turn the reading direction around: what is printed would not be what is held.
TURNING = r"\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069"
PLAIN_LINE = rf"^[^\x00-\x1f\x7f-\x9f\u2028\u2029{TURNING}]*$"
PLAIN_TEXT = rf"^[^\x00-\x08\x0b-\x1f\x7f-\x9f{TURNING}]*$"
Name = Annotated[str, StringConstraints(min_length=1, max_length=120, pattern=PLAIN_LINE)]
Text = Annotated[str, StringConstraints(max_length=20_000, pattern=PLAIN_TEXT)]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9a-f]{6}$")]

Metres = Annotated[float, Field(ge=0, le=10_000)]
Coordinate = Annotated[float, Field(ge=-10_000, le=10_000)]
Degrees = Annotated[float, Field(ge=-3600, le=3600)]
Seconds = Annotated[float, Field(ge=0, le=86_400)]
Volts = Annotated[float, Field(ge=0, le=1000)]
Amps = Annotated[float, Field(ge=0, le=10_000)]
Ohms = Annotated[float, Field(ge=0, le=1e9)]
PositiveOhms = Annotated[float, Field(ge=1e-9, le=1e9)]
Ratio = Annotated[float, Field(ge=0, le=1)]
Money = Annotated[float, Field(ge=0, le=1e6)]
