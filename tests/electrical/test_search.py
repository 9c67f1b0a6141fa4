"""The feed search against trying everything, and its bounds."""

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tiny_lantern.electrical.bare_run import BareRun, FeedKind, linear_above_v
from tiny_lantern.electrical.copper import end_fed_drop
from tiny_lantern.electrical.cover import ideal_feeds
from tiny_lantern.electrical.network import node_position_m
from tiny_lantern.electrical.power import PowerSolution, solve_power
from tiny_lantern.electrical.search import FeedLimits, Placement, find_feeds, lower_bound
from tiny_lantern.light.seen import least_voltage
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Conductor, Feed, Limits, OnStrip
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.errors import CancelledError, LanternError

WIRE_OHM_PER_M = 0.0133


class Problem:
    """One run with what a feed would be, able to solve any placement the long way."""

    def __init__(
        self, pixels: int, part_id: str, set_v: float, rail: float, feed_a: float, base_m: float, cuts=()
    ) -> None:
        build = change_strip(
            one_strip(pixels, part_id), "strip", rail_pos_ohm_per_m=rail, rail_neg_ohm_per_m=rail * 0.8
        )
        self.build = change_supply(change_strip(build, "strip", cuts=cuts), "supply", set_v=set_v)
        self.strip, self.part = self.build.strips[0], self.build.parts.strips[0]
        self.duty = np.ones((pixels, len(self.part.pixel.channels)))
        output = self.build.parts.supplies[0].output_ohm
        self.kind = FeedKind(set_v, output, WIRE_OHM_PER_M, 0.012, 0.002, base_m, 0.0)
        self.run = BareRun(self.strip, self.part, self.duty, self.kind, np.arange(pixels + 2))
        least = np.maximum(least_voltage(self.part, Limits(), self.duty), linear_above_v(self.part))
        self.limits = FeedLimits(feed_a, 4.0, least)

    def solved(self, nodes: tuple[int, ...]) -> PowerSolution:
        """A placement solved by the general solver."""
        feeds = []
        for number, node in enumerate(nodes):
            place = node_position_m(self.strip, node)
            length = self.kind.base_m + abs(place)
            sides = [
                Conductor(wire_id="mm2-1_5", length_m=length, measured_ohm=length * WIRE_OHM_PER_M + fixed)
                for fixed in (self.kind.pos_fixed_ohm, self.kind.neg_fixed_ohm)
            ]
            attach = OnStrip(strip_id="strip", position_m=place)
            feeds.append(
                Feed(id=f"f-{number}", supply_id="supply", attach=attach, positive=sides[0], negative=sides[1])
            )
        build: Build = revise(self.build, feeds=tuple(feeds))
        return solve_power(build, (self.duty,))

    def inside(self, nodes: tuple[int, ...]) -> Placement | None:
        """The placement if the general solver finds it within all limits."""
        try:
            solution = self.solved(nodes)
        except LanternError:
            return None
        run = solution.runs["strip"]
        carried = max(max(abs(f.pos_a), abs(f.neg_a)) for f in solution.feeds.values())
        rails = max(np.abs(run.rail_pos_a).max(), np.abs(run.rail_neg_a).max())
        if carried > self.limits.feed_a or rails > self.limits.rail_a or (run.pixel_v < self.limits.least_v).any():
            return None
        wire = round(sum(self.kind.base_m + node_position_m(self.strip, node) for node in nodes), 3)
        return Placement(nodes, wire, float(run.pixel_v.min()))

    def best_by_trying_everything(self, most: int) -> Placement | None:
        """The fewest feeds, then least wire, then highest worst voltage, one general solve at a time."""
        nodes = range(self.strip.pixel_count + 2)
        for count in range(1, most + 1):
            found = [place for choice in combinations(nodes, count) if (place := self.inside(choice))]
            if found:
                return min(found, key=lambda place: (place.wire_m, -round(place.worst_v, 9)))
        return None


@settings(max_examples=8)
@given(
    st.integers(3, 40), st.sampled_from(["rgb-5v-60", "rgb-5v-30", "rgbw-5v-60"]), st.sampled_from([4.4, 4.7, 5.0]),
    st.floats(0.2, 1.2), st.sampled_from([0.8, 1.5, 7.5]), st.floats(0.2, 2),
)  # fmt: skip
def test_the_search_equals_trying_everything_up_to_forty_pixels(
    pixels: int, part_id: str, set_v: float, rail: float, feed_a: float, base_m: float
) -> None:
    problem = Problem(pixels, part_id, set_v, rail, feed_a, base_m)
    best = problem.best_by_trying_everything(2)
    if best is None:
        with pytest.raises(LanternError):
            find_feeds(problem.run, problem.limits, most_feeds=2)
        return
    result = find_feeds(problem.run, problem.limits)
    assert result.proven
    assert len(result.placement.nodes) == len(best.nodes) >= result.lower_bound
    assert result.placement.wire_m == pytest.approx(best.wire_m, abs=1e-3)
    assert result.placement.worst_v == pytest.approx(best.worst_v, abs=1e-6)


