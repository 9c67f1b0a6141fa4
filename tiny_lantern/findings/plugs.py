"""Rules on connectors between halves."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from tiny_lantern.catalogue.shelf import all_parts
from tiny_lantern.circuit.drive import whole_circuit, wired
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.plugs import contacts_of
from tiny_lantern.findings.driven import one_step
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_plugs import change_plug
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.plug import Plug
from tiny_lantern.model.quantities import amps


@rule("plug-full", "{n} connectors have too few contacts")
def plug_full(evidence: Evidence) -> Iterator[Finding]:
    """A connector between two halves that more wires cross than it has contacts."""
    build = evidence.build
    for plug in build.plugs:
        has, needed = build.shelf.find(ConnectorPart, plug.part_id).ways, _needed(build, plug)
        if needed > has:
            yield Finding(
                Severity.WONT_WORK, "plug-full", Place.on("pieces", plug.piece_ids[0]),
                f"{plug.name}: {needed} wires, {has} contacts",
                f"{needed - has} wires have none. Take a larger one, or tie the commons beyond it together: from lamp "
                "to lamp, or on a board there, they cross once.",
                one_step("Contacts needed", "one for each wire that crosses", plug.name, f"{needed}"),
                tuple(_larger(build, plug, needed)),
            )  # fmt: skip


@rule("plug-current", "{n} contacts carry too much")
def plug_current(evidence: Evidence) -> Iterator[Finding]:
    """A contact of a connector that carries more than it may while everything is lit."""
    build = evidence.build
    for plug in build.plugs:
        part, carried_a = build.shelf.find(ConnectorPart, plug.part_id), _carried_a(build)
        contacts = contacts_of(whole_circuit(build).conductors, plug)
        over = [(carried_a.get(each.row.key, 0.0), each) for each in contacts]
        worst_a, worst = max(over, key=lambda pair: pair[0], default=(0.0, None))
        if worst is not None and worst_a > part.limit_a * (1 + 1e-9):
            yield Finding(
                Severity.WONT_WORK, "plug-current", Place.on("pieces", plug.piece_ids[0]),
                f"{plug.name}: {amps(worst_a)} on contact {worst.number}",
                f"It may carry {amps(part.limit_a)}: {amps(worst_a - part.limit_a)} too much, and it would get hot. "
                "Tie fewer lamps to one wire, or take a connector whose contacts bear more.",
                one_step("Current of the contact", "Σ I of what lies beyond", plug.name, amps(worst_a)),
            )  # fmt: skip


def _carried_a(build: Build) -> dict[str, float]:
    try:
        return wired(build).lit.conductor_a
    except NotSolvedError:
        return {}


def _needed(build: Build, plug: Plug) -> int:
    return len(contacts_of(whole_circuit(build).conductors, plug))


def _larger(build: Build, plug: Plug, needed: int) -> Iterator[Fix]:
    """The smallest connector that has enough."""
    parts = [part for part in all_parts(build).of(ConnectorPart) if part.ways >= needed]
    for part in sorted(parts, key=lambda part: part.ways)[:1]:
        yield Fix(part.name, partial(change_plug, plug_id=plug.id, part=part))
