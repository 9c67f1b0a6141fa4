"""The whole show in figures, against sums made by hand."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, lamps, lit, matrix
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FrameLoad
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.supply import Cells
from tiny_lantern.model.place import Place
from tiny_lantern.show.channels import channel_duties
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.figure import Figure, figure_of
from tiny_lantern.show.figures import show_figures
from tiny_lantern.show.loads import duties_for
from tiny_lantern.show.supply_draw import battery_life, supply_draws_a
from tiny_lantern.show.weave import render


def figures(build: Build) -> dict[str, Figure]:
    draw = show_draw(build) if build.strips else None
    return {figure.what: figure for figure in show_figures(build, draw, solve_drive(build))}


def striped() -> Build:
    """Half lit for four seconds, then all of it for two, then dark for four."""
    build = change_build(one_strip(80, feeds=(0.0, 1.0)), show_s=10.0)
    build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 39, 0.0, 4.0)
    return add_effect(build, look_of("steady", colour="#ffffff"), 0, 79, 4.0, 2.0)


def test_supplies_and_feeds_have_the_peaks_of_their_worst_frames_and_the_means_of_all() -> None:
    build = striped()
    found = figures(build)
    at = [solve_power(build, duties_for(build, FrameLoad(time_s=t))) for t in (1.0, 5.0, 8.0)]
    amps = [solved.supplies["supply"].current_a for solved in at]
    supply = found["Supply"]
    assert supply.peak_a == pytest.approx(amps[1])
    assert build.timeline.begins_s(supply.tick) == pytest.approx(4.0)
    assert supply.mean_a == pytest.approx(np.dot(amps, [0.4, 0.2, 0.4]))
    feeds = [solved.feeds["feed"].pos_a for solved in at]
    assert found["Feed A"].peak_a == pytest.approx(max(feeds), rel=1e-6)
    assert found["Feed A"].mean_a == pytest.approx(np.dot(feeds, [0.4, 0.2, 0.4]), rel=1e-6)
    assert found["Feed A"].allowed_a == pytest.approx(7.5)
    assert not found["Feed A"].over
    draw = show_draw(build)
    lowest = at[1].runs["strip"].pixel_v
    assert draw.worst_v.min() == pytest.approx(lowest.min(), abs=1e-9)
    assert draw.worst_pixel == ("strip", int(lowest.argmin()))


def test_driven_lamps_draw_by_their_duties_and_chips_have_their_own_rows() -> None:
    build = driven("register", lamps(8))
    build = change_build(add_supply(build, part("mains-5v-4a"), "Box"), show_s=10.0)
    build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    build = add_effect(build, look_of("steady", colour="#ff0000"), 0, 3, 0.0, 5.0)
    build = add_effect(build, look_of("steady", colour="#ff0000"), 0, 7, 5.0, 1.0)
    found, result = figures(build), solve_drive(build).by_driver[build.drivers[0].id]
    one_a = float(result.average_a[0])
    chip = next(figure for what, figure in found.items() if what != "Box")
    assert chip.peak_a == pytest.approx(8 * one_a)
    assert chip.mean_a == pytest.approx((4 * one_a * 5 + 8 * one_a) / 10)
    idle_a = found["Box"].peak_a - chip.peak_a
    assert idle_a > 0
    shared = supply_draws_a(build, None, solve_drive(build))
    with pytest.raises(ValueError, match="read-only"):
        shared[build.supplies[0].id][:] = 0
    assert found["Box"].mean_a == pytest.approx(idle_a + chip.mean_a)


def test_without_a_show_there_are_none_and_too_many_feeds_are_left_out(monkeypatch: pytest.MonkeyPatch) -> None:
    assert figures(one_strip(10)) == {}
    monkeypatch.setattr("tiny_lantern.show.draw.MOST_KEPT", 10)
    assert list(figures(striped())) == ["Supply"]


def test_a_limit_is_told_where_it_is_one_for_the_sum() -> None:
    register = lit(driven("register", lamps(8)), colour="#ff0000")
    row = next(figure for figure in figures(register).values() if figure.place.one("drivers"))
    assert row.allowed_a == pytest.approx(0.07)
    scanned = lit(driven("scanned", matrix(), rows_by="register", row_ohm=35.0), colour="#ff0000")
    assert all(figure.allowed_a is None for figure in figures(scanned).values())


def test_a_pin_s_peak_is_its_whole_current_and_its_mean_goes_by_duty() -> None:
    build = change_build(
        lit(driven("pwm", lamps(4)), colour="#bc0000", kind="blink", period_s=2.0, duty=0.25), show_s=8.0
    )
    one_a = float(solve_drive(build).by_driver[build.drivers[0].id].on_a[0])
    board, found = build.boards[0], figures(build)
    level = channel_duties(build, build.drivers[0], render(build, np.arange(1)))[0, 0]
    assert 0.4 < level < 0.6
    pins = {pin.pin: found[f"{board.name}, pin {pin.pin}"] for pin in build.drivers[0].pins}
    assert len(pins) == 4
    for row in pins.values():
        assert (row.mean_a, row.peak_a) == (pytest.approx(level * one_a / 4), pytest.approx(one_a))
        assert row.allowed_a == build.shelf.of(BoardPart)[0].pin_recommended_a
    whole = found[f"{board.name}, all its pins"]
    assert (whole.mean_a, whole.peak_a, whole.allowed_a) == (
        pytest.approx(level * one_a),
        pytest.approx(4 * one_a),
        0.2,
    )
    assert whole.place.one("boards") == board.id


def test_a_port_s_pins_are_those_of_its_letter() -> None:
    build = change_build(driven("pin", lamps(4)), show_s=4.0)
    for number in range(4):
        build = add_effect(build, look_of("steady", colour="#ff0000"), number, number, float(number), 4.0 - number)
    one_a = float(solve_drive(build).by_driver[build.drivers[0].id].on_a[0])
    at = {pin.pin: int(pin.role.split()[-1]) for pin in build.drivers[0].pins}
    part_ = build.shelf.of(BoardPart)[0]
    ports = {name: row for name, row in figures(build).items() if ", port " in name}
    assert ports
    for name, row in ports.items():
        own = [number for pin, number in at.items() if part_.pin(pin).port == name.rsplit(" ", 1)[1]]
        assert row.peak_a == pytest.approx(len(own) * one_a)
        assert build.timeline.begins_s(row.tick) == max(own)
        assert row.mean_a == pytest.approx(sum(4 - number for number in own) / 4 * one_a)
        assert row.allowed_a == part_.port_limit_a


def test_a_contact_has_its_nights_and_its_coil_hangs_on_the_board_s_supply() -> None:
    build = change_build(lit(driven("relay", flood(), shows_per_night=5.0), length_s=6.0), show_s=8.0)
    build = feed_board(add_supply(build, part("mains-5v-4a"), "Box"), build.boards[0].id, "box")
    relay, result = build.shelf.of(RelayPart)[0], solve_drive(build).by_driver[build.drivers[0].id]
    found = figures(build)
    row = found[f"{build.drivers[0].name}, contact 1: Flood"]
    assert row.nights == pytest.approx(relay.light_operations / 5)
    assert (row.peak_a, row.mean_a) == (pytest.approx(result.on_a[0]), pytest.approx(result.on_a[0] * 0.75))
    assert row.allowed_a == relay.contact_a
    box = found["Box"]
    idle_a = (box.mean_a - box.peak_a * 0.75) / 0.25
    assert box.peak_a - idle_a == pytest.approx(result.logic_a)
    dark = figures(change_build(lit(driven("relay", flood()), colour="#000000"), show_s=8.0))
    assert [each.nights for each in dark.values()] == [None]


def test_a_battery_s_row_says_how_long_it_plays_the_show() -> None:
    """4 V less the charge gone, cut off at 3.4 V: lit, 2 A through 0.1 ohm meet that at six tenths, and half of the
    time nothing is drawn, so that 4 Ah of 10 Ah last 4 h."""
    cells = Cells(open_v=((0, 3.0), (1, 4.0)), own_ohm=0.1, capacity_ah=10, rated_at_a=1, cutoff_v=3.4)
    source = part("battery-5v-3a")
    bare = revise(source, cells=cells, output_ohm=0.0)
    build = add_supply(Build(), bare, "Cells")
    assert battery_life(build, build.supplies[0], np.array([2.0, 0.0])).seconds == pytest.approx(4 * 3600.0)
    assert battery_life(build, build.supplies[0], np.zeros(2)) is None
    lossy = add_supply(Build(), revise(bare, cells=revise(cells, peukert=1.2)), "Cells")
    lasts_s = battery_life(lossy, lossy.supplies[0], np.array([2.0, 0.0])).seconds
    assert lasts_s == pytest.approx(4 * 3600.0 / 2**0.2), "what flows counts while it flows, not on average"
    ramp = battery_life(build, build.supplies[0], np.linspace(0.0, 2.0, 10_001)).seconds
    assert ramp == pytest.approx(4 * 3600.0, rel=1e-3), "any spread of the same mean and peak"
    shown = one_strip(20, supply="battery-5v-3a")
    lasts = figures(change_build(lit(shown, length_s=30.0), show_s=60.0))["Supply"].lasts_s
    whole = figures(change_build(lit(shown, length_s=60.0), show_s=60.0))["Supply"].lasts_s
    assert 1.5 * whole < lasts < 2.5 * whole
    assert figures(striped())["Supply"].lasts_s is None


def test_a_figure_is_over_when_its_peak_is() -> None:
    assert [figure_of("x", Place(), np.array([0.0, amps]), 2.0).over for amps in (2.0, 2.0001)] == [False, True]
    assert not figure_of("x", Place(), np.array([9.0]), None).over
    found = figure_of("x", Place(), np.array([1.0, 3.0, 2.0]), None)
    assert (found.mean_a, found.peak_a, found.tick) == (2.0, 3.0, 1)
    assert figure_of("x", Place(), np.array([1.0]), None, 0.25).mean_a == 0.25
