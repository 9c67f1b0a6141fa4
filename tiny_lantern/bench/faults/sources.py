"""Faults of supplies, regulators, and of what hangs on the wrong rail."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.bench.fault import Fault, FaultKind, Sizes, Suspect, single, sized
from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change, on_node, with_value
from tiny_lantern.circuit.elements.conducting import Coil, Conducting
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.model.quantities import volts

LOW = Sizes(0.60, 0.97, 24, 160)
MADE_V = (1.8, 2.5, 3.3, 5.0, 6.0, 9.0, 12.0)


def _low(plan: Plan) -> Iterator[Suspect]:
    yield from (sized("supply_low", each.id, LOW, each.set_v) for each in plan.every(Supply))


def _set(plan: Plan, fault: Fault) -> Change:
    return with_value(plan.by_id[fault.place], set_v=fault.size)


def _wrong(plan: Plan) -> Iterator[Suspect]:
    for each in plan.stages:
        made = [made_v for made_v in MADE_V if made_v != each.set_v]
        yield Suspect(tuple(Fault("regulator_wrong", each.id, size=made_v) for made_v in made))


def _on_rails(plan: Plan) -> Iterator[Suspect]:
    hung: list[Conducting | Led | Coil] = [*plan.resistors, *plan.every(Led), *plan.every(Coil)]
    for each in hung:
        for terminal in each.TERMINALS:
            planned = getattr(each, terminal)
            if planned in plan.rails:
                others = (rail for rail in plan.rails if rail != planned)
                yield from (single("wrong_rail", each.id, to=rail, terminal=terminal) for rail in others)


def _on_rail(plan: Plan, fault: Fault) -> Change:
    return on_node(plan.by_id[fault.place], fault.terminal, fault.to)


KINDS = (
    FaultKind(
        "supply_low", lambda fault, name: f"{name(fault.place)} gives {volts(fault.size or 0.0)} at most", _low, _set
    ),
    FaultKind(
        "regulator_wrong",
        lambda fault, name: f"{name(fault.place)} is one for {volts(fault.size or 0.0)}",
        _wrong,
        _set,
    ),
    FaultKind("wrong_rail", lambda fault, name: f"{name(fault.place)} hangs on {name(fault.to)}", _on_rails, _on_rail),
)
