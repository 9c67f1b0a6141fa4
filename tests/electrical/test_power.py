"""The solve against reference networks, closed forms, a second linear solver, and physics."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import builds, ideal_strip, one_strip, part, white
from tests.support.cases import build_from_case, cases
from tiny_lantern.electrical import newton
from tiny_lantern.electrical.copper import end_fed_drop
from tiny_lantern.electrical.linear import BandedSystem, SparseSystem, system_for
from tiny_lantern.electrical.network import network_of, node_position_m, snap_node
from tiny_lantern.electrical.power import PowerSolution, is_approximate, power_balance, solve_power
from tiny_lantern.electrical.reach import stranded
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus, Conductor, OnBus, OnStrip
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_pieces import add_joint, add_strip, change_strip, toggle_cut
from tiny_lantern.model.edits_power import add_feed, add_supply, change_supply, move_feed
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.layouts import AlongLine
from tiny_lantern.model.parts.supply import SupplyPart


def solved(build: Build, duties: tuple | None = None) -> PowerSolution:
    """A build solved, its power balance checked."""
    solution = solve_power(build, white(build) if duties is None else duties)
    balance = power_balance(solution)
    sources = balance.pop("sources")
    assert sources == pytest.approx(sum(balance.values()), abs=1e-6)
    return solution


@pytest.mark.parametrize("name", cases())
def test_a_reference_network_is_met_everywhere(name: str) -> None:
    case = cases()[name]
    build, duties = build_from_case(case)
    solution = solved(build, duties)
    wanted = case["results"]
    for number, run in enumerate(wanted["runs"]):
        mine = solution.runs[f"run-{number}"]
        for got, key, most in (
            (mine.pixel_v, "pixel_V", 1e-4), (mine.pixel_a, "pixel_A", 1e-5), (mine.rail_pos_v, "rail_pos_V", 1e-4),
            (mine.rail_neg_v, "rail_neg_V", 1e-4),
        ):  # fmt: skip
            assert np.abs(got - run[key]).max() < most, key
    for number, feed in enumerate(wanted["feeds"]):
        mine_feed = solution.feeds[f"feed-{number}"]
        assert mine_feed.pos_a == pytest.approx(feed["pos_A"], abs=1e-5)
        assert mine_feed.neg_a == pytest.approx(feed["neg_A"], abs=1e-5)
    for number, supply in enumerate(wanted["supplies"]):
        mine_supply = solution.supplies[f"supply-{number}"]
        assert mine_supply.current_a == pytest.approx(supply["current_A"], abs=1e-5)
        assert mine_supply.terminal_v == pytest.approx(supply["terminal_V"], abs=1e-4)
    assert power_balance(solution)["pixels"] == pytest.approx(wanted["power"]["pixels_W"], abs=1e-4)


@pytest.mark.parametrize("name", cases())
def test_band_and_general_method_agree(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    build, duties = build_from_case(cases()[name])
    banded = solve_power(build, duties)

    def general(network, held, supply_s):
        return SparseSystem(network, held, supply_s)

    monkeypatch.setattr(newton, "system_for", general)
    other = solve_power(revise(build, pieces=tuple(revise(strip) for strip in build.strips)), duties)
    assert np.abs(banded.operating.node_v - other.operating.node_v).max() < 1e-7


def test_anchors_of_a_uniform_ladder() -> None:
    drop = end_fed_drop(60, 1 / 60, 0.16, 0.012)
    one = solved(ideal_strip(60, (0.0,))).runs["strip"].pixel_v
    both = solved(ideal_strip(60, (0.0, 1.0))).runs["strip"].pixel_v
    thirds = solved(ideal_strip(60, (0, 1 / 3, 2 / 3, 1))).runs["strip"].pixel_v
    assert drop == pytest.approx(0.0576)
    assert 5 - one.min() == pytest.approx(drop, rel=0.02)
    assert 5 - both.min() == pytest.approx(drop / 4, rel=0.02)
    assert 5 - thirds.min() == pytest.approx(drop / 36, rel=0.15)


@given(builds())
def test_power_is_conserved_in_any_build(build: Build) -> None:
    solved(build)


@given(builds(), st.floats(0, 1))
def test_current_is_conserved_between_pixels_feeds_and_supplies(build: Build, level: float) -> None:
    solution = solved(build, tuple(duty * level for duty in white(build)))
    pixels = sum(run.pixel_a.sum() for run in solution.runs.values())
    assert sum(feed.pos_a for feed in solution.feeds.values()) == pytest.approx(pixels, abs=1e-6)
    assert sum(feed.neg_a for feed in solution.feeds.values()) == pytest.approx(pixels, abs=1e-6)
    assert sum(supply.current_a for supply in solution.supplies.values()) == pytest.approx(pixels, abs=1e-6)


@given(st.integers(2, 80), st.floats(0, 1))
def test_another_feed_never_lowers_a_pixel(pixels: int, share: float) -> None:
    build = one_strip(pixels)
    more = add_feed(build, "supply", "strip", share * build.strips[0].length_m, part("mm2-1_5"), 1.0)
    assert (solved(more).runs["strip"].pixel_v >= solved(build).runs["strip"].pixel_v - 0.02).all()
    assert solved(more).runs["strip"].pixel_v.min() >= solved(build).runs["strip"].pixel_v.min() - 1e-6


@given(builds(), st.floats(0, 1), st.floats(0, 1))
def test_beginning_from_another_solution_gives_the_same(build: Build, level: float, place: float) -> None:
    near = solved(build)
    moved = move_feed(build, build.feeds[0].id, place * build.strips[0].length_m)
    try:
        cold = solve_power(moved, white(moved))
    except LanternError:
        return
    again = revise(moved, pieces=tuple(revise(strip) for strip in moved.strips))
    warm = solve_power(again, white(again), near=near)
    assert np.abs(warm.operating.node_v - cold.operating.node_v).max() < 1e-6
    dim = tuple(duty * level for duty in white(again))
    assert (
        np.abs(solve_power(again, dim, near=near).operating.node_v - solve_power(moved, dim).operating.node_v).max()
        < 1e-6
    )


def test_a_mirrored_strip_gives_mirrored_volts() -> None:
    start, end = solved(one_strip(200)), solved(one_strip(200, feeds=(1.0,)))
    assert start.runs["strip"].pixel_v == pytest.approx(end.runs["strip"].pixel_v[::-1], abs=1e-8)


@pytest.mark.parametrize(
    ("q", "node"), [(0, 0), (0.25, 0), (0.3, 1), (1.0, 1), (2.0, 2), (2.01, 3), (9.75, 10), (9.8, 11)]
)
def test_a_feed_snaps_to_the_nearest_node_and_a_tie_goes_lower(q: float, node: int) -> None:
    strip = one_strip(10).strips[0]
    assert snap_node(strip, q * strip.pitch_m) == node
    assert snap_node(strip, node_position_m(strip, node)) == node


def two_supplies(low: float, high: float) -> Build:
    """One strip fed at each end by a supply of its own voltage that takes no current back."""
    build = add_supply(one_strip(60), part("mains-5v-20a"), "Other")
    build = change_supply(change_supply(build, "supply", set_v=low), "other", set_v=high)
    return add_feed(build, "other", "strip", 1.0, part("mm2-1_5"), 1.0)


def test_a_supply_that_takes_nothing_back_floats_instead() -> None:
    build = two_supplies(5.0, 5.4)
    dark = tuple(duty * 0 for duty in white(build))
    solution = solved(build, dark)
    lower = solution.supplies["supply"]
    assert lower.current_a == pytest.approx(0, abs=1e-9)
    assert not lower.delivering
    assert lower.terminal_v > 5.2
    together = solved(two_supplies(5.0, 5.02))
    assert all(supply.delivering and supply.current_a > 0 for supply in together.supplies.values())


def test_a_supply_that_sinks_takes_current_back() -> None:
    build = two_supplies(5.0, 5.4)
    sinking = change_parts(build, *(revise(p, sinks_current=True) for p in build.shelf.of(SupplyPart)))
    dark = tuple(duty * 0 for duty in white(build))
    assert solved(sinking, dark).supplies["supply"].current_a < -0.1


def test_a_loop_of_strips_and_a_bus_is_solved() -> None:
    build = one_strip(40)
    for name in ("B", "C"):
        build = add_strip(build, part("rgb-5v-60"), 40, name)
    build = add_joint(add_joint(add_joint(build, "strip", "b"), "b", "c"), "c", "strip")
    ring = solved(build)
    assert isinstance(
        system_for(ring.network, np.zeros(ring.network.node_count, bool), _no_supplies(ring)), BandedSystem
    )
    assert ring.runs["b"].pixel_v.min() < ring.runs["strip"].pixel_v.min()
    bus = Bus(id="bus", strip_id="b", pos_ohm_per_m=0.01, neg_ohm_per_m=0.01, tap_pixels=tuple(range(40)))
    lead = Conductor(wire_id="mm2-1_5", length_m=1)
    fed = revise(build.feeds[0], id="bus-feed", attach=OnBus(bus_id="bus", end="end"), positive=lead, negative=lead)
    wide = solved(revise(build, buses=(bus,), feeds=(*build.feeds, fed)))
    assert wide.runs["b"].pixel_v.min() > ring.runs["b"].pixel_v.min()


def _no_supplies(solution: PowerSolution) -> np.ndarray:
    conductance = np.zeros(solution.network.node_count)
    conductance[[supply.node for supply in solution.network.supplies]] = 1.0
    return conductance


@pytest.mark.parametrize(
    ("build", "what"),
    [
        (one_strip(feeds=()), "“Strip” has no feed"),
        (toggle_cut(one_strip(60), "strip", 30), "pixels 30 to 59 have no feed"),
        (add_strip(one_strip(60), part("rgb-5v-60"), 9, "Far"), "“Far” has no feed"),
    ],
)
def test_what_nothing_reaches_is_named_and_dark_and_the_rest_is_solved(build: Build, what: str) -> None:
    piece = stranded(build)[0]
    assert what in piece.what
    dark = solve_power(build, white(build)).runs[piece.strip.id]
    assert (dark.pixel_v[piece.first_pixel : piece.stop_pixel] == 0).all()
    assert (dark.pixel_a[piece.first_pixel : piece.stop_pixel] == 0).all()
    if build.feeds:
        alone = one_strip(30 if piece.first_pixel else 60)
        lit = solve_power(build, white(build)).runs["strip"].pixel_v
        assert lit[: len(lit) // (2 if piece.first_pixel else 1)] == pytest.approx(
            solve_power(alone, white(alone)).runs["strip"].pixel_v, abs=1e-9
        )


def test_an_empty_build_has_nothing_to_solve() -> None:
    with pytest.raises(LanternError, match="nothing to solve"):
        solve_power(Build(), ())


def test_a_feed_without_any_resistance_is_refused_as_a_short() -> None:
    build = one_strip()
    bare = Conductor(wire_id="mm2-1_5", length_m=0)
    feed = revise(build.feeds[0], positive=bare, negative=bare, fuse_id=None)
    with pytest.raises(LanternError, match="no resistance"):
        solve_power(revise(build, feeds=(feed,)), white(build))


def test_duties_of_a_wrong_shape_are_refused() -> None:
    with pytest.raises(LanternError, match="shape"):
        solve_power(one_strip(60), (np.ones((59, 3)),))


def test_averaging_is_called_approximate_only_when_it_is() -> None:
    build = one_strip(400)
    half = tuple(duty * 0.6 for duty in white(build))
    assert is_approximate(solved(build, half), half)
    assert not is_approximate(solved(build), white(build))
    short = one_strip(20)
    dim = tuple(duty * 0.5 for duty in white(short))
    assert not is_approximate(solved(short, dim), dim)


def test_results_are_remembered_by_what_they_read() -> None:
    build, duties = one_strip(), white(one_strip())
    first = solve_power(build, duties)
    assert solve_power(revise(build, name="Renamed"), duties) is first
    assert solve_power(move_feed(build, "feed", 0.5), duties) is not first
    assert network_of(build) is network_of(revise(build, notes="other"))


def test_a_place_in_the_picture_costs_no_new_solution_but_all_else_of_a_strip_and_a_supply_does() -> None:
    build = one_strip(30)
    duties = white(build)
    solution = solve_power(build, duties)
    moved = change_supply(change_strip(build, "strip", layout=AlongLine(x_m=2.0)), "supply", x_m=5.0, y_m=1.0)
    assert solve_power(moved, duties) is solution
    others = (
        change_strip(build, "strip", rail_pos_ohm_per_m=0.5),
        change_strip(build, "strip", name="Other"),
        change_supply(build, "supply", set_v=4.9),
    )
    for other in others:
        assert solve_power(other, duties) is not solution


def test_a_feed_dragged_to_another_strip_feeds_it() -> None:
    build = add_strip(one_strip(30), part("rgb-5v-60"), 30, "Other")
    moved = move_feed(build, "feed", 0.2, "other")
    assert isinstance(moved.feeds[0].attach, OnStrip)
    assert moved.feeds[0].attach.strip_id == "other"
