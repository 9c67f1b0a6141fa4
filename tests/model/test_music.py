"""Beats and bars: typed, tapped, nudged; looks laid on them; bars that are still empty."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_music import (
    add_mark,
    begin_bars_at,
    change_music,
    empty_bars,
    lay_on_beats,
    marks_by_tempo,
    marks_from_taps,
    nudge_mark,
    remove_mark,
    set_marks,
)
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import dumps, loads


def song(bpm: float = 120.0, first_s: float = 0.0, show_s: float = 32.0) -> Build:
    """Ten pixels and a show of so long, with even beats."""
    return marks_by_tempo(change_build(one_strip(10), show_s=show_s), bpm, first_s)


def test_a_typed_tempo_gives_beats_to_the_end_of_the_show_and_whole_bars() -> None:
    build = song(120.0, 1.0)
    assert build.music.marks_s[:3] == (1.0, 1.5, 2.0)
    assert build.music.marks_s[-1] == 32.0
    assert build.music.bpm == pytest.approx(120.0)
    assert build.music.bar_count == 15
    assert build.music.bar_s(2) == (3.0, 5.0)
    assert loads(dumps(build)) == build
    with pytest.raises(LanternError, match="beats a minute"):
        song(1000.0)


def test_taps_give_the_tempo_that_is_nearest_to_all_of_them_even_where_one_was_left_out() -> None:
    chance = np.random.default_rng(4)
    taps = 5.0 + 0.6 * np.array([0, 1, 2, 4, 5, 6, 7]) + chance.normal(0, 0.012, 7)
    build = marks_from_taps(song(60.0), taps)
    assert build.music.marks_s[:5] == (0.0, 1.0, 2.0, 3.0, 4.0), "what was before them stays"
    later = np.array(build.music.marks_s[5:])
    assert np.diff(later) == pytest.approx(0.6, abs=0.006)
    assert later[0] == pytest.approx(5.0, abs=0.02)
    with pytest.raises(LanternError, match="tell no tempo"):
        marks_from_taps(build, [1.0, 2.0, 3.0])


def test_beats_are_nudged_between_their_neighbours_added_and_taken_away() -> None:
    build = song()
    assert nudge_mark(build, 4, 0.03).music.marks_s[4] == 2.03
    assert nudge_mark(build, 4, 9.0).music.marks_s[4] == 2.45
    assert nudge_mark(build, 0, -9.0).music.marks_s[0] == 0.0
    assert 2.25 in add_mark(build, 2.25).music.marks_s
    with pytest.raises(LanternError, match="a beat already"):
        add_mark(build, 2.01)
    assert remove_mark(build, 4).music.marks_s == (*build.music.marks_s[:4], *build.music.marks_s[5:])
    with pytest.raises(LanternError, match="do not rise"):
        change_music(build, marks_s=(1.0, 1.0))
    assert begin_bars_at(build, 6).music.bar_s(1) == (1.0, 3.0)
    assert set_marks(build, [0.5, 99.0]).music.marks_s == (0.5,)


@pytest.mark.parametrize("every", [1, 2, 4])
def test_a_look_is_laid_on_every_so_many_beats_from_one_bar_to_another_in_one_act(every: int) -> None:
    build = lay_on_beats(song(), "fade", 2, 7, 5, 12, every=every)
    starts = [effect.start_s for effect in build.effects]
    assert starts == [8.0 + 0.5 * every * number for number in range(32 // every)]
    assert {effect.length_s for effect in build.effects} == {0.5 * every}
    assert {(effect.first.index, effect.last.index) for effect in build.effects} == {(2, 7)}


def test_it_comes_again_alike_turned_or_dealt_anew() -> None:
    alike = lay_on_beats(song(), "twinkle", 0, 9, 1, 2)
    assert len({effect.look for effect in alike.effects}) == 1
    dealt = lay_on_beats(song(), "twinkle", 0, 9, 1, 2, again="dealt")
    assert len({effect.look.values["seed"] for effect in dealt.effects}) > 5
    turned = lay_on_beats(song(), "chase", 0, 9, 1, 2, again="turned")
    assert [effect.turned for effect in turned.effects] == list(range(8))
    assert len({effect.turned for effect in lay_on_beats(song(), "chase", 0, 9, 1, 2, again="dealt").effects}) > 3


def test_bars_that_are_not_there_are_refused_and_those_still_empty_are_told() -> None:
    build = lay_on_beats(song(), "fade", 0, 9, 3, 4)
    assert empty_bars(build) == (1, 2, *range(5, 17))
    with pytest.raises(LanternError, match="no bars 15 to 20"):
        lay_on_beats(build, "fade", 0, 9, 15, 20)
    long = lay_on_beats(song(), "fade", 0, 9, 3, 6, every=8)
    assert empty_bars(long) == (1, 2, *range(7, 17)), "two bars long: it fills both"
