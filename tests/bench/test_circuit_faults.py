"""Circuits with one fault, read by a noisy meter: the program's causes and next readings against a brute force."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from tests.support.circuit_faults import verdict_of
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.readings import Probe
from tiny_lantern.circuit.changes import with_value
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.elements.transistors import Mosfet
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.netlist import Netlist

Json = dict[str, Any]
GIVEN = Path(__file__).parent / "circuit-fault-cases.json"
CASES: list[Json] = json.loads(GIVEN.read_text(encoding="utf-8"))["cases"]
BY_ID = {case["id"]: case for case in CASES}
ASKED = ("id", "planned", "readings", "seen")
POSTERIOR_WITHIN = 0.01


@cache
def verdict(name: str) -> Json:
    """The program's verdict on a case, of which it is given the question only."""
    return verdict_of({key: BY_ID[name][key] for key in ASKED})


every_case = pytest.mark.parametrize("name", sorted(BY_ID))


@every_case
def test_the_posterior_of_every_kind_is_that_of_the_brute_force(name: str) -> None:
    found = {each["kind"]: each["posterior"] for each in verdict(name)["ranking"]}
    wanted = BY_ID[name]["posterior"]
    assert found.keys() == wanted.keys()
    assert {kind: found[kind] - wanted[kind] for kind in found} == pytest.approx(
        dict.fromkeys(found, 0.0), abs=POSTERIOR_WITHIN
    )


@every_case
def test_the_true_cause_or_one_that_reads_alike_comes_first_where_it_can_be_told(name: str) -> None:
    case = BY_ID[name]
    if not case["identifiable_as_group"]:
        return
    first = verdict(name)["ranking"][0]
    assert first["kind"] in case["indistinguishable_kinds"]
    if case["place_identifiable"] and first["kind"] == case["truth"]["kind"]:
        assert first["place"] == case["truth"]["place"]


@every_case
def test_the_next_reading_tells_the_two_leading_causes_apart(name: str) -> None:
    case = BY_ID[name]
    wanted, found = case["next_reading"], verdict(name)["next"]
    if wanted is None or wanted["best"] is None or wanted["decided_already"]:
        return
    assert found is not None
    if _places(found) != _two(wanted):
        return
    key = "plus" if found["kind"] == "V" else "element"
    assert (found["kind"], found[key]) in [(each["kind"], each.get(key)) for each in wanted["good_enough"]]


def _two(wanted: Json) -> list[tuple[str, str | None]]:
    return [(each["kind"], each["place"]) for each in wanted["top_two"]]


def _places(found: Json) -> list[tuple[str, str | None]]:
    return list(zip(found["between"], found["at"], strict=True))


def test_what_cannot_be_seen_is_not_accused() -> None:
    hidden = [name for name in BY_ID if not BY_ID[name]["detectable"]]
    assert {verdict(name)["ranking"][0]["kind"] for name in hidden} == {"healthy"}


def test_nearly_all_next_readings_were_compared() -> None:
    told = [case for case in CASES if (case["next_reading"] or {}).get("best") is not None]
    alike = [case for case in told if _places(verdict(case["id"])["next"]) == _two(case["next_reading"])]
    assert len(alike) >= 0.9 * len(told)


def test_a_fault_after_which_a_channel_sits_just_where_it_begins_to_conduct_is_left_out() -> None:
    """A follower with more and more in its source: that rises until the channel is at the first point of its table."""
    elements = (
        Supply("supply", "plus", "0", 5.0, 0.1),
        Conducting("pull", "plus", "gate", 10_000.0, "resistor"),
        Mosfet("follower", "gate", "plus", "source", "nmos", (2.5, 3.0), (1.0, 0.5)),
        Conducting("load", "source", "0", 0.3, "resistor"),
    )
    sight = Foresight(Plan(Netlist(elements)), [Probe("V", "source", "0")])
    load = sight.plan.by_id["load"]
    assert sight.shown(with_value(load, ohm=0.6)).read[0] > 1.5
    for ohm in (1.0, 100.0):  # beside the plan, and from its beginning
        with pytest.raises(NotSolvedError, match="begins to conduct"):
            sight.shown(with_value(load, ohm=ohm))
