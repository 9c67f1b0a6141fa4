"""The state machine of inputs and rules: edges, dead bands, values, paces and scenes, one frame after another."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.answering import answering, answering_build, readings_of, with_deed
from tests.support.builds import part
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_inputs import (
    add_rule,
    change_deed,
    change_input,
)
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_scenes import add_scene
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.show.answering.light import frame_of
from tiny_lantern.show.answering.machine import State, begin, moved_to, share_of, shown_of, step, still
from tiny_lantern.show.answering.tables import tables_of
from tiny_lantern.show.weave import render, show_of


def run(build: Build, *readings: int) -> list[State]:
    """The states that readings of one input lead to, the first one included."""
    tables = tables_of(build)
    states = [begin(tables, [readings[0]])]
    for reading in readings[1:]:
        states.append(step(tables, states[-1], [reading]))
    return states


def test_the_first_edge_counts_at_once_and_then_the_input_is_deaf_for_its_debounce_time() -> None:
    build = with_deed(answering(), "brightness", "held", low=0.0, high=1.0)  # 50 ms are two frames of 25 ms
    held = [state.heard[0].held for state in run(build, 1, 0, 1, 0, 1, 1, 0)]
    assert held == [False, True, True, True, False, False, False]
    pressed = [state.heard[0].pressed for state in run(build, 1, 0, 0, 0, 1, 1, 1, 0)]
    assert pressed == [False, True, False, False, False, False, False, True]
    longer = change_input(build, build.inputs[0].id, deaf_s=0.06)  # whole frames, three of them
    assert [state.heard[0].held for state in run(longer, 1, 0, 1, 1, 1, 1)] == [False, True, True, True, True, False]
    deafer = change_input(build, build.inputs[0].id, deaf_s=0.0)
    assert [state.heard[0].held for state in run(deafer, 1, 0, 1, 0)] == [False, True, False, True]


def test_what_is_held_at_the_start_was_not_pressed() -> None:
    build = with_deed(answering(), "brightness", "pressed", steps=2)
    assert [state.steps for state in run(build, 0, 0, 0)] == [(0,)] * 3


def test_each_press_goes_a_step_further_and_round() -> None:
    build = with_deed(answering(), "brightness", "pressed", low=0.25, high=1.0, steps=4, even=False)
    build = change_input(build, build.inputs[0].id, deaf_s=0.0)
    values = [state.values[0] / 65536 for state in run(build, *[1, 0] * 6)]
    assert values == pytest.approx([0.25, 0.5, 0.5, 0.75, 0.75, 1.0, 1.0, 0.25, 0.25, 0.5, 0.5, 0.75], abs=1e-4)


def test_a_knob_reaches_both_ends_and_small_trembling_moves_nothing() -> None:
    build = with_deed(answering("knob"), "brightness", "turned", low=0.0, high=1.0, even=False)
    states = run(build, 0, 512, 514, 509, 500, 1023, 1018, 3, 0)
    ways = [state.heard[0].way for state in states]
    assert ways[0] == 0
    assert ways[1] == ways[2] == ways[3] == pytest.approx(8192, abs=40)
    assert ways[4] < ways[3]
    assert ways[5:] == [16384, 16384, 0, 0]
    even = with_deed(build, "brightness", "turned", low=0.0, high=1.0, even=True)
    assert run(even, 512)[0].values[0] / 65536 == pytest.approx(0.25, abs=0.005)


@pytest.mark.parametrize("sensor_to", ["supply", "ground"])
def test_a_sensor_is_held_from_five_eighths_of_its_way_to_three_whichever_way_its_volts_go(sensor_to: str) -> None:
    build = with_deed(answering("press"), "brightness", "held")
    build = change_input(build, build.inputs[0].id, sensor_to=sensor_to)
    one = tables_of(build).hears[0]
    assert (one.full > one.rest) is (sensor_to == "supply")
    reading = [round(one.rest + (one.full - one.rest) * share) for share in (0, 0.6, 0.65, 0.4, 0.35, 0.6)]
    assert [state.heard[0].held for state in run(build, *reading)] == [False, False, True, True, False, False]


def test_the_show_runs_so_many_times_as_fast_and_goes_on_from_where_it_was() -> None:
    build = with_deed(answering("knob"), "speed", "turned", low=0.5, high=3.0)
    frames = [state.frame for state in run(build, *[0] * 9, *[1023] * 4)]
    assert frames == [0, 0, 1, 1, 2, 2, 3, 3, 4, 7, 10, 13, 16]


def test_an_effect_with_a_speed_of_its_own_leaves_the_others_where_they_are() -> None:
    build = add_strip(answering("knob"), part("rgb-5v-60"), 6, "Other")
    build = add_effect(build, look_of("chase"), 6, 11, 0.0, 2.0)
    build = with_deed(build, "speed", "turned", piece_id=build.pieces[0].id, low=2.0, high=2.0)
    tables, show = tables_of(build), show_of(build)
    state = begin(tables, [0])
    for tick in range(1, 30):
        state = step(tables, state, [0])
        frame = frame_of(show, tables, state)
        assert np.array_equal(frame[6:], render(build, np.array([tick]))[0][6:])
        assert np.array_equal(frame[:6], render(build, np.array([2 * tick]))[0][:6])


def test_a_press_begins_a_scene_which_stays_where_that_is_wanted() -> None:
    build = add_scene(add_scene(answering(), 0.5), 1.0)
    names = [scene.id for scene in build.scenes]
    build = with_deed(build, "scene", "pressed", scene_id=names[1], stays=True)
    states = run(build, 1, 0, *[0] * 45)
    assert states[1].frame == 20
    assert [state.frame for state in states[18:24]] == [37, 38, 39, 20, 21, 22]
    passing = with_deed(build, "scene", "pressed", scene_id=names[1], stays=False)
    assert [state.frame for state in run(passing, 1, 0, *[0] * 45)[18:24]] == [37, 38, 39, 40, 41, 42]
    following = with_deed(build, "scene", "released", scene_id=None)
    build = change_input(following, following.inputs[0].id, deaf_s=0.0)
    assert [state.frame for state in run(build, 1, 0, 1, 0, 1, 0, 1)] == [0, 1, 20, 21, 40, 41, 0]


def test_of_several_scenes_asked_for_at_once_the_last_in_the_list_begins() -> None:
    build = add_scene(add_scene(answering(), 0.5), 1.0)
    first, second = (scene.id for scene in build.scenes[1:])
    build = with_deed(build, "scene", "pressed", scene_id=second)
    build = with_deed(add_rule(build, build.inputs[0].id), "scene", "pressed", scene_id=first)
    assert run(build, 1, 0)[-1].frame == 20


def test_a_show_that_is_over_begins_anew_with_a_scene() -> None:
    build = with_deed(answering(after_end="dark"), "scene", "pressed")
    states = run(build, *[1] * 90, 0, 0)
    assert states[85].frame == 80
    tables = tables_of(build)
    lit = add_effect(build, look_of("steady"), 0, 5, 0.0, 2.0)
    assert frame_of(show_of(lit), tables, states[85], dark_after=True).max() == 0
    assert frame_of(show_of(lit), tables, states[85]).max() > 0
    assert frame_of(show_of(lit), tables, states[79], dark_after=True).max() > 0
    assert [state.frame for state in states[-2:]] == [0, 1]


def test_values_on_one_light_multiply_and_leave_the_others_alone() -> None:
    build = with_deed(answering("knob"), "brightness", "held", low=0.5, high=1.0)
    build = with_deed(add_rule(build, build.inputs[0].id), "brightness", "held", low=0.5, high=1.0, colour="red")
    build = add_strip(build, part("rgb-5v-60"), 3, "Other")
    build = change_deed(build, build.rules[-1].id, piece_id=build.pieces[0].id)
    tables = tables_of(build)
    state = begin(tables, [0])
    assert share_of(tables, state, 2) == (16384, 32768, 32768)
    assert share_of(tables, state, 7) == (32768, 32768, 32768)
    frame, asked = frame_of(show_of(build), tables, state), render(build, np.array([0]))[0]
    assert np.array_equal(frame[7], (asked[7] + 1) // 2)


def test_while_the_show_stands_values_follow_and_no_time_passes() -> None:
    build = add_scene(with_deed(answering("knob"), "brightness", "turned", even=False), 1.0)
    tables = tables_of(build)
    state = moved_to(tables, begin(tables, [0]), 13)
    turned = still(tables, state, [1023])
    assert (turned.frame, turned.values[0]) == (13, 65536)
    build = with_deed(build, "scene", "pressed")
    tables = tables_of(build)
    assert still(tables, moved_to(tables, begin(tables, [0]), 13), [1023]).frame == 40


@given(st.integers(0, 10_000))
def test_whatever_is_done_to_the_inputs_the_frame_is_one_of_the_show(seed: int) -> None:
    build = answering_build(seed % 50)
    tables = tables_of(build)
    readings = readings_of(build, 60, seed)
    state = begin(tables, readings[0])
    for row in readings[1:]:
        state = step(tables, state, row)
        assert 0 <= shown_of(tables, state.frame) < tables.ticks
        assert all(0 <= frame < clock.length for clock, (frame, _) in zip(tables.clocks, state.clocks, strict=True))
        assert all(0 <= share <= 65536 for share in share_of(tables, state, 0))
