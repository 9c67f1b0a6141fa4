"""Kinds of a thing that are one file each in a folder: whatever class has a ``kind`` of its own is found by itself."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module
from inspect import getmembers, isclass
from pkgutil import iter_modules
from types import ModuleType
from typing import TypeVar

from tiny_lantern.model.base import Frozen

T = TypeVar("T", bound=Frozen)


def listed_in(package: ModuleType, name: str) -> Iterator[object]:
    """What the files of a package list under a name, file by file.

    Args:
        package: the folder.
        name: the name of the lists; files without one are passed over.
    """
    for info in iter_modules(package.__path__):
        yield from getattr(import_module(f"{package.__name__}.{info.name}"), name, ())


def kinds_in(package: ModuleType, base: type[T]) -> dict[str, type[T]]:
    """The classes of a package's files that are of a sort and have a kind of their own, by it, in the files' order.

    Args:
        package: the folder, whose ``registry`` is the one who asks.
        base: what they are all of.
    """
    found: dict[str, type[T]] = {}
    for info in iter_modules(package.__path__):
        if info.name == "registry":
            continue
        module = import_module(f"{package.__name__}.{info.name}")
        for _, kind in getmembers(module, lambda member: isclass(member) and issubclass(member, base)):
            if kind.__module__ == module.__name__ and not kind.model_fields["kind"].is_required():
                found[kind.model_fields["kind"].default] = kind
    return found
