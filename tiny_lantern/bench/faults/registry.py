"""Every kind of fault: whatever file of this folder defines ``KINDS``."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from tiny_lantern.bench import faults
from tiny_lantern.bench.fault import FaultKind, Suspect
from tiny_lantern.bench.plan import Plan


@cache
def fault_kinds() -> dict[str, FaultKind]:
    """Every kind of fault by its name."""
    modules = (import_module(f"{faults.__name__}.{found.name}") for found in iter_modules(faults.__path__))
    return {kind.kind: kind for module in modules for kind in getattr(module, "KINDS", ())}


def suspects_of(plan: Plan) -> Iterator[Suspect]:
    """Everything that may be wrong in a circuit.

    Args:
        plan: the circuit.
    """
    for kind in fault_kinds().values():
        yield from kind.suspects(plan)
