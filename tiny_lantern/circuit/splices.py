"""Splices: where more wires meet than a terminal takes, one leads from it to a splice and the others from there.

A pin and a leg take one wire, a screw, a pad and a lamp's lead two, a rail as many as there are. What lies between two
terminals of one part is soldered to them and takes no place; feeds have terminals of their own.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from tiny_lantern.circuit.conductor import FEEDS, GROUPS, MANY, Conductor, End

WORD, SPLICE = "Splice", "splice/"


def with_splices(rows: Sequence[Conductor]) -> list[Conductor]:
    """The conductors, those of crowded terminals led to splices.

    Args:
        rows: the conductors, each once.
    """
    at: defaultdict[str, list[Conductor]] = defaultdict(list)
    ends: dict[str, End] = {}
    for row in rows:
        if _counts(row):
            for end in (row.start, row.end):
                at[end.node].append(row)
                ends[end.node] = end
    crowded = {node: ends[node] for node, own in at.items() if len(own) > ends[node].takes}
    tails = [_tail(end, at[node]) for node, end in crowded.items()]
    return [*tails, *(_led(row, crowded) if _counts(row) else row for row in rows)]


def _counts(row: Conductor) -> bool:
    return row.start.of != row.end.of and row.group != FEEDS and not row.licensed


def _splice(end: End) -> End:
    return End(WORD, f"at {end.words}", of=f"splice {end.node}", takes=MANY)


def _tail(end: End, own: Sequence[Conductor]) -> Conductor:
    """From a terminal to its splice, in the group of the first wire there."""
    first = min(own, key=lambda row: GROUPS.index(row.group))
    return Conductor(f"{SPLICE}{end.node}", first.group, end, _splice(end), role=first.role, driver_id=first.driver_id)


def _led(row: Conductor, crowded: dict[str, End]) -> Conductor:
    start = _splice(row.start) if row.start.node in crowded else row.start
    end = _splice(row.end) if row.end.node in crowded else row.end
    return replace(row, start=start, end=end)
