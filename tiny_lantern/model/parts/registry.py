"""All kinds of part: whatever file of this folder defines a class of parts with a ``kind`` of its own."""

from __future__ import annotations

from importlib import import_module
from inspect import getmembers, isclass
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import parts
from tiny_lantern.model.parts.part import Part


def _part_types() -> dict[str, type[Part]]:
    found: dict[str, type[Part]] = {}
    for info in iter_modules(parts.__path__):
        if info.name == "registry":
            continue
        module = import_module(f"{parts.__name__}.{info.name}")
        for _, kind in getmembers(module, lambda member: isclass(member) and issubclass(member, Part)):
            if kind.__module__ == module.__name__ and kind is not Part:
                found[kind.model_fields["kind"].default] = kind
    return found


PART_TYPES: dict[str, type[Part]] = _part_types()
if TYPE_CHECKING:
    AnyPart = Part
else:
    AnyPart = Annotated[Union[tuple(PART_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
