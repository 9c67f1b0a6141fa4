"""The whole show in figures, against sums made by hand."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import driven, lamps, lit, matrix
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build, FrameLoad
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.figures import Figure, show_figures
from tiny_lantern.show.loads import duties_for


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
    build = change_board(build, build.boards[0].id, supply_id=build.supplies[0].id)
    build = add_effect(build, look_of("steady", colour="#ff0000"), 0, 3, 0.0, 5.0)
    build = add_effect(build, look_of("steady", colour="#ff0000"), 0, 7, 5.0, 1.0)
    found, result = figures(build), solve_drive(build).by_driver[build.drivers[0].id]
    one_a = float(result.average_a[0])
    chip = next(figure for what, figure in found.items() if what != "Box")
    assert chip.peak_a == pytest.approx(8 * one_a)
    assert chip.mean_a == pytest.approx((4 * one_a * 5 + 8 * one_a) / 10)
    idle_a = found["Box"].peak_a - chip.peak_a
    assert idle_a > 0
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
