"""Both sides of the small limits in circuits: nothing below zero, values across decades, rates at their ends."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, lamps
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.drive.bjt import StringLoad
from tiny_lantern.electrical.drive.hold import pulse_in_range
from tiny_lantern.electrical.drive.scanned import steady_enough
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.fuses import first_fuse
from tiny_lantern.electrical.lamp.eseries import E12, E24, preferred
from tiny_lantern.electrical.lamp.led import Led, LedString
from tiny_lantern.electrical.lamp.loop import Loop, loop_current
from tiny_lantern.electrical.power_tree import power_tree
from tiny_lantern.electrical.strip_facts import of_watts
from tiny_lantern.electrical.supplies import meeting_supplies, reaching_supplies
from tiny_lantern.findings.what_if import changes_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.edits_power import add_feed, add_supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part

RED, THREE = Led(1.9, 0.01, 10.0), Led(1.9, 0.01, 10.0, 3)


@pytest.mark.parametrize(("hertz", "fine"), [(99.0, False), (100.0, True), (1000.0, True), (1001.0, False)])
def test_lamps_are_pulsed_from_a_hundred_to_a_thousand_times_a_second(hertz: float, fine: bool) -> None:
    assert pulse_in_range(hertz) is fine


@pytest.mark.parametrize(("hertz", "still", "moving"), [(99.0, False, False), (100.0, True, False),
                                                        (399.0, True, False), (400.0, True, True)])  # fmt: skip
def test_a_scanned_lamp_is_steady_sooner_where_nothing_moves(hertz: float, still: bool, moving: bool) -> None:
    assert steady_enough(hertz, moving=False) is still
    assert steady_enough(hertz, moving=True) is moving


def test_a_loop_without_resistance_carries_nothing_below_its_foot_and_no_end_above() -> None:
    ideal = LedString((Led(forward_v=2.0, test_a=0.01, slope_ohm=0.0),))
    assert [loop_current(Loop(volts, 0.0, ideal), 0.0) for volts in (1.9, 2.0, 2.1)] == [0.0, 0.0, float("inf")]
    behind = LedString((RED,))
    assert loop_current(Loop(1.0, 25.0, behind), 100.0) == 0.0
    assert loop_current(Loop(5.0, 25.0, behind), 100.0) == pytest.approx(3.2 / 135)


def test_strings_that_a_supply_cannot_light_carry_nothing() -> None:
    load = StringLoad(supply_v=5.0, led=THREE, strings=2, resistor_ohm=100.0)
    assert load.current_a(lost_v=0.2) == 0.0
    assert StringLoad(supply_v=12.0, led=THREE, strings=2, resistor_ohm=100.0).current_a(
        lost_v=0.2, shared_ohm=5.0
    ) == pytest.approx(2 * (12 - 0.2 - 5.4) / (100 + 30 + 10))


@pytest.mark.parametrize(
    ("value", "down", "nearest", "up"),
    [(0.1, 0.1, 0.1, 0.1), (0.25, 0.22, 0.27, 0.27), (0.99, 0.82, 1.0, 1.0), (9.5, 8.2, 10, 10), (1e6, 1e6, 1e6, 1e6),
     (331, 330, 330, 390)],
)  # fmt: skip
def test_preferred_values_are_found_across_decades(value: float, down: float, nearest: float, up: float) -> None:
    found = preferred(value, E12)
    assert (found.down, found.nearest, found.up) == (pytest.approx(down), pytest.approx(nearest), pytest.approx(up))
    assert preferred(91, E24).nearest == 91


def test_a_strip_takes_at_least_what_its_chips_take() -> None:
    strip = part("rgb-5v-60")
    least = strip.pixel.quiescent_a * 5.0 * 60
    with pytest.raises(LanternError) as refusal:
        of_watts(strip, 0.9 * least)
    assert f"more than {least:.2g} W/m" in refusal.value.accepted
    assert of_watts(strip, 1.1 * least)


def test_parts_that_could_be_fitted_are_of_the_same_sort_and_others_than_the_one_there() -> None:
    build = driven("switch", lamps(2), led_v=12.0)
    driver = build.drivers[0]
    fitted = [change.words for change in changes_of(build, driver.id, tuple(shelf()))]
    named = {each.name for each in shelf() if each.kind == "transistor"}
    now = build.shelf.find(Part, driver.transistor_id).name
    assert f"{now} fitted" not in fitted
    assert {label.removesuffix(" fitted") for label in fitted if label.endswith(" fitted")} <= named - {now}
    assert sum(label.endswith(" fitted") for label in fitted) > 1


def test_a_chip_could_only_be_one_that_does_the_same() -> None:
    build = driven("register", lamps(2))
    driver = build.drivers[0]
    chips = {each.name: each.role for each in shelf() if each.kind == "chip"}
    words = [change.words.removesuffix(" fitted") for change in changes_of(build, driver.id, tuple(shelf()))]
    offered = {chips[word] for word in words if word in chips}
    assert offered == {build.shelf.find(ChipPart, driver.chip_id).role}
    assert len(set(chips.values())) > 1


def test_nothing_is_told_of_supplies_that_a_build_has_not() -> None:
    build = driven("pin", lamps(2))
    (lost,) = power_tree(build, None, solve_drive(build))
    assert lost.kind == "cable"
    lamps_a = float(np.sum(solve_drive(build).by_driver[build.drivers[0].id].on_a))
    assert lost.worst_a == pytest.approx(lamps_a + 0.05)
    (unfed,) = power_tree(driven("relay", flood()), None, solve_drive(driven("relay", flood())))[1:]
    assert (unfed.kind, [node.name for node in unfed.children]) == ("none", ["Flood", "Flood, coils"])
    assert power_tree(Build(), None, solve_drive(Build())) == ()


@pytest.mark.parametrize(("cuts", "meet"), [((), True), ((50,), False), ((20, 50), False), ((90,), True)])
def test_supplies_meet_where_no_cut_lies_between_their_feeds(cuts: tuple[int, ...], meet: bool) -> None:
    build = add_supply(one_strip(100, feeds=(0.0,)), part("mains-5v-20a"), "Other")
    build = add_feed(build, "other", "strip", 1.3, part("mm2-1_5"), 1.0, part("fuse-10a"))
    build = change_strip(build, "strip", cuts=cuts)
    assert set(reaching_supplies(build)["strip"]) == {"supply", "other"}
    assert meeting_supplies(build) == ([("other", "supply")] if meet else [])


@pytest.mark.parametrize(("taps", "meet"), [((20,), False), ((29,), False), ((30,), True), ((5, 45), True)])
def test_a_bus_joins_the_zones_that_its_taps_lie_in(taps: tuple[int, ...], meet: bool) -> None:
    build = add_supply(one_strip(60), part("mains-5v-4a"), "Other")
    build = add_feed(build, "other", "strip", 0.95, part("mm2-1_5"), 1.0, part("fuse-10a"))
    build = change_strip(build, "strip", cuts=(30,))
    bus = Bus(id="bus", strip_id="strip", pos_ohm_per_m=0.01, neg_ohm_per_m=0.01, tap_pixels=(0, *taps))
    assert meeting_supplies(build) == []
    assert meeting_supplies(revise(build, buses=(bus,))) == ([("other", "supply")] if meet else [])


def test_the_first_fuse_may_be_as_large_as_what_its_wire_bears() -> None:
    build = one_strip(2000)
    wire = part("mm2-1_5")
    for rating_a in (7.5, 10.0):
        assert first_fuse(build, build.strips[0], revise(wire, limit_a=rating_a)).rating_a == rating_a
    assert first_fuse(build, build.strips[0], revise(wire, limit_a=9.99)).rating_a == 7.5
