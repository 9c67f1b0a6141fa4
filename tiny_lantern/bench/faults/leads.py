"""Faults of wires, fuses and connectors."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from tiny_lantern.bench.fault import Fault, FaultKind, Name, Sizes, Suspect, single, sized
from tiny_lantern.bench.plan import CHIP_SUPPLY, COMMON, Plan
from tiny_lantern.circuit.changes import Change, opened, with_value
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.model.quantities import engineering

BAD = Sizes(0.5, 200.0, 16, 96, by_ratio=True)


def _open(kind: str, role: str, words: str) -> FaultKind:
    def suspects(plan: Plan) -> Iterator[Suspect]:
        yield from (single(kind, each.id) for each in plan.leads_for(role))

    return FaultKind(kind, _words(words), suspects, lambda plan, fault: opened(plan.by_id[fault.place]))


def _words(words: str) -> Callable[[Fault, Name], str]:
    return lambda fault, name: words.format(place=name(fault.place))


def _bad(plan: Plan) -> Iterator[Suspect]:
    yield from (sized("connector_ohm", each.id, BAD) for each in plan.leads)


def _with_more(plan: Plan, fault: Fault) -> Change:
    lead = plan.by_id[fault.place]
    assert isinstance(lead, Conducting)
    return with_value(lead, ohm=lead.ohm + (fault.size or 0.0))


def _bad_words(fault: Fault, name: Name) -> str:
    return f"{name(fault.place)} has a bad joint of {engineering(fault.size or 0.0, 'ohm')}"


KINDS = (
    _open("wire_open", "", "{place} lets nothing through"),
    _open("chip_unpowered", CHIP_SUPPLY, "nothing feeds the chip at the end of {place}"),
    _open("common_missing", COMMON, "{place} does not join the zeros of two supplies"),
    FaultKind("connector_ohm", _bad_words, _bad, _with_more),
)
