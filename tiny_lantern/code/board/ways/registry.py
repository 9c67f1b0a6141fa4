"""What each way to drive does at its pins: whatever file of this folder has its ``KINDS`` and ``doings`` for them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType

from tiny_lantern.code.board import ways
from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Doing
from tiny_lantern.model.drive import Driver


@cache
def carried_out() -> dict[type[Driver], ModuleType]:
    """What is written for each way to drive."""
    modules = [import_module(f"{ways.__name__}.{info.name}") for info in iter_modules(ways.__path__)]
    return {kind: module for module in modules for kind in getattr(module, "KINDS", ())}


def doings_of(at: AtPins) -> Iterator[Doing]:
    """What a driver does: by what is written for its way, else for what that is a kind of.

    Args:
        at: the driver.
    """
    known = carried_out()
    doings: Callable[[AtPins], Iterator[Doing]] = next(
        known[kind] for kind in type(at.driver).__mro__ if kind in known
    ).doings
    return doings(at)
