"""All ways to drive: whatever file of this folder defines a class of them with a ``kind`` of its own."""

from __future__ import annotations

from importlib import import_module
from inspect import getmembers, isclass
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import ways
from tiny_lantern.model.drive import Driver


def _driver_types() -> dict[str, type[Driver]]:
    found: dict[str, type[Driver]] = {}
    for info in iter_modules(ways.__path__):
        if info.name == "registry":
            continue
        module = import_module(f"{ways.__name__}.{info.name}")
        for _, kind in getmembers(module, lambda member: isclass(member) and issubclass(member, Driver)):
            if kind.__module__ == module.__name__ and not kind.model_fields["kind"].is_required():
                found[kind.model_fields["kind"].default] = kind
    return dict(sorted(found.items(), key=lambda known: known[1].rank))


DRIVER_TYPES: dict[str, type[Driver]] = _driver_types()
if TYPE_CHECKING:
    AnyDriver = Driver
else:
    AnyDriver = Annotated[Union[tuple(DRIVER_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
