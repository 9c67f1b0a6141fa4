"""Shorts: solved cases, the rules from both sides of their limits, and a sweep that agrees with each place alone."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.agreement import disagreements
from tests.support.builds import builds, one_strip, part
from tests.support.effort import some
from tests.support.shorts import build_of, results_of
from tiny_lantern.electrical.shorts.by_feed import shorts_by_feed
from tiny_lantern.electrical.shorts.sources import alike_rows
from tiny_lantern.electrical.shorts.study import ground_of, short_at, sweep_of
from tiny_lantern.electrical.workings import short_working
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_power import add_supply, set_fuse
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.ui.files import demo_build

CASES = json.loads((Path(__file__).parent / "short-cases.json").read_text(encoding="utf-8"))["cases"]
RELATIVE = 1e-6


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["id"])
def test_a_solved_case_is_met_event_by_event(case: dict[str, Any]) -> None:
    assert list(disagreements(results_of(case), case["results"], RELATIVE)) == []


@pytest.mark.parametrize("case", CASES[::3], ids=lambda case: case["id"])
def test_the_sweep_says_of_every_place_what_following_it_alone_says(case: dict[str, Any]) -> None:
    build = build_of(case)
    _assert_sweep_agrees(build, stride=7)


def _assert_sweep_agrees(build: Build, stride: int) -> None:
    sweep = sweep_of(build)
    for row in range(0, len(sweep.node), stride):
        strip = sweep.network.runs[sweep.run[row]].strip
        course = short_at(build, strip.id, int(sweep.node[row]))
        assert (course.how, course.severity) == (sweep.how[row], sweep.severity[row])
        assert sweep.short_a[row] == pytest.approx(course.end.short_a, rel=1e-9, abs=1e-9)
        if course.over:
            worst = max(over.current_a / over.limit_a for over in course.over)
            assert sweep.current_a[row] / sweep.limit_a[row] == pytest.approx(worst, rel=1e-9)
        assert (sweep.copper[row] < 0) == (not course.over)


@some(8)
@given(builds(), st.sampled_from([1, 2, 5, 10]))
def test_any_build_is_swept_as_each_place_alone_and_its_currents_add_up(build: Build, rating: int) -> None:
    fuse = next(fuse for fuse in part_fuses() if fuse.rating_a == rating)
    for feed in build.feeds[::2]:
        build = set_fuse(build, feed.id, fuse)
    _assert_sweep_agrees(build, stride=11)
    course = short_at(build, build.strips[0].id, 1)
    for instant in (course.first, *course.after):
        assert instant.out_a.sum() == pytest.approx(instant.supply_a.sum(), abs=1e-6)
        assert instant.back_a.sum() == pytest.approx(instant.supply_a.sum(), abs=1e-6)
        assert (instant.supply_a > -1e-6).all(), "no supply here takes current back"


def part_fuses() -> tuple:
    """The fuses on the shelf."""
    from tiny_lantern.catalogue.shelf import shelf

    return shelf().of(FusePart)


def unlimited(build: Build) -> Build:
    """The build with supplies that nothing limits."""
    parts = tuple(revise(supply, limit_kind="none") for supply in build.shelf.of(SupplyPart))
    return change_parts(build, *parts)


@pytest.mark.parametrize(("ratio", "opens"), [(1.99, False), (2.01, True)])
def test_a_fuse_opens_from_twice_its_rating_on(ratio: float, opens: bool) -> None:
    build = unlimited(one_strip(120))
    current = short_at(set_fuse(build, "feed", None), "strip", 121).first.short_a
    fuse = revise(part("fuse-10a"), id="own", rating_a=current / ratio, cold_ohm=0.0)
    fused = set_fuse(build, "feed", fuse)
    course = short_at(fused, "strip", 121)
    assert bool(course.opened) == opens
    assert course.how == ("no current" if opens else "standing")
    told = short_working(fused, course, "here").steps[1]
    assert told.values == (f"{current:.2f} A/{current / ratio:g} A = {ratio:.2f}" if opens else f"A {ratio:.2f}")
    assert told.result == ("0.0 mA in the short" if opens else "below 2: none opens")


@pytest.mark.parametrize(("share", "how"), [(0.99, "supply shuts down"), (1.01, "standing")])
def test_a_supply_shuts_down_just_past_its_limit_and_not_before(share: float, how: str) -> None:
    build = set_fuse(one_strip(120), "feed", None)
    current = short_at(unlimited(build), "strip", 121).first.short_a
    limited = revise(build.shelf.of(SupplyPart)[0], limit_kind="shuts_down", limit_a=share * current)
    course = short_at(change_parts(build, limited), "strip", 121)
    assert course.how == how


def test_all_live_feeds_share_a_short_on_the_mended_footbridge() -> None:
    build = demo_build("footbridge")
    feed, west = build.feeds[0], build.strips[0]
    own = tuple(
        revise(feed, id=f"own-{n}", fuse_id="fuse-4a", attach=revise(feed.attach, position_m=place),
               positive=revise(feed.positive, length_m=length), negative=revise(feed.negative, length_m=length))
        for n, (place, length) in enumerate(((0.017, 3.017), (2.917, 5.917), (4.183, 7.183)))
    )  # fmt: skip
    fuses = (*build.shelf.of(FusePart), part("fuse-4a"))
    build = unlimited(revise(change_parts(build, *fuses), feeds=own))
    course = short_at(build, west.id, west.pixel_count + 1)
    assert sorted(np.round(course.first.out_a, 2), reverse=True) == list(np.round(sorted(course.first.out_a)[::-1], 2))
    assert course.first.out_a.sum() == pytest.approx(course.first.short_a)
    assert (course.how, course.opened) == ("standing", ())
    assert course.severity == "danger"
    assert course.rails[0][0].current_a > 2 * 5.0


def test_a_short_of_some_ohms_draws_less_and_a_cut_zone_is_fed_by_its_own_feeds_only() -> None:
    build = unlimited(one_strip(60, feeds=(0.0, 1.0)))
    assert short_at(build, "strip", 30, 0.5).first.short_a < short_at(build, "strip", 30).first.short_a / 3
    cut = change_strip(build, "strip", cuts=(30,))
    first = short_at(cut, "strip", 10).first
    assert first.out_a[1] == 0
    assert first.back_a[1] > 0, "the return rail goes on past the cut"


def test_the_worst_near_a_feed_is_the_gravest_and_of_those_the_one_that_leaves_most() -> None:
    sweep = sweep_of(one_strip(40))
    count = len(sweep.node)
    severity, amps = np.full(count, "cleared", dtype="<U10"), np.linspace(1.0, 9.0, count)
    build = one_strip(40)
    for grave, at in (("weak spot", 3), ("danger", 2)):
        severity = severity.copy()
        severity[[at, at + 9]] = grave
        near = shorts_by_feed(build, replace(sweep, severity=severity, short_a=amps))["feed"]
        assert (near.severity, near.short_a) == (grave, amps[at + 9])
    assert shorts_by_feed(build, replace(sweep, severity=np.full(count, "cleared")))["feed"].words == "cleared"


def test_two_feeds_on_one_place_have_the_short_of_that_place() -> None:
    build = unlimited(one_strip(60, feeds=(0.0, 1.0)))
    last = build.feeds[-1]
    near = shorts_by_feed(build, sweep_of(build))
    both = revise(build, feeds=(*build.feeds, revise(last, id="twin")))
    found = shorts_by_feed(both, sweep_of(both))
    assert set(found) == {*near, "twin"}
    at_end = short_at(both, "strip", 60)
    assert found["twin"].short_a == pytest.approx(at_end.end.short_a, rel=0.02)


@pytest.mark.parametrize(("rows", "groups"), [
    ([[1, 2]], [[0]]), ([[1, 2], [1, 2]], [[0, 1]]), ([[1, 2], [0, 2]], [[1], [0]]),
    ([[3, 1], [2, 1], [3, 1]], [[1], [0, 2]]), ([], []),
])  # fmt: skip
def test_rows_that_are_equal_are_worked_out_together(rows: list[list[int]], groups: list[list[int]]) -> None:
    states = np.array(rows, int).reshape(len(rows), 2)
    assert [group.tolist() for group in alike_rows(states)] == groups


def test_strips_that_are_alike_are_swept_as_each_alone() -> None:
    build = unlimited(one_strip(200))
    for name in ("Second", "Third"):
        build = add_strip(build, part("rgb-5v-60"), 200, name)
        attach = revise(build.feeds[0].attach, strip_id=build.strips[-1].id)
        build = revise(build, feeds=(*build.feeds, revise(build.feeds[0], id=f"{name.lower()}-feed", attach=attach)))
    sweep = sweep_of(build)
    assert (sweep.copper < 0).any()
    assert (sweep.copper >= 0).any()
    _assert_sweep_agrees(build, stride=31)


def test_zones_between_two_supplies_answer_each_by_its_own_fuses() -> None:
    build = change_strip(one_strip(90, feeds=(0.1, 0.2, 0.5, 0.6, 0.8, 0.9)), "strip", cuts=(30, 60))
    build = add_supply(build, build.shelf.of(SupplyPart)[0], "Other")
    feeds = (revise(feed, supply_id=build.supplies[n % 2].id) for n, feed in enumerate(build.feeds))
    build = revise(build, feeds=tuple(feeds))
    circuit = ground_of(build).circuit(0, np.array([10]))
    whole = np.ones(len(circuit.far), bool)
    assert len(whole) == 4
    all_whole = circuit.far_response(whole)
    assert all_whole.all()
    for blown, kept in ((slice(0, 2), slice(2, 4)), (slice(2, 4), slice(0, 2))):
        some = whole.copy()
        some[blown] = False
        found = circuit.far_response(some)
        assert not found[blown].any()
        assert np.array_equal(found[kept], all_whole[kept])


def test_shorts_near_each_feed_are_told_by_the_worst() -> None:
    build = unlimited(one_strip(200, feeds=(0.0,)))
    near = shorts_by_feed(build, sweep_of(build))["feed"]
    assert (near.severity, near.how) == ("danger", "standing")
    assert near.short_a == pytest.approx(sweep_of(build).short_a[sweep_of(build).how == "standing"].max())
    assert near.words.endswith("A stand")


def test_of_several_buses_each_is_told_its_own_currents() -> None:
    strips = unlimited(set_fuse(add_strip(one_strip(60), part("rgb-5v-60"), 60, "Second"), "feed", None))
    feed = strips.feeds[0]
    build = revise(strips, feeds=(feed, revise(feed, id="other", attach=revise(feed.attach, strip_id="second"))))
    first, second = (
        Bus(id=f"bus-{strip.id}", strip_id=strip.id, pos_ohm_per_m=0.01, neg_ohm_per_m=0.012, tap_pixels=taps)
        for strip, taps in zip(build.strips, ((7, 30, 50), (20, 40)), strict=True)
    )
    (alone,) = short_at(revise(build, buses=(second,)), "second", 45).buses
    both = short_at(revise(build, buses=(first, second)), "second", 45).buses
    assert both[1].taps_a == pytest.approx(alone.taps_a, rel=1e-3)
    assert both[1].tap_at == alone.tap_at
    for one, other in zip(both[1].conductors, alone.conductors, strict=True):
        assert (one.current_a, one.stretch) == (pytest.approx(other.current_a, rel=1e-3), other.stretch)
    assert both[1].taps_a[0] > 10 * both[0].taps_a[0]
