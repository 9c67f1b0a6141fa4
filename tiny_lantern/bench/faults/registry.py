"""Every kind of fault: whatever file of this folder defines ``KINDS``."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

from tiny_lantern.bench import faults
from tiny_lantern.bench.fault import FaultKind, Suspect
from tiny_lantern.bench.plan import Plan
from tiny_lantern.model.discovery import listed_in


@cache
def fault_kinds() -> dict[str, FaultKind]:
    """Every kind of fault by its name."""
    found = (kind for kind in listed_in(faults, "KINDS") if isinstance(kind, FaultKind))
    return {kind.kind: kind for kind in found}


def suspects_of(plan: Plan) -> Iterator[Suspect]:
    """Everything that may be wrong in a circuit.

    Args:
        plan: the circuit.
    """
    for kind in fault_kinds().values():
        yield from kind.suspects(plan)
