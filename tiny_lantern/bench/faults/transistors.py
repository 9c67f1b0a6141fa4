"""A transistor of another kind in the same package."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.bench.fault import Fault, FaultKind, Suspect, single
from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.elements.transistors import Bipolar, Mosfet

TABLE_V = (2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0)
TABLE_OHM = (12.0, 2.5, 0.45, 0.16, 0.09, 0.055, 0.044)
BASE_V, BASE_OHM, SATURATION_V, GAIN = 0.7, 5.0, 0.2, 100.0


def _suspects(plan: Plan) -> Iterator[Suspect]:
    fitted: list[Bipolar | Mosfet] = [*plan.every(Bipolar), *plan.every(Mosfet)]
    for each in fitted:
        if each.kind in ("npn", "nmos"):
            yield single("wrong_transistor", each.id)


def _other(plan: Plan, fault: Fault) -> Change:
    fitted = plan.by_id[fault.place]
    if isinstance(fitted, Bipolar):
        return Change((Mosfet(fitted.id, fitted.b, fitted.c, fitted.e, "nmos", TABLE_V, TABLE_OHM),))
    assert isinstance(fitted, Mosfet)
    bipolar = Bipolar(fitted.id, fitted.g, fitted.d, fitted.s, "npn", BASE_V, BASE_OHM, SATURATION_V, GAIN)
    return Change((bipolar,))


KINDS = (
    FaultKind(
        "wrong_transistor",
        lambda fault, name: f"{name(fault.place)} is a transistor of the other kind: NPN for MOSFET",
        _suspects,
        _other,
    ),
)
