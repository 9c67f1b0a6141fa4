"""A terminal takes as many wires as it can; more meet in a splice, which is a row."""

from __future__ import annotations

from collections import Counter

import pytest

from tests.circuit.test_drive import CHANGED, DEMOS, PIECES
from tests.electrical.test_loose import loose
from tests.sheets.test_wiring import three_chains
from tests.support.driven import driven, lamps
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.conductor import FEEDS, Conductor
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.splices import SPLICE
from tiny_lantern.model.build import Build
from tiny_lantern.plans.ways import WAYS


def spliced(build: Build) -> dict[str, Conductor]:
    return {row.key: row for row in whole_circuit(build).conductors if row.key.startswith(SPLICE)}


BUILDS = [*(driven(way.kind, PIECES.get(way.kind)) for way in WAYS), *CHANGED, loose(6), three_chains("pin"), DEMOS[0]]


@pytest.mark.parametrize("build", BUILDS)
def test_no_terminal_has_more_wires_than_it_takes(build: Build) -> None:
    counts: Counter[str] = Counter()
    for row in whole_circuit(build).conductors:
        if row.group != FEEDS and not row.licensed and row.start.of != row.end.of:
            counts.update({row.start.words: 1, row.end.words: 1})
    ones = {words: count for words, count in counts.items() if ", pin " in words or ", leg " in words}
    leads = {words: count for words, count in counts.items() if "anode" in words or "cathode" in words}
    assert {count for words, count in ones.items() if not words.startswith("Splice")} <= {1}
    assert max(leads.values(), default=0) <= 2


@pytest.mark.parametrize(("count", "expected"), [(8, 0), (9, 2)])
def test_clock_and_latch_of_a_second_chip_meet_the_first_in_splices(count: int, expected: int) -> None:
    build = driven("register", lamps(count))
    found = spliced(build)
    assert len(found) == expected
    assert sum(line.amount for line in whole_bill(build) if line.part_id == "splice") == expected
    for row in found.values():
        there = [each for each in whole_circuit(build).conductors if row.end in (each.start, each.end)]
        assert len(there) == 3, "its tail, and a wire to each chip"
        assert len({each.role for each in there}) == 1
