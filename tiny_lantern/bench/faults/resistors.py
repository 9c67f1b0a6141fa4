"""Faults of resistors."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.bench.fault import Fault, FaultKind, Name, Suspect, single
from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change, opened, with_value
from tiny_lantern.circuit.elements.conducting import Conducting

BRIDGED_OHM, DECADES = 0.001, (0.1, 10.0)


def _bridged(plan: Plan) -> Iterator[Suspect]:
    for each in plan.resistors:
        if each.id not in plan.base_resistors:
            yield single("resistor_bridged", each.id)


def _base_bridged(plan: Plan) -> Iterator[Suspect]:
    for each in plan.resistors:
        if each.id in plan.base_resistors:
            yield single("base_resistor_bridged", each.id)


def _bridge(plan: Plan, fault: Fault) -> Change:
    return with_value(plan.by_id[fault.place], ohm=BRIDGED_OHM)


def _decades(plan: Plan) -> Iterator[Suspect]:
    for each in plan.resistors:
        yield Suspect(tuple(Fault("resistor_wrong_decade", each.id, size=times) for times in DECADES))


def _decade(plan: Plan, fault: Fault) -> Change:
    resistor = plan.by_id[fault.place]
    assert isinstance(resistor, Conducting)
    return with_value(resistor, ohm=resistor.ohm * (fault.size or 1.0))


def _decade_words(fault: Fault, name: Name) -> str:
    return f"{name(fault.place)} is {'ten times' if (fault.size or 1.0) > 1 else 'a tenth of'} what it should be"


def _open(plan: Plan) -> Iterator[Suspect]:
    yield from (single("resistor_open", each.id) for each in plan.resistors)


KINDS = (
    FaultKind(
        "resistor_bridged",
        lambda fault, name: f"{name(fault.place)} is missing: a wire is in its place",
        _bridged,
        _bridge,
    ),
    FaultKind(
        "base_resistor_bridged",
        lambda fault, name: f"{name(fault.place)} is missing: a base or gate hangs on its output",
        _base_bridged,
        _bridge,
    ),
    FaultKind(
        "resistor_open",
        lambda fault, name: f"{name(fault.place)} is open, or was never put in",
        _open,
        lambda plan, fault: opened(plan.by_id[fault.place]),
    ),
    FaultKind("resistor_wrong_decade", _decade_words, _decades, _decade),
)
