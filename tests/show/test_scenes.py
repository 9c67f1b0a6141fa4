"""Scenes: one after another, each fading into the next, moved and doubled with all that plays in them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_scenes import (
    add_scene,
    change_scene,
    double_scene,
    effects_in,
    join_scene,
    move_scene,
    remove_scene,
    scene_at,
)  # fmt: skip
from tiny_lantern.model.edits_show import add_effect, change_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.show.weave import Show, render

RED, GREEN, BLUE = 0, 1, 2


def three() -> Build:
    """Red for four seconds, green for four, blue for two; each its own scene, cut hard."""
    build = change_build(one_strip(10), show_s=10.0)
    for colour, start, length in (("#ff0000", 0, 4), ("#00ff00", 4, 4), ("#0000ff", 8, 2)):
        build = add_effect(build, look_of("steady", colour=colour), 0, 9, start, length)
    return add_scene(add_scene(build, 4.0, "Green"), 8.0, "Blue")


def seen(build: Build, time_s: float) -> list[int]:
    """The first light's linear bytes at a moment."""
    return render(build, np.array([build.timeline.on_show(time_s)]))[0, 0].tolist()


def test_without_transitions_scenes_change_nothing_that_is_seen() -> None:
    build = three()
    plain = revise(build, scenes=())
    ticks = np.arange(build.timeline.count)
    assert np.array_equal(render(build, ticks), render(plain, ticks))


def test_a_scene_fades_in_while_the_one_before_goes_on() -> None:
    build = change_scene(three(), three().scenes[1].id, fade_s=2.0)
    assert seen(build, 3.9) == [255, 0, 0]
    assert seen(build, 4.0) == [255, 0, 0]
    assert seen(build, 4.5) == [191, 64, 0]
    assert seen(build, 5.0) == [128, 128, 0]
    assert seen(build, 6.0) == [0, 255, 0]
    assert seen(build, 8.0) == [0, 0, 255]


def test_the_first_scene_fades_in_from_the_dark() -> None:
    build = change_scene(three(), three().scenes[0].id, fade_s=1.0)
    assert seen(build, 0.0) == [0, 0, 0]
    assert seen(build, 0.5) == [128, 0, 0]


def test_an_effect_that_ended_before_and_one_played_backward_do_not_go_on() -> None:
    build = change_scene(three(), three().scenes[1].id, fade_s=2.0)
    early = change_effect(build, build.effects[0].id, length_s=3.5)
    assert seen(early, 5.0) == [0, 128, 0]
    backward = change_effect(build, build.effects[0].id, backward=True)
    assert seen(backward, 5.0) == [0, 128, 0]
    assert seen(backward, 1.0) == [255, 0, 0]


def test_effects_that_reach_far_into_another_scene_are_not_seen_there() -> None:
    build = change_effect(three(), three().effects[0].id, length_s=9.0)
    build = change_effect(build, build.effects[1].id, length_s=1.0)
    assert seen(build, 4.5) == [0, 255, 0]
    assert seen(build, 6.0) == [0, 0, 0]


def test_a_transition_longer_than_its_scene_is_over_when_the_next_begins() -> None:
    build = change_scene(three(), three().scenes[1].id, fade_s=60.0)
    assert seen(build, 6.0) == [128, 128, 0]
    assert seen(build, 8.0) == [0, 0, 255]


@given(st.integers(0, 399), st.integers(0, 9), st.integers(1, 10))
def test_any_frame_and_any_part_of_it_is_the_same_alone(tick: int, first: int, count: int) -> None:
    build = change_scene(change_scene(three(), three().scenes[1].id, fade_s=1.5), three().scenes[2].id, fade_s=0.7)
    build = add_effect(build, look_of("chase", spacing_px=4), 2, 8, 3.0, 6.0)
    show = Show(build)
    whole = show.render(np.arange(400))
    slots = np.arange(first, min(10, first + count))
    assert np.array_equal(show.render(np.array([tick]), slots)[0], whole[tick][slots])
    assert np.array_equal(show.render(np.array([tick]))[0], whole[tick])


def test_many_effects_in_a_transition_are_laid_scene_by_scene() -> None:
    build = change_scene(three(), three().scenes[1].id, fade_s=2.0)
    for number in range(6):
        build = add_effect(build, look_of("steady", colour="#0000ff"), number, number, 4.0, 4.0)
        build = add_effect(build, look_of("steady", colour="#ffffff"), number, number, 0.0, 4.0)
    one = render(build, np.array([200]))[0]
    assert one[0].tolist() == [128, 128, 255]
    assert np.array_equal(one, render(build, np.array([199, 200]))[1])


