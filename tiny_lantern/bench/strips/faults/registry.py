"""Every kind of fault of strips: whatever file of this folder defines ``KINDS``."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

from tiny_lantern.bench.strips import faults
from tiny_lantern.bench.strips.fault import StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import StripPlan
from tiny_lantern.model.discovery import listed_in


@cache
def strip_fault_kinds() -> dict[str, StripFaultKind]:
    """Every kind by its name."""
    found = (kind for kind in listed_in(faults, "KINDS") if isinstance(kind, StripFaultKind))
    return {kind.kind: kind for kind in found}


def sweeps_of(plan: StripPlan) -> Iterator[Sweep]:
    """Everything that may be wrong with strips.

    Args:
        plan: the strips.
    """
    for kind in strip_fault_kinds().values():
        yield from kind.sweeps(plan)
