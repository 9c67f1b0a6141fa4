"""A build at the bench: its patterns, what a meter should say, the order, and why it says otherwise."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given

from tests.circuit.test_agreement import fed_builds
from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, driven, flood, lamps
from tests.support.effort import some
from tiny_lantern.bench.fault import Fault
from tiny_lantern.bench.of_build import AtBench, lamp_words
from tiny_lantern.bench.order import LIGHT, SUPPLIES, UNPOWERED, Order, first_power
from tiny_lantern.bench.patterns import DARK, Pattern, outputs_of, pattern_of, patterns_of
from tiny_lantern.bench.practice import hide, judge_guess
from tiny_lantern.bench.predict import Foresight
from tiny_lantern.bench.ranking import change_of
from tiny_lantern.bench.seen import WORDS, words_of
from tiny_lantern.bench.sheet import bench_sheet, places_at
from tiny_lantern.bench.strips.adopt import adopted
from tiny_lantern.bench.strips.faults.registry import strip_fault_kinds
from tiny_lantern.bench.strips.fit import world_with
from tiny_lantern.bench.strips.of_build import StripsAtBench
from tiny_lantern.bench.strips.plan import World
from tiny_lantern.bench.strips.probes import StripProbe
from tiny_lantern.bench.strips.ranking import Foreseen
from tiny_lantern.bench.why import why, why_task
from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.netlist import solve_netlist
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.bench import BenchReading
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_bench import begin_anew, see, take_reading, tick_step
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_power import add_feed, add_supply, change_supply
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.ways import drive_piece


def fed(kind: str = "register", count: int = 4, **changes: Any) -> Build:
    """Lamps driven in a way, all on a 5 V supply."""
    build = add_supply(driven(kind, lamps(count), **changes), part("mains-5v-4a"))
    return feed_board(build, build.boards[0].id, build.supplies[0].id)


def all_on(build: Build) -> Pattern:
    """Everything lit."""
    return next(pattern for pattern in patterns_of(build) if pattern.key.startswith("lit"))


class TestPatterns:
    """What is run."""

    def test_the_binary_ones_tell_every_output_from_every_other(self) -> None:
        build = fed(count=7)
        bits = [pattern for pattern in patterns_of(build) if pattern.key.startswith("bit")]
        codes = {output: tuple(output in pattern.lit for pattern in bits) for output in outputs_of(build)}
        assert len(set(codes.values())) == 7
        assert len(bits) == 3, "as few looks as can tell seven apart"
        assert all(any(code) for code in codes.values()), "no lamp stays dark in all of them"

    def test_one_output_alone_is_a_pattern_and_what_is_none_is_not(self) -> None:
        build = fed()
        driver, output = outputs_of(build)[2]
        alone = pattern_of(build, f"one {driver}/{output}")
        assert alone is not None
        assert alone.lit == {(driver, output)}
        assert pattern_of(build, "one nobody/9") is None
        assert pattern_of(build, "bit 40") is None


class TestExpected:
    """What a meter should say."""

    def test_currents_of_lamps_are_those_that_drive_shows(self) -> None:
        build = fed("register", 3)
        bench, result = AtBench(build), next(iter(wired_drive(build).by_driver.values()))
        rows = [row for row in bench.rows.values() if row.what == "resistor"]
        told = [bench.expected(all_on(build), bench.probe("A", conductor=row.key)) for row in rows]
        assert told == pytest.approx(result.on_a.tolist(), rel=2e-3)

    def test_ohms_across_a_resistor_are_its_own_and_across_a_lamp_open(self) -> None:
        build = fed("register", 3)
        bench = AtBench(build)
        row = next(row for row in bench.rows.values() if row.what == "resistor")
        pattern = pattern_of(build, DARK)
        assert pattern is not None
        through = bench.probe("ohm", row.start.node, row.end.node)
        assert bench.expected(pattern, through) == pytest.approx(row.ohm, rel=1e-9)
        lamp = bench.probe("ohm", row.end.node, bench.zero)
        assert bench.expected(pattern, lamp) > 1e6

    def test_nothing_of_the_mains_can_be_probed(self) -> None:
        build = driven("relay", flood("string-mains"))
        bench = AtBench(build)
        assert not [key for key in bench.ends if key.startswith("mains")]

    def test_bands_hold_what_parts_within_their_spread_read_and_little_else(self) -> None:
        build = fed("register", 4)
        bench, pattern = AtBench(build), all_on(fed("register", 4))
        plan, chance = bench.plan(pattern), np.random.default_rng(5)
        keys = [key for key in bench.ends if bench.node(key) != bench.node(bench.zero)][::5]
        probes = [bench.probe("V", key) for key in keys]
        expected = np.array([bench.expected(pattern, probe) for probe in probes])
        off = np.array([bench.off(pattern, probe) for probe in probes])
        read = []
        for _ in range(150):
            solution = solve_netlist(Change(tuple(_otherwise(plan.netlist.elements, chance))).over(plan.netlist))
            read.append([solution.volts(probe.plus) - solution.volts(probe.minus) for probe in probes])
        apart = np.abs(np.array(read) - expected)
        moved = off > 1e-4
        assert (apart[:, moved] <= off[moved]).mean() > 0.85, "most lie in the band"
        assert (apart[:, moved].max(axis=0) > 0.6 * off[moved]).all(), "and the band is no wider than it has to be"


def _otherwise(elements: tuple[Any, ...], chance: np.random.Generator) -> list[Any]:
    """Elements whose values lie anywhere within their spread."""
    found = []
    for each in elements:
        share = chance.uniform(-1, 1)
        if isinstance(each, Led):
            found.append(replace(each, test_v=each.test_v + 0.2 * share))
        elif isinstance(each, Conducting) and each.what == "resistor":
            found.append(replace(each, ohm=each.ohm * (1 + 0.05 * share)))
        elif isinstance(each, Supply):
            found.append(replace(each, set_v=each.set_v * (1 + 0.01 * share)))
    return found


class TestOrder:
    """What is done first."""

    def test_ohms_come_before_volts_and_volts_before_light(self) -> None:
        steps = first_power(fed())
        parts = [step.part for step in steps]
        assert parts == sorted(parts, key=[UNPOWERED, SUPPLIES, LIGHT].index)
        kinds = {
            step.part: {step.asked.kind for step in steps if step.part == step.part and step.asked} for step in steps
        }
        assert "ohm" in kinds[UNPOWERED]
        assert len({step.key for step in steps}) == len(steps)

    def test_every_reading_that_is_expected_lies_in_its_own_band_and_a_far_one_does_not(self) -> None:
        for step in first_power(fed()):
            if step.expected is not None:
                value = None if step.expected.value > 1e6 else step.expected.value
                assert step.expected.holds(value)
                assert not step.expected.holds(-5.0)

    def test_a_supply_set_too_low_is_out_of_band_just_past_the_edge(self) -> None:
        build = fed()
        step = next(step for step in first_power(build) if step.key.startswith("on/supply"))
        assert step.expected is not None
        assert step.expected.low < 5.0 < step.expected.high
        assert step.expected.holds(step.expected.low + 1e-6)
        assert not step.expected.holds(step.expected.low - 1e-6)

    def test_a_free_enable_is_found_with_the_supply_off(self) -> None:
        wired, free = (first_power(fed(enable_wired=given)) for given in (True, False))
        tied = [step.act for step in wired if "enable" in step.act]
        assert len(tied) == 1
        assert not [step for step in free if "enable" in step.act], "there is no such wire to read"

    def test_a_build_of_strips_alone_has_an_order_too(self) -> None:
        steps = first_power(one_strip())
        assert [step for step in steps if step.key == "on/supply/supply"]
        assert [step for step in steps if "white" in step.act]


def simulated(build: Build, fault: Fault | None, keys: list[str]) -> Build:
    """A build whose terminals were read, and whose lamps were looked at, with a fault in it and everything lit."""
    pattern, bench = all_on(build), AtBench(build)
    plan = bench.plan(pattern)
    sight = Foresight(plan, [bench.probe("V", key) for key in keys])
    shown = sight.shown(change_of(plan, fault)) if fault is not None else sight.as_planned
    for key, value in zip(keys, shown.read.tolist(), strict=True):
        reading = BenchReading(id="r", kind="V", plus=key, minus=bench.zero, pattern=pattern.key, value=round(value, 3))
        build = take_reading(build, reading, f"{value:.3f} V")
    words = words_of(shown.lamp_a[None], sight.as_planned.lamp_a)[0]
    seen = {lamp: WORDS[word] for lamp, word in zip(plan.lamps, words, strict=True)}
    return see(build, pattern.key, seen, "all lamps looked at")


class TestWhy:
    """What is wrong."""

    def test_a_healthy_build_is_called_healthy(self) -> None:
        build = fed("register", 3)
        found = why(simulated(build, None, list(AtBench(build).ends)[:6]))
        assert found.healthy
        assert found.causes[0].words == "Nothing is wrong"

    @pytest.mark.parametrize("kind", ["lamp_open", "resistor_bridged", "output_stuck"])
    def test_a_fault_is_named_at_its_lamp(self, kind: str) -> None:
        build = fed("register", 3)
        bench = AtBench(build)
        row = [row for row in bench.rows.values() if row.what == "resistor"][1]
        lamp = sorted(lamp_words(build))[1]
        places = {"lamp_open": Fault(kind, lamp), "resistor_bridged": Fault(kind, row.key),
                  "output_stuck": Fault(kind, row.start.node, "low")}  # fmt: skip
        found = why(simulated(build, places[kind], [row.start.node, row.end.node]))
        alike = {kind, "output_dead"} if kind == "output_stuck" else {kind}
        assert found.causes[0].kind in alike, found.causes
        assert found.causes[0].place == places[kind].place
        assert not found.healthy

    def test_the_next_reading_is_one_that_can_be_taken_and_says_what_each_cause_says(self) -> None:
        build = fed("register", 3)
        found = why(simulated(build, Fault("lamp_open", sorted(lamp_words(build))[1]), []))
        assert found.next is not None
        told = Order(AtBench(build)).expected(found.next.asked)
        assert told is not None, "the build has that place"
        assert found.next.leader.split(":")[0] != found.next.other.split(":")[0]

    def test_nothing_read_is_refused_and_what_the_build_no_longer_has_is_left_out(self) -> None:
        build = fed("register", 3)
        with pytest.raises(LanternError, match="nothing to explain"):
            why(build)
        gone = BenchReading(id="r", kind="V", plus="nowhere|1", minus="nowhere|2", value=3.0)
        with pytest.raises(LanternError, match="nothing to explain"):
            why(take_reading(build, gone, "3 V"))

    def test_contacts_follow_their_coils(self) -> None:
        build = add_supply(add_supply(driven("relay", flood()), part("mains-5v-4a")), part("mains-12v-5a"))
        build = feed_board(build, build.boards[0].id, build.supplies[0].id)
        bench, pattern = AtBench(build), all_on(build)
        plan = bench.plan(pattern)
        coil = next(each for each in plan.netlist.elements if each.id.endswith("coil 1"))
        driver = next(each for each in plan.netlist.elements if each.id == f"{coil.id} driver")
        switched = next(key for key in bench.ends if key.endswith("contact 1"))
        sight = Foresight(plan, [bench.probe("V", switched)])
        assert sight.as_planned.read[0] == pytest.approx(12.0, abs=0.3)
        assert abs(sight.shown(Change((replace(driver, state="open"),))).read[0]) < 0.01


class TestState:
    """What the file keeps."""

    def test_readings_looks_ticks_and_the_log_are_kept_with_the_stamp(self) -> None:
        build = simulated(fed(), None, list(AtBench(fed()).ends)[:2])
        build = tick_step(build, "off/plug", True, "Everything is unplugged.", "2026-12-01 18:02")
        again = loads(dumps(build))
        assert again == build
        assert again.bench.stamp == stamp_of(build)
        assert [entry.kind for entry in again.bench.log] == ["reading", "reading", "look", "step"]

    def test_a_second_reading_at_one_place_stands_for_the_first_and_the_log_has_both(self) -> None:
        build = fed()
        for value in (4.9, 5.0):
            build = take_reading(build, BenchReading(id="r", kind="V", plus="a|b", value=value), f"{value} V")
        assert [reading.value for reading in build.bench.readings] == [5.0]
        assert len(build.bench.log) == 2
        cleared = begin_anew(build)
        assert not cleared.bench.readings
        assert len(cleared.bench.log) == 3

    def test_the_bench_is_no_part_of_the_stamp(self) -> None:
        assert stamp_of(simulated(fed(), None, [])) == stamp_of(fed())
        assert stamp_of(change_supply(fed(), fed().supplies[0].id, set_v=5.1)) != stamp_of(fed())


class TestStrips:
    """Strips at the bench."""

    def test_volts_of_a_build_without_a_rail_of_returns_are_against_its_supply(self) -> None:
        build = add_board(one_strip(), part(LARGE))
        build = feed_board(build, build.boards[0].id, "supply")
        bench = AtBench(build)
        dark = pattern_of(build, DARK)
        assert dark is not None
        supply = next(key for key, end in bench.ends.items() if end.terminal == "supply")
        assert bench.expected(dark, bench.probe("V", supply)) == pytest.approx(5.0, abs=0.05)

    def test_pads_read_what_power_shows_and_lie_in_their_bands(self) -> None:
        build = one_strip(40)
        strips = StripsAtBench(build)
        solved = solve_power(build, strips.plan.sent).runs["strip"]
        for pixel in (0, 10, 39):
            pads = (f"strip/strip/{pixel}/pos", f"strip/strip/{pixel}/neg")
            value, off = strips.expected(strips.probe("V", *pads, "", "white"))
            assert value == pytest.approx(solved.pixel_v[pixel], abs=1e-3)
            assert 0 < off < 0.2
        with pytest.raises(KeyError):
            strips.probe("V", "strip/strip/40/pos", "strip/strip/40/neg", "", "white")

    def test_a_feed_that_is_soldered_to_the_other_strip_leaves_its_own_dark(self) -> None:
        build = add_feed(add_strip(one_strip(20), part("rgb-5v-60"), 20, "Far"), "supply", "far", 0.0, part("mm2-1_5"))
        plan = StripsAtBench(build).plan
        moved = next(
            sweep for sweep in strip_fault_kinds()["feed_wrong_place"].sweeps(plan) if sweep.places[0]["real_run"] == 1
        )
        read, volts = Foreseen(plan, [StripProbe("feed_A", feed=0)]).shown(moved.world(moved.places[-1], {}))
        assert abs(volts[:20]).max() < 0.01
        assert volts[20:].min() > 4
        assert read[0] > 0.2

    @pytest.mark.parametrize(
        "values",
        [{"rail_scale": 1.3}, {"pixel_current_scale": 0.8}, {"feed0_extra_ohm": 0.2}, {"supply0_V": 4.6},
         {"rail_neg_scale": 1.5, "feed0_extra_ohm": 0.05}],
    )  # fmt: skip
    def test_what_is_adopted_reads_as_it_was_fitted(self, values: dict[str, float]) -> None:
        build = one_strip(40)
        plan = StripsAtBench(build).plan
        probes = [StripProbe("pixel_V", pixel=39), StripProbe("feed_A", feed=0), StripProbe("node_V", rail="neg")]
        fitted, _ = Foreseen(plan, probes).shown(world_with(plan, values))
        planned, _ = Foreseen(plan, probes).shown(World(plan.network))
        own = StripsAtBench(adopted(build, values)).plan
        read, _ = Foreseen(own, probes).shown(World(own.network))
        assert read == pytest.approx(fitted, abs=1e-6)
        assert max(abs(fitted - planned)) > 5e-3

    def test_a_fault_of_strips_and_one_of_lamps_are_weighed_together(self) -> None:
        strip = one_strip(20)
        build = drive_piece(
            add_piece(add_board(strip, part(LARGE)), part("led-red-5mm"), lamps(2)), "lamps", "register"
        )
        build = simulated(build, None, [])
        assert why(build).healthy
        reading = BenchReading(id="r", kind="A", conductor="feed/feed/out", pattern="strips white", value=0.0)
        found = why(take_reading(build, reading, "nothing"))
        assert not found.healthy
        assert "feed" in found.causes[0].words
        assert sum(cause.posterior for cause in found.causes) + found.others == pytest.approx(1.0)


@some(12)
@given(fed_builds())
def test_any_build_has_an_order_whose_every_reading_can_be_taken(build: Build) -> None:
    sheet = bench_sheet(build, lambda share: None, lambda: False)
    assert len({step.key for step in sheet.steps}) == len(sheet.steps)
    for step in sheet.steps:
        if step.asked is not None and step.expected is not None:
            places = places_at(build, (step.asked,), lambda share: None, lambda: False)
            assert places[step.asked] is not None, step
            value = None if step.expected.value > 1e6 else step.expected.value
            assert step.expected.holds(value), step
    for pattern in sheet.patterns:
        assert pattern_of(build, pattern.key) is not None or pattern.key.startswith("strips")


def test_a_stop_is_a_stop_and_no_defect() -> None:
    build = simulated(fed("register", 3), None, [])
    with pytest.raises(CancelledError):
        why_task(build, lambda share: None, lambda: True)
    with pytest.raises(CancelledError):
        judge_guess(build, hide(fed("register", 3), "easy", 1), ("", ""), lambda share: None, lambda: True)


@pytest.mark.parametrize("past", [-0.01, 0.01])
def test_a_reading_is_a_snag_just_past_the_edge_of_its_band_and_not_before(past: float) -> None:
    build = fed("register", 3)
    step = next(step for step in first_power(build) if step.key.startswith("on/supply"))
    assert step.asked is not None
    assert step.expected is not None
    value = step.expected.low - past
    reading = BenchReading(id="r", kind="V", plus=step.asked.plus, minus=step.asked.minus, value=value)
    findings = [each for each in check(gather(take_reading(build, reading, "x"), FullWhite()))
                if each.code == "reading-off"]  # fmt: skip
    assert len(findings) == (past > 0)
    assert all("0.01 V out of its band" in each.message for each in findings)
