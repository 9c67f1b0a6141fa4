"""Every kind of fault of strips: whatever file of this folder defines ``KINDS``."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from tiny_lantern.bench.strips import faults
from tiny_lantern.bench.strips.fault import StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import StripPlan


@cache
def strip_fault_kinds() -> dict[str, StripFaultKind]:
    """Every kind by its name."""
    modules = (import_module(f"{faults.__name__}.{found.name}") for found in iter_modules(faults.__path__))
    return {kind.kind: kind for module in modules for kind in getattr(module, "KINDS", ())}


def sweeps_of(plan: StripPlan) -> Iterator[Sweep]:
    """Everything that may be wrong with strips.

    Args:
        plan: the strips.
    """
    for kind in strip_fault_kinds().values():
        yield from kind.sweeps(plan)
