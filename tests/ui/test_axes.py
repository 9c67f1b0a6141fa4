"""The two axes of the window: the Line across, time downward."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import builds, one_strip, part
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_show import add_effect, nudge_effect, raise_effect, remove_effect
from tiny_lantern.model.effects import LOOKS
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_axis import WeaveAxis
from tiny_lantern.ui.stations.weave_margin import row_peaks
from tiny_lantern.ui.stations.weave_raster import WeaveRaster
from tiny_lantern.ui.widgets.chart import round_ticks


def axis_of(build: Build) -> LineAxis:
    """An axis laid out for a build."""
    axis = LineAxis()
    axis.follow(build)
    return axis


@given(builds(), st.floats(0, 1))
def test_every_slot_is_found_again_where_it_stands(build: Build, share: float) -> None:
    axis = axis_of(build)
    slot = round(share * (build.line.slot_count - 1))
    assert axis.slot_at(axis.slot_place(slot)) == slot


def test_a_strip_moved_in_the_picture_leaves_the_line_as_it_is() -> None:
    build = one_strip()
    axis, changes = axis_of(build), []
    axis.changed.connect(lambda: changes.append(axis.total_m))
    strip = build.strips[0]
    moved = change_strip(build, strip.id, layout=revise(strip.layout, x_m=3.0))
    axis.follow(moved)
    assert not changes
    assert axis.spans[0].piece is moved.strips[0]
    axis.follow(change_strip(moved, strip.id, pixel_count=2 * strip.pixel_count))
    assert changes == [pytest.approx(2 * strip.length_m)]


@given(builds())
def test_slots_rise_along_the_axis_and_stay_on_it(build: Build) -> None:
    axis = axis_of(build)
    places = [axis.slot_place(slot) for slot in range(build.line.slot_count)]
    assert all(np.diff(places) > 0)
    assert places[0] > 0
    assert places[-1] < axis.total_m


@given(builds(), st.floats(-2, 3), st.floats(0.2, 5), st.floats(50, 2000))
def test_screen_and_place_are_inverse_in_any_view(build: Build, about: float, factor: float, width: float) -> None:
    axis = axis_of(build)
    axis.zoom(factor, about * axis.total_m)
    for x in (0.0, width / 3, width):
        assert axis.to_screen(axis.to_place(x, width), width) == pytest.approx(x, abs=1e-6)


@given(builds(), st.lists(st.tuples(st.floats(0.3, 3), st.floats(0, 1), st.floats(-1, 1)), max_size=6))
def test_no_zoom_or_scroll_leaves_the_line(build: Build, moves: list[tuple[float, float, float]]) -> None:
    axis = axis_of(build)
    for factor, about, by in moves:
        axis.zoom(factor, about * axis.total_m)
        axis.scroll(by)
        assert axis.left_m >= 0
        assert axis.right_m <= axis.total_m + 1e-9
        assert axis.right_m > axis.left_m
    axis.show_all()
    assert (axis.left_m, axis.right_m) == (0, pytest.approx(axis.total_m))


def test_zooming_keeps_the_place_under_the_pointer() -> None:
    axis = axis_of(one_strip(600))
    about = axis.to_place(300, 800)
    axis.zoom(0.5, about)
    assert axis.to_screen(about, 800) == pytest.approx(300)


def test_a_place_in_the_gap_belongs_to_the_nearer_strip() -> None:
    build = add_strip(one_strip(60), part("rgb-5v-60"), 60, "Other")
    axis = axis_of(build)
    gap = axis.start_of(1) - 1.0
    span, along = axis.piece_at(1.0 + 0.2 * gap)
    assert (span.piece.id, along) == ("strip", pytest.approx(1.0))
    span, along = axis.piece_at(1.0 + 0.8 * gap)
    assert (span.piece.id, along) == ("other", 0.0)
    assert LineAxis().piece_at(0.5) is None
    assert LineAxis().slot_at(0.5) is None


def test_a_view_of_everything_stays_one_when_the_line_grows() -> None:
    axis = axis_of(one_strip(60))
    axis.follow(change_strip(one_strip(60), "strip", pixel_count=120))
    assert axis.right_m == pytest.approx(2.0)
    axis.zoom(0.25, 0.5)
    near = (axis.left_m, axis.right_m)
    axis.follow(change_strip(one_strip(60), "strip", pixel_count=240))
    assert (axis.left_m, axis.right_m) == near


def test_revealing_scrolls_only_when_it_must() -> None:
    axis = axis_of(one_strip(600))
    axis.zoom(0.1, 0.0)
    before = axis.left_m
    axis.reveal(before + 0.1)
    assert axis.left_m == before
    axis.reveal(9.0)
    assert axis.left_m <= 9.0 <= axis.right_m


def test_the_axis_tells_once_and_only_of_changes(qtbot) -> None:
    axis = axis_of(one_strip(60))
    told: list[int] = []
    axis.changed.connect(lambda: told.append(1))
    axis.follow(one_strip(60))
    axis.show_all()
    assert told == []
    axis.zoom(0.5, 0.2)
    assert told == [1]


@given(st.floats(1, 600), st.lists(st.tuples(st.floats(0.3, 3), st.floats(0, 1), st.floats(-1, 1)), max_size=6))
def test_time_stays_inside_the_show(show_s: float, moves: list[tuple[float, float, float]]) -> None:
    time = TimeAxis(show_s)
    for factor, about, by in moves:
        time.zoom(factor, about * show_s)
        time.scroll(by)
        assert 0 <= time.top_s < time.bottom_s <= show_s + 1e-9
        assert time.to_time(time.to_y(time.top_s, 500), 500) == pytest.approx(time.top_s, abs=1e-9)


def test_another_length_of_show_is_followed() -> None:
    time = TimeAxis(60)
    time.follow(90)
    assert time.bottom_s == 90
    time.zoom(0.1, 10)
    time.follow(5)
    assert (time.top_s, time.bottom_s) == (0, 5)
    time.zoom(0.2, 0.0)
    time.reveal(4.9)
    assert time.bottom_s == pytest.approx(5)


@pytest.mark.parametrize(("span", "step"), [(60, 10), (9, 1), (0.9, 0.1), (3600, 600)])
def test_time_steps_are_round(span: float, step: float) -> None:
    assert TimeAxis(span).step_s(450) == pytest.approx(step)


@given(st.floats(-10, 10), st.floats(0.01, 100), st.integers(2, 12))
def test_ticks_are_round_inside_and_few(low: float, span: float, most: int) -> None:
    ticks = round_ticks(low, low + span, most)
    assert len(ticks) <= most + 1
    assert all(low - 1e-6 <= tick <= low + span + 1e-6 for tick in ticks)
    if len(ticks) > 2:
        assert np.diff(ticks) == pytest.approx(np.full(len(ticks) - 1, ticks[1] - ticks[0]))


@given(st.lists(st.floats(0, 50), min_size=1, max_size=60), st.lists(st.integers(-5, 90), min_size=1, max_size=30))
def test_each_row_beside_the_weave_shows_the_most_that_is_drawn_in_it(values: list[float], starts: list[int]) -> None:
    starts = sorted(starts)
    inside = [min(max(start, 0), len(values) - 1) for start in starts]
    peaks = row_peaks(np.array(values), np.array(starts))
    for start, stop, peak in zip(inside, [*inside[1:], inside[-1] + 1], peaks, strict=True):
        assert peak == max(values[start : max(stop, start + 1)])


@given(builds(), st.lists(st.tuples(st.integers(0, 3), st.integers(0, 9), st.floats(-9, 9)), min_size=1, max_size=4))
def test_a_weave_that_was_edited_looks_like_one_drawn_anew(build: Build, acts: list[tuple[int, int, float]]) -> None:
    axis, time = axis_of(build), TimeAxis(build.show_s)
    kept = WeaveRaster(WeaveAxis(axis), time)
    kept.image(build, 300, 200)
    for act, which, far in acts:
        if act == 0 or not build.effects:
            build = add_effect(build, LOOKS[which % len(LOOKS)], 0, which % build.line.slot_count, 9 + far, 3.0 + which)
        else:
            chosen = build.effects[which % len(build.effects)].id
            edits = {
                1: lambda of, chosen=chosen, far=far: nudge_effect(of, chosen, 1, far),
                2: lambda of, chosen=chosen: raise_effect(of, chosen, 1),
                3: lambda of, chosen=chosen: remove_effect(of, chosen),
            }
            build = edits[act](build)
        assert kept.image(build, 300, 200) == WeaveRaster(WeaveAxis(axis), time).image(build, 300, 200)


def test_no_column_reaches_beyond_the_last_light_however_near_its_end_the_view_begins() -> None:
    axis = LineAxis()
    axis.follow(one_strip(20))
    end_m = 20 * axis.spans[0].piece.axis_pitch_m
    for share in np.linspace(0.9e-9, 1.2e-9, 31):
        axis.left_m, axis.right_m = end_m - share * axis.spans[0].piece.axis_pitch_m, end_m + 0.5
        columns = axis.columns(1)
        assert columns.stop.max() <= 20
        assert columns.blend(np.full((20, 3), 200, np.uint8)).shape == (1, 3)
