"""Faults at outputs of boards and chips."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.bench.fault import Fault, FaultKind, Name, Suspect, single
from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change, all_moved, with_value
from tiny_lantern.circuit.elements.outputs import Output

HELD = ("high", "low")


def _output(plan: Plan, name: str) -> Output:
    output = plan.by_id[name]
    assert isinstance(output, Output)
    return output


def _moved(plan: Plan) -> Iterator[Suspect]:
    for pair in plan.neighbours:
        for one, other in (pair, pair[::-1]):
            yield single("wire_moved", one.id, to=other.id)


def _move(plan: Plan, fault: Fault) -> Change:
    own, to = _output(plan, fault.place), _output(plan, fault.to)
    return all_moved(plan.netlist, own.pin, to.pin, own)


def _swapped(plan: Plan) -> Iterator[Suspect]:
    for one, other in plan.neighbours:
        if one.state != other.state:
            yield single("wires_swapped", one.id, to=other.id)


def _swap(plan: Plan, fault: Fault) -> Change:
    one, other = _output(plan, fault.place), _output(plan, fault.to)
    pins = (with_value(one, pin=other.pin), with_value(other, pin=one.pin))
    return Change(tuple(element for change in pins for element in change.instead))


def _dead(plan: Plan) -> Iterator[Suspect]:
    yield from (single("output_dead", each.id) for each in plan.every(Output) if each.state != "open")


def _stuck(plan: Plan) -> Iterator[Suspect]:
    for each in plan.every(Output):
        yield Suspect(tuple(Fault("output_stuck", each.id, state) for state in HELD if state != each.state))


def _moved_words(fault: Fault, name: Name) -> str:
    return f"the wire of {name(fault.place)} is one further, on {name(fault.to)}"


KINDS = (
    FaultKind("wire_moved", _moved_words, _moved, _move),
    FaultKind(
        "wires_swapped",
        lambda fault, name: f"the wires of {name(fault.place)} and {name(fault.to)} are exchanged",
        _swapped,
        _swap,
    ),
    FaultKind(
        "output_dead",
        lambda fault, name: f"{name(fault.place)} drives nothing: dead, or its enable hangs free",
        _dead,
        lambda plan, fault: with_value(plan.by_id[fault.place], state="open"),
    ),
    FaultKind(
        "output_stuck",
        lambda fault, name: f"{name(fault.place)} stays {fault.to}",
        _stuck,
        lambda plan, fault: with_value(plan.by_id[fault.place], state=fault.to),
    ),
)