def test_three_feeds_are_found_where_trying_everything_finds_three() -> None:
    problem = Problem(16, "rgb-5v-60", 5.0, 2.0, 0.24, 0.3)
    best = problem.best_by_trying_everything(3)
    assert best is not None
    result = find_feeds(problem.run, problem.limits)
    assert result.placement.nodes == best.nodes
    assert len(best.nodes) == 3


@pytest.mark.parametrize("part_id", ["rgb-12v-seg20", "rgb-24v-seg10", "rgb-5v-60"])
def test_the_linear_run_gives_the_general_solvers_volts(part_id: str) -> None:
    volts = {"rgb-12v-seg20": 12.0, "rgb-24v-seg10": 24.0, "rgb-5v-60": 5.0}[part_id]
    problem = Problem(30, part_id, volts, 0.1, 9, 1.0, cuts=(12,))
    fed = problem.run.solve(np.array([[3, 20, 31]]))
    solution = problem.solved((3, 20, 31))
    assert fed.pixel_v[0] == pytest.approx(solution.runs["strip"].pixel_v, abs=1e-8)
    carried = [max(abs(f.pos_a), abs(f.neg_a)) for f in solution.feeds.values()]
    assert fed.feed_a[0] == pytest.approx(carried, abs=1e-8)


def test_every_zone_gets_a_feed() -> None:
    problem = Problem(30, "rgb-5v-60", 5.0, 0.1, 9, 1.0, cuts=(10, 20))
    nodes = find_feeds(problem.run, problem.limits).placement.nodes
    assert [sum(1 for cut in (10, 20) if node - 1 >= cut) for node in nodes] == [0, 1, 2]


def test_the_lower_bound_is_never_above_what_is_found() -> None:
    for pixels in (50, 120, 240):
        problem = Problem(pixels, "rgb-5v-60", 5.0, 0.12, 4.0, 0.5)
        result = find_feeds(problem.run, problem.limits)
        assert lower_bound(problem.run, problem.limits) <= len(result.placement.nodes)


def test_the_ideal_cover_agrees_with_the_closed_form() -> None:
    problem = Problem(60, "rgb-5v-60", 5.0, 0.1, 99, 0.1)
    pixel_a = problem.run.least_pixel_a(4.0)[0]
    drop = end_fed_drop(60, 1 / 60, 0.18, pixel_a)
    headroom = problem.run.headroom_v(4.0)
    assert drop < headroom
    assert ideal_feeds(problem.run, 4.0) == 1
    assert ideal_feeds(problem.run, 4.0 + headroom - drop / 3.5) == 1
    assert ideal_feeds(problem.run, 4.0 + headroom - drop / 40) >= 3


def test_a_long_run_is_answered_and_the_answer_holds_when_solved() -> None:
    problem = Problem(300, "rgb-5v-60", 5.0, 0.08, 4.0, 0.5)
    result = find_feeds(problem.run, problem.limits)
    assert problem.inside(result.placement.nodes) is not None
    assert result.placement.worst_v == pytest.approx(problem.inside(result.placement.nodes).worst_v, abs=1e-6)


def test_shorts_are_guarded_when_asked() -> None:
    problem = Problem(120, "rgb-5v-30", 5.0, 0.06, 3.0, 1.0)
    free = find_feeds(problem.run, problem.limits)
    guarded = find_feeds(problem.run, revise_limits(problem.limits, 8.0))
    choice = np.array([guarded.placement.nodes])
    assert problem.run.short_a(choice).min() >= 8.0 - 1e-9
    assert len(guarded.placement.nodes) >= len(free.placement.nodes)


def revise_limits(limits: FeedLimits, short_a: float) -> FeedLimits:
    """The same limits with far shorts guarded."""
    return FeedLimits(limits.feed_a, limits.rail_a, limits.least_v, short_a)


def test_the_hopeless_is_refused_and_a_search_can_be_stopped() -> None:
    hopeless = Problem(40, "rgb-5v-60", 3.6, 0.1, 9, 1.0)
    with pytest.raises(LanternError, match="even with a feed at every place"):
        find_feeds(hopeless.run, hopeless.limits)
    fine = Problem(40, "rgb-5v-60", 5.0, 0.1, 9, 1.0)
    with pytest.raises(CancelledError):
        find_feeds(fine.run, fine.limits, cancelled=lambda: True)


def test_progress_is_told() -> None:
    problem = Problem(100, "rgb-5v-60", 5.0, 0.1, 2.0, 1.0)
    told: list[float] = []
    find_feeds(problem.run, problem.limits, told.append)
    assert told
    assert all(0 <= share <= 1 for share in told)
    assert part("wires", "mm2-1_5").ohm_per_m == WIRE_OHM_PER_M
