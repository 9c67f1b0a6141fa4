"""Connectors between halves: every wire that leads across lies on a contact, numbered in the order of the hands."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace

from tiny_lantern.circuit.conductor import FEEDS, Conductor, End, InLine
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.plug import Plug


@dataclass(frozen=True)
class Contact:
    """A contact of a connector: its number from 1, and the wire that lies on it."""

    number: int
    row: Conductor


def through_plugs(build: Build, rows: Iterable[Conductor]) -> list[Conductor]:
    """The conductors, those that lead to the other half on a contact; strips' feeds have connectors of their own.

    Args:
        build: the build.
        rows: its conductors, in order.
    """
    if not build.plugs:
        return list(rows)
    beyond = {piece_id: plug for plug in build.plugs for piece_id in plug.piece_ids}
    counts: Counter[str] = Counter()
    found = []
    for row in rows:
        sides = [beyond.get(_piece_of(end)) for end in (row.start, row.end)]
        if row.group != FEEDS and not row.licensed and sides[0] != sides[1]:
            for plug in filter(None, sides):
                counts[plug.id] += 1
                row = replace(row, in_line=(*row.in_line, _contact(build, plug, counts[plug.id])))
        found.append(row)
    return found


def _piece_of(end: End) -> str:
    """The id of what a terminal belongs to, of a lamp that of its piece."""
    return end.of.split("/")[0].split(" ")[0]


def _contact(build: Build, plug: Plug, number: int) -> InLine:
    part = build.shelf.find(ConnectorPart, plug.part_id)
    words = f"{plug.name} contact {number}"
    return InLine(words, part.contact_ohm, plug_id=plug.id, contact=number)


def contacts_of(rows: Iterable[Conductor], plug: Plug) -> list[Contact]:
    """The table of a connector: its contacts with what lies on each.

    Args:
        rows: the conductors of its build.
        plug: the connector.
    """
    lies = [(each, row) for row in rows for each in row.in_line if each.plug_id == plug.id]
    return [Contact(each.contact, row) for each, row in sorted(lies, key=lambda pair: pair[0].contact)]
