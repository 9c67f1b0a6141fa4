"""How each kind of input is wired: whatever file of this folder has its ``KINDS`` and a ``wire`` for them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from typing import Any

from tiny_lantern.circuit.wires import inputs
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.build import Build
from tiny_lantern.model.input import Input

Wire = Callable[[AtBoard[Any]], Iterator[Wired]]


@cache
def input_wirings() -> dict[type[Input], Wire]:
    """What is written for each kind of input, or for what it is a kind of."""
    modules = [import_module(f"{inputs.__name__}.{info.name}") for info in iter_modules(inputs.__path__)]
    return {kind: module.wire for module in modules for kind in getattr(module, "KINDS", ())}


def input_wires(build: Build) -> Iterator[Wired]:
    """Every input of a build with its rails, its pin and its resistors.

    Args:
        build: the build.
    """
    for one in build.inputs:
        known = input_wirings()
        wire = next(known[kind] for kind in type(one).__mro__ if kind in known)
        yield from wire(AtBoard(build, one))
