"""How each way to drive is wired: whatever file of this folder has its ``KINDS`` and a ``wire`` for them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType

from tiny_lantern.circuit import wires
from tiny_lantern.circuit.wires.hookup import Hookup, Wired
from tiny_lantern.model.drive import Driver

Wire = Callable[[Hookup], Iterator[Wired]]


@cache
def wirings() -> dict[type[Driver], ModuleType]:
    """What is written for each way to drive."""
    modules = [import_module(f"{wires.__name__}.{info.name}") for info in iter_modules(wires.__path__)]
    return {kind: module for module in modules for kind in getattr(module, "KINDS", ())}


def _module_of(driver: Driver) -> ModuleType:
    return next(wirings()[kind] for kind in type(driver).__mro__ if kind in wirings())


def wiring_of(driver: Driver) -> Wire:
    """How a driver is wired: by what is written for its way, else for what that is a kind of.

    Args:
        driver: the driver.
    """
    wire: Wire = _module_of(driver).wire
    return wire


def turn_of(driver: Driver, output: int) -> int | None:
    """In which turn an output is lit where a driver's outputs take turns; None where all may be lit at once. [-]

    Args:
        driver: the driver.
        output: the number of its output. [-]
    """
    turn: Callable[[Driver, int], int] | None = getattr(_module_of(driver), "turn", None)
    return turn(driver, output) if turn is not None else None
