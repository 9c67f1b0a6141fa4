"""A terminal takes as many wires as it can; more meet in a splice, which is a row."""

from __future__ import annotations

from collections import Counter

import pytest

from tests.circuit.test_drive import CHANGED, DEMOS, PIECES
from tests.electrical.test_loose import loose
from tests.sheets.test_wiring import three_chains
from tests.support.builds import one_strip, part
from tests.support.driven import driven, lamps
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.conductor import FEEDS, Conductor
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.splices import SPLICE
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_power import add_feed
from tiny_lantern.plans.ways import WAYS, drive_piece


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


@pytest.mark.parametrize("kind", ["register", "switch", "sink", "pin"])
def test_things_of_one_name_have_terminals_that_are_told_apart(kind: str) -> None:
    build = add_piece(driven(kind, lamps(3)), part("led-red-5mm"), lamps(2))
    build = drive_piece(build, build.pieces[-1].id, kind)
    assert build.pieces[0].name == build.pieces[1].name
    strips = [revise(each, name="Same") for each in two_alike().pieces]
    for each in (build, revise(two_alike(), pieces=tuple(strips))):
        nodes: dict[str, set[str]] = {}
        for row in compile_circuit(each).conductors:
            for end in (row.start, row.end):
                nodes.setdefault(f"{end.words} {end.more}", set()).add(end.node)
        assert {words: own for words, own in nodes.items() if len(own) > 1} == {}
    words = {row.end.words for row in compile_circuit(build).conductors}
    assert any("(2)" in each for each in words)
    assert not any("(2)" in row.end.words for row in compile_circuit(driven(kind, lamps(3))).conductors)


def two_alike() -> Build:
    """Two strips, fed at their starts."""
    build = add_strip(one_strip(10), part("rgb-5v-60"), 10, "Other")
    return add_feed(build, "supply", "other", 0.0, part("awg-18"), 1.0, part("fuse-5a"))
