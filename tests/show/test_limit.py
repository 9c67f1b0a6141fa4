"""A cap on what the show draws: frames that ask for more are dimmed as a whole, others not at all."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite, LevelLoad
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_power import change_supply, set_fuse, set_length
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.show.capping import caps_of
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.peaks import show_peaks
from tiny_lantern.show.solved import solve_for
from tiny_lantern.show.weave import Show, render, show_of
from tiny_lantern.ui.files import demo_build

WHITE_A = 0.0368  # one pixel of the usual strip at full white, its chip in it


def shown(pixels: int = 100, colour: str = "#ffffff", cap_a: float | None = None, part_id: str = "rgb-5v-60") -> Build:
    """A strip at one colour for ten seconds, then dark."""
    build = change_build(one_strip(pixels, part_id, feeds=(0.0, 0.5, 1.0)), show_s=20.0)
    build = add_effect(build, look_of("steady", colour=colour), 0, pixels - 1, 0.0, 10.0)
    return change_supply(build, "supply", show_cap_a=cap_a)


def test_a_frame_over_the_cap_is_dimmed_to_it_and_one_below_is_left_alone() -> None:
    full = render(shown(), np.array([0]))
    assert np.array_equal(render(shown(cap_a=100 * WHITE_A + 0.01), np.array([0])), full)
    dimmed = render(shown(cap_a=100 * WHITE_A / 2), np.array([0]))
    assert len(np.unique(dimmed)) == 1
    assert 120 <= dimmed[0, 0, 0] <= 127
    assert render(shown(cap_a=0.01), np.array([0])).max() == 0  # what chips draw anyway is over it


@pytest.mark.parametrize("part_id", ["rgb-5v-60", "rgbw-5v-60", "rgb-12v-60", "rgbw-24v-seg10"])
@pytest.mark.parametrize("colour", ["#ffffff", "#ff8020", "#20ff90"])
def test_the_solved_current_stays_within_the_cap_and_comes_near_it(part_id: str, colour: str) -> None:
    free = show_draw(shown(60, colour, part_id=part_id)).total_a.max()
    build = shown(60, colour, 0.7 * free, part_id)
    drawn = show_draw(build).total_a.max()
    assert 0.7 * free * 0.93 < drawn <= 0.7 * free + 1e-9


@given(st.integers(0, 90), st.integers(1, 40), st.integers(0, 799))
def test_any_part_of_a_capped_show_is_the_same_as_all_of_it(first: int, count: int, tick: int) -> None:
    build = change_supply(
        add_effect(shown(), look_of("chase", spacing_px=9), 20, 99, 3.0, 15.0), "supply", show_cap_a=0.9
    )
    slots = np.arange(first, min(100, first + count))
    whole = render(build, np.array([tick]))[0]
    assert np.array_equal(Show(build).render(np.array([tick]), slots)[0], whole[slots])


def test_a_show_is_compiled_anew_for_another_cap_and_kept_while_it_is_the_same() -> None:
    build = shown(cap_a=1.0)
    assert show_of(build) is show_of(revise(build, name="other"))
    other = change_supply(build, "supply", show_cap_a=0.5)
    assert not np.array_equal(render(build, np.array([0])), render(other, np.array([0])))
    assert caps_of(change_supply(build, "supply", show_cap_a=None)) == ()


def test_what_hangs_beside_the_strips_comes_off_the_cap() -> None:
    build = shown(cap_a=2.0)
    with_board = feed_board(add_board(build, part("board-8bit-large")), "board", "supply")
    assert caps_of(with_board)[0].room_ua < caps_of(build)[0].room_ua - 10_000
    assert render(with_board, np.array([0])).max() < render(build, np.array([0])).max()


def test_two_supplies_on_one_strip_share_it_and_the_tighter_cap_counts() -> None:
    build = shown(cap_a=100 * WHITE_A / 2 + 0.01)
    second = revise(build.supplies[0], id="second", name="Second")
    feed = revise(build.feeds[0], id="again", supply_id="second")
    build = revise(build, supplies=(*build.supplies, second), feeds=(*build.feeds, feed))
    assert render(build, np.array([0])).max() == 255
    tight = change_supply(build, "second", show_cap_a=100 * WHITE_A / 4)
    assert 118 <= render(tight, np.array([0])).max() <= 128


def peak_finding(build: Build) -> list:
    return [found for found in check(gather(build, LevelLoad(level=0.01))) if found.code == "show-peak"]


def test_the_peak_of_the_show_is_told_with_its_moment_and_amount_and_the_cap_mends_it() -> None:
    build = add_effect(shown(100, "#000000"), look_of("steady", colour="#ffffff"), 0, 99, 12.5, 2.0)
    build = revise(build, supplies=(revise(build.supplies[0], part_id="mains-5v-4a"),),
                   parts=(*build.parts, part("mains-5v-4a")))  # fmt: skip
    (peak,) = show_peaks(build)
    assert peak.total_a == pytest.approx(100 * WHITE_A, rel=1e-3)
    assert build.timeline.begins_s(peak.tick) == pytest.approx(12.5)
    (found,) = peak_finding(build)
    assert "0:12.5" in found.message
    assert "480.0 mA too much" in found.message  # of 3.68 A, and eight tenths of four amps are allowed
    assert found.severity.label == "weak spot"
    fix = found.tries[0]
    assert fix.label == "Limit the show to 3.20 A"
    mended = fix.edit(build)
    assert peak_finding(mended) == []
    worse = {f.code for f in check(gather(mended, FullWhite()))} - {f.code for f in check(gather(build, FullWhite()))}
    assert worse == set()
    assert show_draw(mended).total_a.max() <= 3.2 + 1e-9


@pytest.mark.parametrize(("pixels", "quiet"), [(86, True), (87, False), (108, False)])
def test_the_peak_is_quiet_just_inside_and_speaks_just_outside(pixels: int, quiet: bool) -> None:
    build = shown(pixels)
    build = revise(build, supplies=(revise(build.supplies[0], part_id="mains-5v-4a"),),
                   parts=(*build.parts, part("mains-5v-4a")))  # fmt: skip
    found = peak_finding(build)
    assert (not found) is quiet
    if found:
        assert found[0].tries


def test_a_show_that_no_supply_can_feel_is_not_looked_through(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("tiny_lantern.show.peaks.blocks", lambda build: pytest.fail("looked through"))
    assert show_peaks(shown(20)) == ()
    assert show_peaks(change_strip(add_strip(Build(), part("rgb-5v-60"), 9, "Alone"), "alone", pixel_count=9)) == ()


def test_the_demos_keep_their_frames_without_a_cap() -> None:
    for name in ("pier", "footbridge", "cloak"):
        assert caps_of(demo_build(name)) == ()


def test_a_cap_holds_for_lamps_behind_resistors_on_a_supply_that_is_set_high() -> None:
    build = change_supply(shown(40, part_id="rgb-12v-seg20"), "supply", set_v=13.0)
    cap_a = 0.6 * float(show_draw(build).total_a.max())
    assert show_draw(change_supply(build, "supply", show_cap_a=cap_a)).total_a.max() <= cap_a + 1e-9


@pytest.mark.parametrize(("pixels", "word"), [(108, "weak spot"), (110, "won't work")])
def test_what_is_over_the_rating_itself_is_told_as_worse(pixels: int, word: str) -> None:
    build = shown(pixels)
    build = revise(build, supplies=(revise(build.supplies[0], part_id="mains-5v-4a"),),
                   parts=(*build.parts, part("mains-5v-4a")))  # fmt: skip
    assert [found.severity.label for found in peak_finding(build)] == [word]


def test_larger_supplies_are_those_that_may_give_it_where_they_stand() -> None:
    """86 white pixels are 3.16 A; a sealed supply may give six tenths of its rating for long: 5.27 A."""
    build = change_supply(shown(86), "supply", sealed=True)
    build = revise(build, supplies=(revise(build.supplies[0], part_id="mains-5v-4a"),),
                   parts=(*build.parts, part("mains-5v-4a")))  # fmt: skip
    (found,) = peak_finding(build)
    offered = [float(fix.label.split()[1]) for fix in found.tries if fix.label.startswith("Use ")]
    needed = 86 * WHITE_A / 0.6
    rated = sorted({each.rated_a for each in shelf().of(SupplyPart) if each.nominal_v == 5 and each.cells is None})
    assert offered[0] == next(amps for amps in rated if amps >= needed)


def test_what_cannot_be_solved_is_told_and_shows_no_looks() -> None:
    build = set_fuse(shown(10), "feed", None)
    build = revise(build, feeds=(set_length(build, "feed", 0.0).feeds[0],))
    refused = solve_for(build, FullWhite())
    assert refused.solution is None
    assert refused.refusal is not None
    assert refused.looks.shape == (0, 3)
    assert solve_for(shown(10), FullWhite()).looks.shape == (10, 3)


def test_looking_for_flashes_tells_how_far_it_is() -> None:
    shares: list[float] = []
    find_flashes(add_effect(shown(10), look_of("blink", period_s=0.2), 0, 9, 0.0, 20.0), shares.append)
    assert shares == sorted(shares)
    assert shares[0] >= 0.0
    assert 0.4 < shares[len(shares) // 2] < 0.6
    assert 0.9 < shares[-1] <= 1.0
