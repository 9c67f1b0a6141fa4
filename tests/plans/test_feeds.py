"""Find feeds: solved cases, bounds against trying everything, plans that hold in the whole build and stay as they
are."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.agreement import disagreements
from tests.support.builds import bridge, one_strip, part
from tests.support.effort import some
from tests.support.plans import build_of, results_of
from tiny_lantern.electrical.corner import at_corner
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.feed.bound import bound_of
from tiny_lantern.electrical.feed.search import _Search, search
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.power_tree import beside_strips_a, lamp_loads_a
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.light.seen import seen
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import NOMINAL_CORNER, Approach, Build, FullWhite, LevelLoad, Limits
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_joint, add_piece, add_strip, change_strip
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.plans.line import approaches_of, line_of, supplies_of
from tiny_lantern.plans.line_task import Loads, line_task
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.show.loads import duties_for
from tiny_lantern.ui.files import demo_build

CASES = json.loads((Path(__file__).parents[1] / "electrical" / "plan-cases.json").read_text(encoding="utf-8"))["cases"]
SMALL = [case for case in CASES if "big" not in case["tags"]]
BIG = [case for case in CASES if "big" in case["tags"]]


@pytest.mark.parametrize("case", SMALL, ids=lambda case: case["id"])
def test_a_case_tried_whole_is_met_in_every_figure(case: dict[str, Any]) -> None:
    assert list(disagreements(results_of(case), case["results"], 1e-6)) == []


@pytest.mark.parametrize("case", BIG, ids=lambda case: case["id"])
def test_a_big_case_has_the_bound_and_no_more_feeds_than_were_found(case: dict[str, Any]) -> None:
    found, wanted = results_of(case), case["results"]
    exact = {key: wanted[key] for key in ("possible", "candidates", "lower_bound")}
    assert list(disagreements(found, exact, 1e-6)) == []
    assert found["feeds_found"] <= wanted["feeds_found"]
    assert found["plan"]["margin_V"] >= 0


def asked_of(case: dict[str, Any]) -> Any:
    """The task of a case, everything at full white."""
    build, option = build_of(case)
    white = duties_for(build, FullWhite())
    return line_task(build, "run-0", option, Loads(white, white, white))


@some(10)
@given(st.sampled_from(SMALL), st.floats(0.6, 2.0), st.sampled_from([1.0, 2.0, 3.0, 5.0]), st.floats(0, 2), st.data())
def test_the_bound_is_one_and_single_moves_find_as_few_feeds_as_trying_everything(
    case: dict[str, Any], rails: float, fuse_a: float, place_m: float, data: st.DataObject
) -> None:
    given_ = json.loads(json.dumps(case))
    for run in given_["inputs"]["runs"]:
        run["rail_pos_ohm_per_m"] *= rails
        cuts = data.draw(st.lists(st.integers(1, run["pixel_count"] - 1), max_size=2, unique=True))
        run["positive_cut_before_pixel"] = sorted(cuts)
    given_["inputs"]["feed_option"]["fuse_A"] = fuse_a
    given_["inputs"]["supplies"][0]["position_m"] = place_m
    asked = asked_of(given_)
    bound = bound_of(asked.task, asked.least_a)
    whole = search(asked.task, bound, most_feeds=3)
    if whole.plan is None:
        return
    assert bound.fewest is not None
    assert bound.fewest <= len(whole.plan)
    hunt = _Search(asked.task, bound, lambda share: None, lambda: False, True)
    found, _ = hunt._local(len(whole.plan))
    assert found is not None
    assert hunt._of_local(found).best_worst_v <= whole.best_worst_v + 1e-9


def test_a_plan_holds_at_the_corner_in_the_whole_build_with_volts_to_spare() -> None:
    build = bridge()
    (plan,) = plan_feeds(build, "west-rail")
    applied = plan.apply(build)
    corner = at_corner(applied)
    white = duties_for(corner, FullWhite())
    lowest = solve_power(corner, white).runs["west-rail"].pixel_v.min()
    assert lowest - 3.7 == pytest.approx(plan.margin_v, abs=0.02)
    assert plan.corner_lows_v.min() == pytest.approx(lowest)
    assert plan.lows_v.min() > lowest
    assert plan.margin_v > 0.05
    codes = {(f.code, f.place.piece_id) for f in check(gather(applied, FullWhite()))}
    assert not {("pixel-voltage", "west-rail"), ("light-loss", "west-rail"), ("strip-copper", "west-rail")} & codes
    assert plan.supply_lacks_a > 0
    assert "larger supply" in plan.summary


@pytest.mark.parametrize("guarded", [False, True])
def test_the_answer_searched_again_is_the_same(guarded: bool) -> None:
    build = demo_build("footbridge")
    (plan,) = plan_feeds(build, "west-rail", guard_shorts=guarded)
    once = plan.apply(build)
    (again,) = plan_feeds(once, "west-rail", guard_shorts=guarded)
    assert [(f.attach, f.positive, f.fuse_id) for f in again.feeds] == [
        (f.attach, f.positive, f.fuse_id) for f in plan.feeds
    ]
    assert len(again.apply(once).approaches) == len(once.approaches)


def test_a_guarded_plan_leaves_no_short_standing_in_hot_copper() -> None:
    build = demo_build("footbridge")
    (plan,) = plan_feeds(build, "west-rail", guard_shorts=True)
    stands = [f for f in check(gather(plan.apply(build), FullWhite())) if f.code == "short-stands"]
    assert "west-rail" not in {finding.place.piece_id for finding in stands}
    assert plan.guarded


def test_other_plans_stand_beside_the_first_each_within_the_limits() -> None:
    build = change_supply(demo_build("footbridge"), "bank-box", sealed=False)
    plans = plan_feeds(build, "west-rail", alternatives=True)
    assert [plan.kind for plan in plans][:2] == ["fewest feeds", "most margin"]
    assert plans[1].count == plans[0].count + 1
    assert plans[1].worst_v > plans[0].worst_v
    assert all(plan.margin_v >= 0 and plan.count >= plans[0].count for plan in plans)
    assert len({tuple(f.attach.position_m for f in plan.feeds) for plan in plans}) == len(plans)


def wide(build: Build) -> Build:
    """The build with a supply that is never the limit."""
    return change_parts(build, revise(build.shelf.of(SupplyPart)[0], rated_a=900.0))


@pytest.mark.parametrize(("pixels", "cuts", "most"), [(300, (150, 151), 3), (480, (11, 12), 6)])
def test_a_zone_of_one_pixel_gets_its_feed_and_costs_no_more(pixels: int, cuts: tuple[int, ...], most: int) -> None:
    build = wide(change_strip(one_strip(pixels), "strip", cuts=cuts))
    (plan,) = plan_feeds(build, "strip")
    assert plan.count <= most
    assert plan.verified


def test_reach_spans_and_both_ends_are_all_that_may_be_fed() -> None:
    build = change_strip(one_strip(200), "strip", reach_m=((1.0, 1.4),))
    (plan,) = plan_feeds(build, "strip")
    places = [feed.attach.position_m for feed in plan.feeds]
    assert all(place in (0.0, build.strips[0].length_m) or 1.0 <= place <= 1.4 for place in places)


def test_joined_strips_are_one_line_and_a_branch_is_refused_by_name() -> None:
    build = wide(add_joint(add_strip(one_strip(60), part("rgb-5v-60"), 60, "Next"), "strip", "next"))
    (plan,) = plan_feeds(build, "next")
    assert plan.line.ids == {"strip", "next"}
    assert plan.verified
    branched = add_joint(add_strip(build, part("rgb-5v-60"), 9, "Twig"), "strip", "twig")
    with pytest.raises(LanternError, match="branch"):
        plan_feeds(branched, "twig")


def test_what_other_strips_draw_counts_and_a_supply_that_lacks_is_told() -> None:
    build = add_strip(one_strip(60, supply="mains-5v-4a"), part("rgb-5v-60"), 40, "Other")
    (alone,) = plan_feeds(build, "strip")
    assert alone.supply_lacks_a == 0
    feed = revise(build.feeds[0], id="second", attach=revise(build.feeds[0].attach, strip_id="other"))
    (beside,) = plan_feeds(revise(build, feeds=(*build.feeds, feed)), "strip")
    assert beside.supply_lacks_a == pytest.approx(100 * 0.0368 * 1.05 - 3.2, abs=0.01)
    assert not beside.verified


def test_lamps_on_the_same_supply_leave_a_plan_less_of_it() -> None:
    build = one_strip(80, supply="mains-5v-4a")
    (alone,) = plan_feeds(build, "strip")
    build = feed_board(add_board(build, part("board-8bit-large")), "board", "supply")
    lamps = LampGroup(id="lamps", name="Lamps", part_id="led-red-5mm", lamp_count=12)
    build = drive_piece(add_piece(build, part(lamps.part_id), lamps), "lamps", "pwm")
    loads_a = lamp_loads_a(build, solve_drive(build))["supply"]
    assert loads_a > 0.1
    (both,) = plan_feeds(build, "strip")
    assert alone.supply_lacks_a == 0
    assert both.supply_lacks_a == pytest.approx(80 * 0.0368 * 1.05 + loads_a - 3.2, abs=0.01)
    full = solve_power(at_corner(both.apply(build)), duties_for(build, FullWhite()), beside_strips_a(build))
    assert both.corner_lows_v == pytest.approx(full.runs["strip"].pixel_v, abs=1e-9)


def test_fuses_and_rails_are_judged_at_full_white_whatever_the_load() -> None:
    build = wide(one_strip(300))
    (white,), (dim,) = plan_feeds(build, "strip"), plan_feeds(build, "strip", LevelLoad(level=0.1))
    assert dim.bound.fuse == white.bound.fuse
    carried = max(abs(f.pos_a) for f in solve_power(dim.apply(build), duties_for(build, FullWhite())).feeds.values())
    assert carried <= 0.75 * dim.fuse.rating_a


def test_supplies_that_fall_under_load_share_a_line_as_the_whole_network_has_it() -> None:
    build = wide(one_strip(300))
    (source,) = build.shelf.of(SupplyPart)
    build = add_supply(change_parts(build, revise(source, output_ohm=0.03)), source, "Second")
    ways = ((build.supplies[0].id, 0.5, 0.5), (build.supplies[1].id, 4.0, 1.5))
    build = revise(build, approaches=tuple(
        Approach(id=f"way-{supply}", supply_id=supply, strip_id="strip", position_m=at, standoff_m=off)
        for supply, at, off in ways
    ))  # fmt: skip
    (plan,) = plan_feeds(build, "strip")
    assert {feed.supply_id for feed in plan.feeds} == {"supply", "second"}
    assert plan.worst_v == pytest.approx(plan.corner_lows_v.min(), abs=1e-5)


def test_zones_keep_a_feed_each_when_fewer_are_tried_than_each_would_need() -> None:
    asked = asked_of(SMALL[0] | {"inputs": SMALL[0]["inputs"] | {
        "runs": [run | {"positive_cut_before_pixel": [run["pixel_count"] // 4]} for run in SMALL[0]["inputs"]["runs"]],
        "feed_option": SMALL[0]["inputs"]["feed_option"] | {"fuse_A": 0.5},
    }})  # fmt: skip
    hunt = _Search(asked.task, bound_of(asked.task, asked.least_a), lambda share: None, lambda: False, True)
    zones, needed = asked.task.ladder.pieces, hunt.bound.fewest
    assert needed is not None
    assert needed > zones + 1
    for count in range(zones, needed + 3):
        shares = hunt._shares(count)
        assert (sum(shares), min(shares) >= 1) == (count, True)
    assert hunt._shares(zones - 1) is None


def test_no_plan_says_which_limit_forbids_it() -> None:
    with pytest.raises(LanternError, match="without any resistance"):
        plan_feeds(change_strip(wide(one_strip(400)), "strip", reach_m=()), "strip")
    with pytest.raises(LanternError, match="no supply"):
        plan_feeds(add_strip(Build(), part("rgb-5v-60"), 9), "strip-1")


def test_the_wire_of_a_feed_follows_where_the_supply_comes_to_the_line() -> None:
    build = one_strip(200)
    near = Approach(id="near", supply_id="supply", strip_id="strip", position_m=1.5, standoff_m=0.25)
    (plan,) = plan_feeds(revise(build, approaches=(near,)), "strip")
    for feed in plan.feeds:
        assert feed.positive.length_m == pytest.approx(0.25 + abs(feed.attach.position_m - 1.5), abs=1e-3)


def test_left_alone_the_wires_come_in_where_the_shortest_feed_is() -> None:
    build = one_strip(120, feeds=(0.0, 0.5))
    longer = revise(build.feeds[0].positive, length_m=3.0)
    build = revise(build, feeds=(revise(build.feeds[0], positive=longer, negative=longer), build.feeds[1]))
    line = line_of(build, "strip")
    (found,) = approaches_of(build, line, supplies_of(build, line))
    assert found.position_m == pytest.approx(1.0, abs=0.01)
    assert found.standoff_m == build.feeds[1].positive.length_m < 3.0


def test_the_corner_of_the_build_is_the_one_judged_at() -> None:
    nominal = revise(one_strip(200), corner=NOMINAL_CORNER)
    assert at_corner(nominal) is nominal
    harder = at_corner(one_strip(200))
    assert harder.supplies[0].set_v == pytest.approx(4.95)
    assert harder.shelf.of(StripPart)[0].rail_pos_ohm_per_m == pytest.approx(
        1.1 * nominal.shelf.of(StripPart)[0].rail_pos_ohm_per_m
    )
    assert harder.shelf.of(WirePart)[0].ohm_per_m == pytest.approx(1.05 * nominal.shelf.of(WirePart)[0].ohm_per_m)
    easy, hard = (plan_feeds(b, "strip")[0] for b in (nominal, one_strip(200)))
    assert (easy.count, hard.count) == (1, 2), "what one feed does at nominal it does not at the corner"


def test_a_search_can_be_stopped() -> None:
    with pytest.raises(CancelledError):
        plan_feeds(one_strip(200), "strip", cancelled=lambda: True)


def test_the_tidiest_of_plans_alike_stands_at_round_places() -> None:
    asked = asked_of(SMALL[1])
    found = search(asked.task, bound_of(asked.task, asked.least_a))
    longest = max(task_wire(asked, plan) for plan in found.alike)
    assert task_wire(asked, found.plan) <= longest
    only_ends = replace(asked.task, candidates=np.array([0, asked.task.ladder.size - 1]))
    few = search(only_ends, bound_of(only_ends, asked.least_a))
    assert few.plan is None
    assert few.why


def task_wire(asked: Any, plan: np.ndarray) -> float:
    """Metres of conductor of a plan."""
    return float(asked.task.wire_m[plan].sum())


def test_a_tighter_tint_limit_calls_for_more_feeds_and_is_met() -> None:
    """A strip behind resistors tints as it sags; with no other limit it is the tint that decides."""
    build, counts = one_strip(80, "rgb-12v-seg20", feeds=()), []
    for tint in (0.5, 0.006):
        asked = revise(build, limits=Limits(v_min_v=2.0, light_loss_max=1.0, tint_max=tint))
        plan = plan_feeds(asked, "strip", FullWhite())[0]
        solved = solve_power(at_corner(plan.apply(asked)), duties_for(asked, FullWhite()))
        shift = seen(part("rgb-12v-seg20"), solved.runs["strip"].pixel_v, np.ones((80, 3))).tint_shift
        counts.append((plan.count, float(shift.max())))
    assert counts[0][0] < counts[1][0]
    assert counts[0][1] > 0.006 >= counts[1][1]


def test_a_plan_is_called_verified_only_when_it_holds_in_the_whole_build() -> None:
    build = one_strip(150, feeds=())
    plan = plan_feeds(build, "strip", FullWhite())[0]
    assert plan.verified
    weak = change_parts(build, revise(build.shelf.of(SupplyPart)[0], rated_a=1.0))
    assert not plan_feeds(weak, "strip", FullWhite())[0].verified
