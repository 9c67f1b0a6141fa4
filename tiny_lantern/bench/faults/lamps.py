"""Faults of lamps and diodes."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.bench.fault import FaultKind, Suspect, single
from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change, opened, turned
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.diodes import Diode, Led

SHORTED_OHM = 0.1


def _at_each(kind: str, of: type[Led | Diode], words: str, change: Callable[[Element], Change]) -> FaultKind:
    def suspects(plan: Plan) -> Iterator[Suspect]:
        yield from (single(kind, each.id) for each in plan.every(of))

    return FaultKind(
        kind, lambda fault, name: words.format(place=name(fault.place)), suspects,
        lambda plan, fault: change(plan.by_id[fault.place]),
    )  # fmt: skip


def _reversed(element: Element) -> Change:
    return turned(element, "a", "k")


def _shorted(element: Element) -> Change:
    anode, cathode = element.nodes()
    return Change((Conducting(element.id, anode, cathode, SHORTED_OHM, "resistor"),))


KINDS = (
    _at_each("lamp_open", Led, "{place} is open: burnt, or a lead is off", opened),
    _at_each("lamp_reversed", Led, "{place} is the wrong way round", _reversed),
    _at_each("lamp_shorted", Led, "{place} is shorted", _shorted),
    _at_each("diode_reversed", Diode, "{place} is the wrong way round", _reversed),
)