def test_a_scene_moves_with_what_plays_in_it() -> None:
    build = three()
    moved = move_scene(build, build.scenes[2].id, -1)
    assert [scene.name for scene in moved.scenes] == ["Scene 1", "Blue", "Green"]
    assert [scene.start_s for scene in moved.scenes] == [0, 4, 6]
    assert [seen(moved, t) for t in (1, 5, 7)] == [[255, 0, 0], [0, 0, 255], [0, 255, 0]]
    assert move_scene(moved, build.scenes[2].id, 1).scenes == build.scenes
    assert move_scene(build, build.scenes[0].id, -1) == build


def test_a_scene_is_doubled_taken_out_and_joined() -> None:
    build = three()
    twice = double_scene(build, build.scenes[1].id)
    assert twice.show_s == 14
    assert [scene.name for scene in twice.scenes] == ["Scene 1", "Green", "Green again", "Blue"]
    assert [seen(twice, t) for t in (5, 9, 13)] == [[0, 255, 0], [0, 255, 0], [0, 0, 255]]
    assert len({effect.id for effect in twice.effects}) == 4
    gone = remove_scene(build, build.scenes[0].id)
    assert gone.show_s == 6
    assert [seen(gone, t) for t in (0, 5)] == [[0, 255, 0], [0, 0, 255]]
    joined = join_scene(build, build.scenes[1].id)
    assert [scene.name for scene in joined.scenes] == ["Scene 1", "Blue"]
    assert joined.effects == build.effects
    only = remove_scene(remove_scene(build, build.scenes[0].id), build.scenes[1].id)
    with pytest.raises(LanternError, match="the only scene"):
        remove_scene(only, only.scenes[0].id)


def test_a_scene_begun_amid_an_effect_cuts_it_and_nothing_goes_dark() -> None:
    build = add_effect(change_build(one_strip(10), show_s=10.0), look_of("steady", colour="#ff0000"), 0, 9, 0.0, 10.0)
    cut = add_scene(build, 4.0)
    assert [(effect.start_s, effect.length_s) for effect in cut.effects] == [(0, 4), (4, 6)]
    assert np.array_equal(render(cut, np.arange(400)), render(build, np.arange(400)))


def test_scenes_belong_to_moments_and_moments_to_scenes() -> None:
    build = three()
    assert [scene_at(build, t) for t in (0, 3.99, 4, 9, 100)] == [0, 0, 1, 2, 2]
    assert [len(effects_in(build, number)) for number in range(3)] == [1, 1, 1]
    assert scene_at(revise(build, scenes=()), 3) is None
    with pytest.raises(LanternError, match="begins there already"):
        add_scene(build, 4.05)
    with pytest.raises(LanternError, match="does not begin after"):
        revise(build, scenes=build.scenes[::-1])
    with pytest.raises(LanternError, match="would last"):
        double_scene(change_build(build, show_s=2000.0), build.scenes[2].id)
    assert loads(dumps(build)) == build


def test_a_show_made_from_one_like_it_is_the_same() -> None:
    build = three()
    other = change_scene(build, build.scenes[1].id, fade_s=2.0)
    ticks = np.arange(400)
    near = Show(other, near=Show(build))
    assert np.array_equal(near.render(ticks), Show(other).render(ticks))
    assert replace(near.windows[1], fade=0) == Show(build).windows[1]
    effect = build.effects[0]
    last = build.line.ref_at(build.line.slot_of(effect.last) - 1)
    for change in ({"start_s": effect.start_s + 0.5}, {"length_s": effect.length_s / 2}, {"last": last}):
        moved = revise(build, effects=(revise(effect, **change), *build.effects[1:]))
        frames = Show(moved).render(ticks)
        assert not np.array_equal(frames, Show(build).render(ticks))
        assert np.array_equal(Show(moved, near=Show(build)).render(ticks), frames)
    fewer = revise(build, effects=build.effects[1:])
    assert np.array_equal(Show(fewer, near=Show(build)).render(ticks), Show(fewer).render(ticks))


def test_what_begins_before_the_first_scene_belongs_to_it() -> None:
    build = three()
    late = revise(build, scenes=(revise(build.scenes[0], start_s=2.0), *build.scenes[1:]))
    assert seen(late, 1.0) == [255, 0, 0]
    faded = change_scene(late, late.scenes[0].id, fade_s=1.0)
    assert seen(faded, 0.5) == [128, 0, 0]
