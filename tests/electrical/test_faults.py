"""Shorts at the far end, supplies that meet, and frames solved with one factorisation."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import builds, one_strip, part, white
from tiny_lantern.electrical.faults import far_shorts
from tiny_lantern.electrical.frames import FrameSolver
from tiny_lantern.electrical.network import conductor_ohm, fuse_of
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.supplies import allowed_share, meeting_supplies
from tiny_lantern.electrical.workings import (
    feed_working,
    pixel_working,
    short_working,
    supplies_working,
    supply_working,
)  # fmt: skip
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus, OnBus
from tiny_lantern.model.edits_pieces import add_joint, add_strip, toggle_cut
from tiny_lantern.model.edits_power import add_feed, add_supply, change_supply
from tiny_lantern.model.quantities import amps


def test_a_far_short_passes_supply_lead_and_all_the_copper() -> None:
    build = one_strip(120)
    feed = build.feeds[0]
    short = far_shorts(build)["feed"]
    lead = conductor_ohm(build, feed.positive, fuse_of(build, feed)) + conductor_ohm(build, feed.negative)
    assert short.copper_ohm == pytest.approx(2 * 0.12)
    assert short.current_a == pytest.approx(5 / (0.003 + lead + 0.24))


def test_a_fuse_guards_only_as_far_as_the_next_feed_or_cut() -> None:
    assert far_shorts(one_strip(120, feeds=(0, 1)))["feed"].copper_ohm == pytest.approx(0.24)
    middle = far_shorts(one_strip(120, feeds=(0, 0.5, 1)))
    assert middle["feed"].copper_ohm == pytest.approx(0.12, rel=0.01)
    assert middle["feed-2"].copper_ohm == pytest.approx(0.12, rel=0.01)
    cut = toggle_cut(one_strip(120, feeds=(0, 1)), "strip", 30)
    assert far_shorts(cut)["feed"].copper_ohm == pytest.approx(29.5 / 60 * 0.12)
    assert far_shorts(one_strip(feeds=())) == {}


def test_a_short_reaches_across_joints_and_buses() -> None:
    build = add_strip(one_strip(60), part("strips", "rgb-5v-60"), 60, "Next")
    joined = far_shorts(add_joint(build, "strip", "next"))["feed"]
    assert joined.copper_ohm == pytest.approx(0.12 + 0.016 + 0.12)
    bus = Bus(id="bus", strip_id="strip", pos_ohm_per_m=0.01, neg_ohm_per_m=0.01, tap_pixels=(0, 59))
    build = revise(one_strip(60), buses=(bus,))
    fed = revise(build, feeds=(revise(build.feeds[0], attach=OnBus(bus_id="bus")),))
    assert 0 < far_shorts(fed)["feed"].copper_ohm < 0.12


def test_supplies_that_share_copper_are_found_and_a_cut_parts_them() -> None:
    build = add_supply(one_strip(60), part("supplies", "mains-5v-10a"), "Other")
    both = add_feed(build, "other", "strip", 1.0, part("wires", "mm2-1_5"), 1.0)
    assert meeting_supplies(build) == []
    assert meeting_supplies(both) == [("other", "supply")]
    assert meeting_supplies(toggle_cut(both, "strip", 30)) == []
    apart = add_strip(build, part("strips", "rgb-5v-60"), 60, "Next")
    apart = add_feed(apart, "other", "next", 1.0, part("wires", "mm2-1_5"), 1.0)
    assert meeting_supplies(apart) == []
    assert meeting_supplies(add_joint(apart, "strip", "next")) == [("other", "supply")]


def test_a_sealed_supply_may_give_less() -> None:
    build = change_supply(one_strip(), "supply", sealed=True)
    assert allowed_share(build.supplies[0]) == 0.6
    assert allowed_share(one_strip().supplies[0]) == 0.8


@given(builds(), st.integers(0, 2**32 - 1))
def test_frames_solved_together_equal_frames_solved_alone(build: Build, seed: int) -> None:
    random = np.random.default_rng(seed)
    solver = FrameSolver(build)
    for _ in range(3):
        duties = tuple(np.round(random.random(duty.shape) * duty * 255) / 255 for duty in white(build))
        current, lowest = solver.solve(duties)
        alone = solve_power(build, duties)
        assert current == pytest.approx([s.current_a for s in alone.supplies.values()], abs=1e-6)
        assert lowest == pytest.approx(min(run.pixel_v.min() for run in alone.runs.values()), abs=1e-6)


def test_workings_put_the_solved_values_in() -> None:
    build = one_strip(120)
    solution = solve_power(build, white(build))
    pixel = pixel_working(build, solution, "strip", 119, np.ones(3))
    assert f"{solution.runs['strip'].pixel_v[119]:.3f} V" in pixel.text()
    assert pixel.steps[-1].result == f"{solution.runs['strip'].pixel_a[119] * 1000:.1f} mA"
    feed = feed_working(build, solution, "feed")
    assert "0.75·10 A" in feed.text()
    assert f"{solution.feeds['feed'].pos_a:.2f} A" in feed.text()
    assert "16.00 A" in supply_working(build, solution, "supply").text()
    assert "20.00 A" in short_working(build.feeds[0], far_shorts(build)["feed"], fuse_of(build, build.feeds[0])).text()
    resistive = one_strip(20, "rgb-12v-seg20")
    text = pixel_working(resistive, solve_power(resistive, white(resistive)), "strip", 3, np.ones(3)).text()
    assert "max(0," in text


def test_the_supplies_together_are_the_sum_of_each() -> None:
    build = add_supply(one_strip(60, feeds=(0.0,)), part("supplies", "mains-5v-10a"), "Second")
    wire, fuse = part("wires", "mm2-1_5"), part("fuses", "fuse-5a")
    build = add_feed(build, build.supplies[1].id, "strip", 1.0, wire, 1.0, fuse)
    solution = solve_power(build, white(build))
    working = supplies_working(build, solution)
    total = sum(supply.current_a for supply in solution.supplies.values())
    assert working.steps[-2].result == amps(total)
    assert working.steps[-1].result == "24.00 A"
    assert any(step.formula.startswith("Second: I = sum") for step in working.steps)
    joined = feed_working(build, solution, "feed").followed_by(working)
    assert joined.title == "Feed A"
    assert joined.steps[-1] == working.steps[-1]
    assert ";" in joined.source
