"""Terminals by names that tell them apart: what has the name of another thing bears a number after it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tiny_lantern.circuit.conductor import Conductor, End


def told_apart(rows: Sequence[Conductor]) -> list[Conductor]:
    """The conductors with ends whose words, with what is said beside them, are those of no other terminal.

    Args:
        rows: the conductors, in the order of the hands.
    """
    owners: dict[tuple[str, str], list[str]] = {}
    for row in rows:
        for end in (row.start, row.end):
            alike = owners.setdefault((end.words, end.more), [])
            if _owner(end) not in alike:
                alike.append(_owner(end))
    numbered = {told: alike for told, alike in owners.items() if len(alike) > 1}
    if not numbered:
        return list(rows)
    return [replace(row, start=_named(row.start, numbered), end=_named(row.end, numbered)) for row in rows]


def _owner(end: End) -> str:
    return end.of or end.on


def _named(end: End, numbered: dict[tuple[str, str], list[str]]) -> End:
    alike = numbered.get((end.words, end.more))
    number = alike.index(_owner(end)) + 1 if alike is not None else 1
    return end if number == 1 else replace(end, on=f"{end.on} ({number})", of=_owner(end))
