"""Rails and batteries against closed forms, and verdicts on them from both sides."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.findings.test_findings import found
from tests.support.builds import one_strip, part
from tests.support.driven import lit, railed
from tiny_lantern.electrical.battery import Draw, lasting, run_time
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.power_tree import power_tree, rail_states
from tiny_lantern.electrical.rails import RailState
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_drive import change_rail, feed_board, remove_driver, remove_rail
from tiny_lantern.model.edits_power import change_supply, remove_supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.supply import Cells, SupplyPart
from tiny_lantern.show.supply_draw import battery_life, supply_draws_a

FLAT = Cells(open_v=((0, 3.7), (1, 3.7)), own_ohm=0.0, capacity_ah=10, rated_at_a=2, cutoff_v=3.0)
SLOPE = Cells(open_v=((0, 3.0), (1, 4.0)), own_ohm=0.1, capacity_ah=10, rated_at_a=1, cutoff_v=3.4)
HOUR = 3600.0


class TestABattery:
    def test_a_flat_one_gives_its_charge_at_a_current(self) -> None:
        assert run_time(FLAT, Draw(current_a=4.0)).seconds == pytest.approx(2.5 * HOUR)

    def test_at_twice_the_rated_current_peukert_takes_some_of_it(self) -> None:
        """An exponent of 1.2 leaves 2^-0.2 = 0.8706 of the 2.5 h."""
        lossy = revise(FLAT, peukert=1.2)
        assert run_time(lossy, Draw(current_a=4.0)).seconds == pytest.approx(2.17638 * HOUR, rel=1e-5)
        assert run_time(lossy, Draw(current_a=2.0)).seconds == pytest.approx(5 * HOUR)

    def test_it_ends_where_its_voltage_meets_the_cut_off(self) -> None:
        """3.0 V + the charge, less 0.2 V at 2 A, is 3.4 V at six tenths: four tenths of 10 Ah at 2 A are two hours."""
        found = run_time(SLOPE, Draw(current_a=2.0))
        assert found.seconds == pytest.approx(2 * HOUR, rel=1e-6)
        assert found.left == pytest.approx(0.6)

    def test_behind_a_converter_the_current_rises_as_it_falls(self) -> None:
        found = run_time(revise(SLOPE, own_ohm=0.0), Draw(power_w=8.0))
        assert found.first_a == pytest.approx(2.0)
        assert found.last_a == pytest.approx(8.0 / 3.4, rel=1e-2)
        energy_wh = 10 * 0.6 * (4.0 + 3.4) / 2
        assert found.seconds == pytest.approx(energy_wh / 8.0 * HOUR, rel=1e-4)

    def test_what_it_cannot_give_lasts_no_time_and_nothing_lasts_without_end(self) -> None:
        assert run_time(SLOPE, Draw(power_w=1000.0)).seconds == 0
        assert run_time(SLOPE, Draw(current_a=7.0)).seconds == 0
        assert lasting(run_time(SLOPE, Draw()).seconds) == "without end"

    @given(st.floats(0.1, 5), st.floats(1.01, 2))
    def test_more_drawn_lasts_less(self, current_a: float, times: float) -> None:
        for way in ("current_a", "power_w"):
            less, more = (run_time(SLOPE, Draw(**{way: drawn})).seconds for drawn in (current_a, current_a * times))
            assert more < less or more == 0

    def test_a_table_that_falls_or_stops_short_is_refused(self) -> None:
        for table in (((0, 4.0), (1, 3.0)), ((0, 3.0), (0.9, 4.0)), ((0.5, 3.0), (0.5, 3.1))):
            with pytest.raises(LanternError, match="rises from a share of 0"):
                revise(FLAT, open_v=table)

    def test_times_are_told_as_people_say_them(self) -> None:
        assert [lasting(seconds) for seconds in (59, 600, 3600, 23_000)] == [
            "59 s",
            "10 min",
            "1 h 00 min",
            "6 h 23 min",
        ]

    @pytest.mark.parametrize(
        ("name", "hours"), [("battery-5v-3a", "6"), ("battery-5v-8a", "13"), ("battery-12v-lead", "5")]
    )
    def test_every_battery_on_the_shelf_says_how_long_it_lasts(self, name: str, hours: str) -> None:
        """10 and 20 Ah at about 3.7 V, 88 % of it at 5 W; 7 Ah at twenty times their rate by Peukert 5.7 h."""
        bare = railed(supply=name, target_v=3.0)
        assert (
            power_tree(remove_driver(bare, "lamps-sink"), None, solve_drive(remove_driver(bare, "lamps-sink")))[0].note
            == part(name).name
        )
        loaded = feed_board(bare, bare.boards[0].id, "source")
        life = battery_life(loaded, loaded.supplies[0], np.ones(10))
        root = power_tree(loaded, None, solve_drive(loaded), {"source": life})[0]
        shown, full = root.note.split("; ")
        assert shown.split(" h ")[0] == hours
        assert full.endswith("all lit")

    def test_the_show_draws_on_average_what_its_lamps_are_lit_for(self) -> None:
        build = railed()
        full, half = (lit(build, kind=kind) for kind in ("steady", "blink"))
        drive = solve_drive(build)
        fed_a, half_a = (supply_draws_a(each, None, drive)["source"].mean() for each in (full, half))
        lit_s, show_s = 10.0, build.show_s
        chip_a = 0.012
        lamps_a = state(build).worst_a - chip_a
        assert fed_a == pytest.approx(chip_a + lamps_a * lit_s / show_s, rel=1e-6)
        assert half_a - chip_a == pytest.approx((fed_a - chip_a) / 2, rel=0.1)
        assert supply_draws_a(build, None, drive) == {}

    def test_a_show_longer_than_it_lasts_is_told_from_both_sides(self) -> None:
        build = one_strip(100, supply="battery-5v-8a")
        source = build.shelf.of(SupplyPart)[0]
        small = change_parts(build, revise(source, cells=revise(source.cells, capacity_ah=0.5)))
        finding = found(change_build(small, show_s=3600.0))["battery-short"]
        short_s = float(finding.message.split(" s too short")[0].rsplit(" ", 1)[1])
        assert "battery-short" not in found(change_build(small, show_s=3600.0 - short_s - 1))
        assert "battery-short" in found(change_build(small, show_s=3600.0 - short_s + 1))

    def test_one_without_strips_is_asked_for_what_its_lamps_draw(self) -> None:
        lasts_s = []
        for count in (10, 20):
            build = lit(railed(count, supply="battery-5v-3a", target_v=4.0))
            source = build.shelf.of(SupplyPart)[0]
            build = change_parts(build, revise(source, cells=revise(source.cells, capacity_ah=0.05)))
            message = found(change_build(build, show_s=3600.0))["battery-short"].message
            lasts_s.append(3600.0 - float(message.split(" s too short")[0].rsplit(" ", 1)[1]))
        assert lasts_s[0] / lasts_s[1] == pytest.approx(2.0, rel=0.2)


def state(build: Build) -> RailState:
    """The one rail of a build, solved."""
    return rail_states(build, solve_drive(build))[0]


class TestARail:
    """Ten lamps of 18 mA at 5 V: 0.18 A, the chip's own current comes from the board."""

    def test_trimmed_unloaded_it_falls_and_trimmed_loaded_it_stands_higher_idle(self) -> None:
        falls = state(railed(output_ohm=1.0))
        lamps_a = sum(solve_drive(falls_build()).by_driver["lamps-sink"].on_a)
        assert (falls.idle_a, falls.worst_a) == (0.012, pytest.approx(lamps_a + 0.012)), "the chip hangs on it too"
        assert (falls.idle_v, falls.worst_v) == (5.0, pytest.approx(5.0 - lamps_a))
        stands = state(railed(output_ohm=1.0, trimmed="loaded"))
        assert (stands.worst_v, stands.idle_v) == (5.0, pytest.approx(5.0 + lamps_a))

    def test_its_window_is_judged_from_both_sides_and_the_mend_trims_it(self) -> None:
        build = railed(output_ohm=1.0, low_v=4.0, high_v=5.2)
        worst_v = state(build).worst_v
        assert "rail-window" not in found(change_rail(build, "rail-1", low_v=worst_v - 0.001))
        beyond = found(change_rail(build, "rail-1", low_v=worst_v + 0.002))["rail-window"]
        assert "2 mV beyond" in beyond.message
        high = railed(output_ohm=1.0, trimmed="loaded", low_v=4.0)
        idle_v = state(high).idle_v
        assert "rail-window" not in found(change_rail(high, "rail-1", high_v=idle_v + 0.001))
        assert "3 mV beyond" in found(change_rail(high, "rail-1", high_v=idle_v - 0.003))["rail-window"].message
        narrow = change_rail(build, "rail-1", low_v=4.99, high_v=5.0)
        assert not found(narrow)["rail-window"].tries, "no trim serves a window narrower than the fall"

    @pytest.mark.parametrize("trimmed", ["unloaded", "loaded"])
    def test_the_trim_that_serves_leaves_as_much_on_both_sides(self, trimmed: str) -> None:
        build = railed(output_ohm=1.6, low_v=4.6, high_v=5.4, trimmed=trimmed)
        trimmed_v = state(build).target_that_serves_v
        assert trimmed_v is not None
        serves = state(change_rail(build, "rail-1", target_v=trimmed_v))
        assert serves.low_margin_v == pytest.approx(serves.high_margin_v)
        assert 0 < serves.low_margin_v < 0.4

    def test_a_rail_is_judged_though_one_before_it_serves(self) -> None:
        build = railed(output_ohm=1.0, low_v=4.0, high_v=5.2)
        second = revise(build.rails[0], id="rail-2", name="Second", target_v=5.3)
        build = revise(build, rails=(*build.rails, second))
        assert found(build)["rail-window"].place.refs[0].id == "rail-2"

    def test_headroom_and_heat_are_judged_from_both_sides(self) -> None:
        build = railed(output_ohm=0.0)
        assert "rail-headroom" not in found(change_supply(build, "source", set_v=6.25))
        assert "0.10 V more" in found(change_supply(build, "source", set_v=6.15))["rail-headroom"].message
        part_c = state(build).part
        watts = (part_c.limit_c - 25.0) / part_c.theta_k_per_w
        limit_v = 5.0 + watts / state(build).worst_a
        assert "rail-hot" not in found(change_supply(build, "source", set_v=limit_v - 0.01))
        hot = found(change_supply(build, "source", set_v=limit_v + 1.0))["rail-hot"]
        assert f"{state(build).worst_a * part_c.theta_k_per_w:.0f} K over" in hot.message

    def test_a_rail_trimmed_loaded_needs_headroom_for_what_it_rises_to(self) -> None:
        build = railed(output_ohm=1.0, trimmed="loaded", high_v=6.0)
        needs_v = state(build).idle_v + 1.25
        assert needs_v > 5.05 + 1.25
        assert "rail-headroom" not in found(change_supply(build, "source", set_v=needs_v + 0.001))
        assert "rail-headroom" in found(change_supply(build, "source", set_v=needs_v - 0.001))

    def test_a_board_on_a_rail_draws_from_the_rails_supply(self) -> None:
        build = railed()
        before = state(build)
        fed = feed_board(build, build.boards[0].id, "rail-1")
        after = state(fed)
        assert after.idle_a == pytest.approx(before.idle_a + 0.05)
        (root,) = power_tree(fed, None, solve_drive(fed))
        assert root.worst_a == pytest.approx(after.worst_a)
        (rail,) = root.children
        assert {child.name for child in rail.children} == {"Board", "Lamps", "Lamps, chips"}
        assert remove_rail(fed, "rail-1").boards[0].fed_by is None
        assert remove_supply(fed, "source").rails == ()

    def test_what_a_regulator_cannot_give_and_a_window_inside_out_are_refused(self) -> None:
        with pytest.raises(LanternError, match="cannot be trimmed to 20 V") as refusal:
            railed(target_v=20.0)
        assert refusal.value.accepted == "1.25 to 12 V"
        with pytest.raises(LanternError, match="the window ends at 4 V"):
            railed(high_v=4.0)


def falls_build() -> Build:
    """The rail of one ohm."""
    return railed(output_ohm=1.0)
