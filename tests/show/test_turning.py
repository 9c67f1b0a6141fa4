"""Effects turned round, split, laid again and dealt anew."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import add_effect, change_effect, deal_again, repeat_effect, split_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.weave import Show, render

TICKS = np.arange(80)


def scanned(lights: int = 9, length_s: float = 2.0) -> Build:
    """One scanner on all lights for some seconds, at 40 frames a second."""
    look = look_of("scanner", colour="#ffffff", length_px=1, tail_px=2, speed_px_per_s=7.0)
    return add_effect(one_strip(lights), look, 0, lights - 1, 0.0, length_s)


def turned(build: Build, **changes: object) -> np.ndarray:
    """The frames of a build whose effect is turned round."""
    return render(change_effect(build, build.effects[0].id, **changes), TICKS)


def test_mirrored_backward_and_moved_round_are_the_frames_turned_round() -> None:
    build = scanned()
    plain = render(build, TICKS)
    assert np.array_equal(turned(build, mirrored=True), plain[:, ::-1])
    assert np.array_equal(turned(build, backward=True), plain[::-1])
    assert np.array_equal(turned(build, turned=2), np.roll(plain, 2, axis=1))
    assert np.array_equal(turned(build, turned=-11), np.roll(plain, -11, axis=1))
    assert np.array_equal(turned(build, mirrored=True, turned=1), np.roll(plain, 1, axis=1)[:, ::-1])


@given(st.booleans(), st.integers(-30, 30), st.booleans(), st.integers(0, 79))
def test_a_single_frame_of_many_turned_effects_is_that_of_the_block(
    mirrored: bool, by: int, backward: bool, tick: int
) -> None:
    build = one_strip(12)
    for number in range(6):
        look = look_of("chase", colour="#ffffff", length_px=1, tail_px=1, spacing_px=4 + number, speed_px_per_s=9.0)
        build = add_effect(build, look, number, 11, 0.1 * number, 1.0)
        build = change_effect(build, build.effects[-1].id, mirrored=mirrored, turned=by + number, backward=backward,
                              layer="lighten")  # fmt: skip
    show = Show(build)
    assert np.array_equal(show.render(np.array([tick]))[0], show.render(TICKS)[tick])


def test_an_effect_is_split_where_it_is_longer_than_the_least_on_both_sides() -> None:
    build = scanned()
    cut = split_effect(build, build.effects[0].id, 0.5)
    assert [(effect.start_s, effect.length_s) for effect in cut.effects] == [(0.0, 0.5), (0.5, 1.5)]
    assert np.array_equal(render(cut, TICKS)[:20], render(build, TICKS)[:20])
    for time_s in (0.05, 1.95, 5.0):
        with pytest.raises(LanternError, match="not cut there"):
            split_effect(build, build.effects[0].id, time_s)


def test_a_pattern_is_laid_every_so_often_in_one_act() -> None:
    build = scanned(length_s=1.0)
    again = repeat_effect(build, build.effects[0].id, 4.0, 17.0)
    assert [effect.start_s for effect in again.effects] == [0.0, 4.0, 8.0, 12.0, 16.0]
    assert len({effect.id for effect in again.effects}) == 5
    edge = repeat_effect(build, build.effects[0].id, 4.0, 16.0)
    assert len(edge.effects) == 4, "none begins at the moment itself"
    last = repeat_effect(build, build.effects[0].id, 59.5, 99.0)
    assert last.effects[-1].length_s == 0.5, "it ends with the show"
    for every_s, told in ((0.05, "too often"), (0.1, None), (70.0, "0 more times")):
        if told is None:
            assert len(repeat_effect(build, build.effects[0].id, every_s, 20.0).effects) == 200
            continue
        with pytest.raises(LanternError, match=told):
            repeat_effect(build, build.effects[0].id, every_s, 60.0)


def test_chance_is_dealt_again_where_there_is_any() -> None:
    candles = add_effect(one_strip(5), look_of("candle", seed=9999), 0, 4, 0.0, 2.0)
    dealt = deal_again(candles, candles.effects[0].id)
    assert dealt.effects[0].look.values["seed"] == 1
    assert not np.array_equal(render(dealt, TICKS), render(candles, TICKS))
    with pytest.raises(LanternError, match="left to chance"):
        deal_again(scanned(), scanned().effects[0].id)
