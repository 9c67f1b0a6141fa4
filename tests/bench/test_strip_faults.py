"""Strips with one fault, or with other copper than planned: causes, next readings and fits against a brute force."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from tests.support.faults import verdict_of

Json = dict[str, Any]
GIVEN = Path(__file__).parent / "fault-cases.json"
CASES: list[Json] = json.loads(GIVEN.read_text(encoding="utf-8"))["cases"]
BY_ID = {case["id"]: case for case in CASES}
ASKED = ("id", "inputs", "pattern", "previous_pattern", "set_order", "readings", "seen", "colour_tests")
DIAGNOSED = sorted(case["id"] for case in CASES if case["group"] != "fit")
FITTED = sorted(case["id"] for case in CASES if case["group"] == "fit")
POSTERIOR_WITHIN = 0.12
SHARE, LEAST_SIGMAS = 0.8, 5.0


@cache
def verdict(name: str) -> Json:
    """The program's verdict on a case, of which it is given the question only."""
    case = BY_ID[name]
    return verdict_of({key: case[key] for key in ASKED} | {"free": case["truth"].get("free")})


@pytest.mark.parametrize("name", DIAGNOSED)
def test_every_kind_is_as_probable_as_the_brute_force_says(name: str) -> None:
    found = {each["kind"]: each["posterior"] for each in verdict(name)["ranking"]}
    wanted = {each["kind"]: each["posterior"] for each in BY_ID[name]["identifiability"]["ranking"]}
    assert found.keys() == wanted.keys()
    assert max(abs(found[kind] - wanted[kind]) for kind in found) < POSTERIOR_WITHIN


@pytest.mark.parametrize("name", DIAGNOSED)
def test_the_true_cause_or_one_that_reads_alike_comes_first_where_it_can_be_told(name: str) -> None:
    case, first = BY_ID[name], verdict(name)["ranking"][0]
    if not case["detectable"] or case["must_not_be_diagnosed"]:
        assert first["kind"] == "healthy"
    elif case["identifiable_as_group"]:
        assert first["kind"] in case["indistinguishable_kinds"]


@pytest.mark.parametrize("name", DIAGNOSED)
def test_a_fault_is_found_where_it_is(name: str) -> None:
    case, first = BY_ID[name], verdict(name)["ranking"][0]
    if first["kind"] != case["truth"]["kind"] or not case["identifiable"]:
        return
    for key, wanted in case["truth"]["place"].items():
        if key in ("pixel", "before_pixel", "real_node"):
            low, high = case["identifiability"]["within_true_kind"].get("pixel_90", (wanted - 3, wanted + 3))
            assert low <= first["place"][key] <= high
        elif key != "conductor":
            assert first["place"][key] == wanted


@pytest.mark.parametrize("name", DIAGNOSED)
def test_the_next_reading_tells_the_two_leading_causes_apart(name: str) -> None:
    wanted, found = BY_ID[name]["next_reading"], verdict(name)["next"]
    if wanted is None or wanted["best"] is None or wanted["decided_already"]:
        return
    if found["between"] != [each["kind"] for each in wanted["top_two"]]:
        return
    told = [
        each["separation_sigma"] for each in wanted["candidates"]
        if (each["kind"], each["place"], each.get("pattern")) == (found["kind"], found["place"], found.get("pattern"))
    ]  # fmt: skip
    assert told
    assert told[0] >= min(LEAST_SIGMAS, SHARE * wanted["best"]["separation_sigma"])


@pytest.mark.parametrize("name", FITTED)
def test_fits_are_those_of_the_reference(name: str) -> None:
    found, wanted = verdict(name)["fit"], BY_ID[name]["fit"]
    assert sorted(found["inseparable"]) == sorted(sorted(pair) for pair in wanted["inseparable_pairs"])
    for key, value in wanted.get("estimate", {}).items():
        assert abs(found["estimate"][key] - value) < 0.1 * wanted["sigma"][key]
        assert found["sigma"][key] == pytest.approx(wanted["sigma"][key], rel=0.1)
