"""Looks, layers, the weave, loads, the data line, and what the show draws."""

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.support.builds import builds, one_strip, part
from tests.support.driven import driven, flood
from tests.support.driven import lit as light_up
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.registry import rules
from tiny_lantern.light.colour import linear_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, ColourLoad, FrameLoad, FullWhite, LevelLoad
from tiny_lantern.model.clip import clip_text, pasted
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board, remove_board
from tiny_lantern.model.edits_pieces import add_piece, add_strip, change_piece
from tiny_lantern.model.edits_show import add_effect, change_effect, nudge_effect
from tiny_lantern.model.effects import LOOKS, look_of
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.mount import Mount
from tiny_lantern.show.channels import runs_of
from tiny_lantern.show.data_line import frame_time, frame_time_working, frame_times
from tiny_lantern.show.draw import show_draw
from tiny_lantern.show.glow import GROUND, Glow, fit, spot_radius, spot_sizes, stride_of, to_screen
from tiny_lantern.show.loads import duties_for, frame_duties, in_phase
from tiny_lantern.show.weave import KeptLight, Show, blocks, layered, render


@pytest.mark.parametrize(("layer", "value"), [("replace", 0.6), ("add", 1.0), ("lighten", 0.7), ("dim", 0.42)])
def test_layers_meet_as_they_say(layer: str, value: float) -> None:
    below, above = (np.array([round(share * 65536)], np.int32) for share in (0.7, 0.6))
    assert layered(below, above, layer)[0] == pytest.approx(value * 65536, abs=1)


def test_an_effect_is_seen_only_on_its_lights_and_in_its_time() -> None:
    build = add_effect(one_strip(20), look_of("steady", colour="#ffffff"), 5, 9, 1.0, 2.0)
    frames = render(build, np.arange(build.timeline.count))
    lit = frames[..., 0] > 0
    assert np.flatnonzero(lit.any(axis=0)).tolist() == [5, 6, 7, 8, 9]
    assert (np.flatnonzero(lit.any(axis=1))[[0, -1]]).tolist() == [40, 119]


def test_an_effect_tells_its_time_from_its_own_start() -> None:
    rise = look_of("fade", colour="#000000", colour_to="#ffffff")
    early, late = (
        render(build, np.arange(build.timeline.count))
        for build in (add_effect(one_strip(4), rise, 0, 3, start, 2.0) for start in (0.0, 1.5))
    )
    assert np.array_equal(late[60:140], early[:80])
    assert early[:80].any()


def test_an_effect_named_from_its_last_light_to_its_first_covers_the_same_lights() -> None:
    build = add_effect(one_strip(20), look_of("steady", colour="#ffffff"), 5, 9, 0.0, 2.0)
    effect = build.effects[0]
    turned = change_effect(build, effect.id, first=effect.last, last=effect.first)
    assert np.array_equal(render(turned, np.arange(10)), render(build, np.arange(10)))


def test_later_effects_lie_on_earlier_ones() -> None:
    build = add_effect(
        add_effect(one_strip(4), look_of("steady", colour="#ff0000"), 0, 3, 0, 5),
        look_of("steady", colour="#0000ff"),
        0,
        3,
        0,
        5,
    )
    assert render(build, np.array([0]))[0, 0].tolist() == [0, 0, 255]
    both = change_effect(build, build.effects[1].id, layer="add")
    assert render(both, np.array([0]))[0, 0].tolist() == [255, 0, 255]


@given(builds(), st.integers(0, 2**31))
def test_blocks_slots_and_single_frames_agree(build, seed: int) -> None:
    whole = np.concatenate([block for _, block in blocks(change_build(build, show_s=3.0))])
    assert len(whole) == 120
    tick = seed % 120
    short = change_build(build, show_s=3.0)
    assert (render(short, np.array([tick]))[0] == whole[tick]).all()
    slots = np.arange(0, whole.shape[1], 3)
    assert (render(short, np.array([tick]), slots)[0] == whole[tick, slots]).all()


def test_the_caret_is_kept_inside_the_show() -> None:
    build = one_strip()
    assert (build.timeline.on_show(-1), build.timeline.on_show(1.0), build.timeline.on_show(1e6)) == (0, 40, 2399)


def test_loads_become_duties() -> None:
    build = add_strip(one_strip(4), part("rgbw-5v-60"), 3, "Four")
    assert [duty.shape for duty in duties_for(build, FullWhite())] == [(4, 3), (3, 4)]
    assert all((duty == 1).all() for duty in duties_for(build, FullWhite()))
    assert all((duty == 0.3).all() for duty in duties_for(build, LevelLoad(level=0.3)))
    three, four = duties_for(build, ColourLoad(colour="#808080"))
    grey = linear_of("#808080")[0]
    assert three[0] == pytest.approx([grey] * 3)
    assert four[0] == pytest.approx([0, 0, 0, grey])
    lit = add_effect(build, look_of("steady", colour="#ff0000"), 0, 1, 0, 5)
    assert duties_for(lit, FrameLoad(time_s=1))[0][:, 0].tolist() == [1, 1, 0, 0]
    assert duties_for(lit, FrameLoad(time_s=9))[0].sum() == 0
    assert [duty.max() for duty in in_phase(duties_for(build, LevelLoad(level=0.01)))] == [1, 1]


def test_published_frame_times() -> None:
    assert frame_time(60, 3, 1.25e-6, 80e-6) == pytest.approx(1.88e-3)
    assert frame_time(1000, 3, 1.25e-6, 80e-6) == pytest.approx(30.08e-3)
    build = add_strip(one_strip(100), part("rgbw-5v-60"), 50, "Four")
    assert max(frame_times(build).values()) == pytest.approx((2400 + 1600) * 1.25e-6 + 80e-6)
    parallel = change_build(build, data=revise(build.data, parallel=True))
    assert max(frame_times(parallel).values()) == pytest.approx(2400 * 1.25e-6 + 80e-6)
    assert "3.08 ms" in frame_time_working(parallel, "").text()
    assert max(frame_times(change_build(build, pieces=(), feeds=())).values()) == 0


def test_loose_pixels_are_sent_too_and_boards_send_at_the_same_time() -> None:
    build = add_strip(one_strip(100), part("rgbw-5v-60"), 50, "Four")
    chain = LampGroup(id="lamps", name="Chain", part_id="lamp-addressable-8mm", lamp_count=20, colour_order="RGB")
    build = add_piece(build, part(chain.part_id), chain)
    assert max(frame_times(build).values()) == pytest.approx((2400 + 1600 + 480) * 1.25e-6 + 80e-6)
    for _ in range(2):
        build = add_board(build, part("board-8bit-large"))
    one, two = (board.id for board in build.boards)
    build = change_piece(change_piece(build, "four", board_id=two), "chain", board_id=two)
    assert frame_times(build) == {
        one: pytest.approx(2400e-6 * 1.25 + 80e-6),
        two: pytest.approx(2080e-6 * 1.25 + 80e-6),
    }
    assert "2080" in frame_time_working(build, two).text()
    assert list(rules()["frame-time"](gather(change_build(build, tick_hz=324.0), FullWhite()))) == []
    late = change_build(build, tick_hz=325.0)
    assert [f.place.one("boards") for f in rules()["frame-time"](gather(late, FullWhite()))] == [one]
    late = change_build(build, tick_hz=380.0)
    assert [f.place.one("boards") for f in rules()["frame-time"](gather(late, FullWhite()))] == [one, two]
    gone = remove_board(build, two)
    assert [piece.board_id for piece in gone.pieces] == [None, None, None]
    assert max(frame_times(gone).values()) == pytest.approx((2400 + 1600 + 480) * 1.25e-6 + 80e-6)
    with pytest.raises(LanternError, match="nothing here has the id"):
        change_piece(build, "four", board_id="elsewhere")
    assert pasted(build, clip_text(build, ["four"])).pieces[-1].board_id == two
    assert pasted(gone, clip_text(build, ["four"])).pieces[-1].board_id is None


def test_what_the_show_draws_is_what_each_frame_draws_alone() -> None:
    build = add_effect(
        change_build(one_strip(60), show_s=2.0), look_of("breathe", colour="#ffffff", period_s=1), 0, 59, 0, 2
    )
    draw = show_draw(build)
    assert draw.supply_a.shape == (80, 1)
    frame = render(build, np.array([draw.worst_tick]))[0]
    alone = solve_power(build, frame_duties(build, frame))
    assert draw.total_a.max() == pytest.approx(alone.supplies["supply"].current_a)
    assert draw.worst_v.min() == pytest.approx(alone.runs["strip"].pixel_v.min())


@pytest.mark.parametrize("colour", ["#ffffff", "#00ff00", "#0000ff"])
def test_frames_that_sag_below_what_a_colour_needs_are_those_of_the_network_alone(colour: str) -> None:
    build = light_up(one_strip(400), colour=colour, length_s=0.5)
    draw = show_draw(change_build(build, show_s=1.0))
    alone = solve_power(build, frame_duties(build, render(build, np.array([0]))[0]))
    assert draw.supply_a[0, 0] == pytest.approx(alone.supplies["supply"].current_a, rel=1e-6)
    assert draw.worst_v[0] == pytest.approx(alone.runs["strip"].pixel_v.min(), rel=1e-6)
    each_a = alone.runs["strip"].pixel_a
    assert each_a[-1] < 0.9 * each_a[0], "the last pixels cannot hold their current"


def test_measuring_the_show_tells_its_progress_and_can_be_stopped() -> None:
    build = add_effect(one_strip(10), look_of("wheel"), 0, 9, 0, 60)
    told: list[float] = []
    with pytest.raises(CancelledError):
        show_draw(build, told.append, lambda: len(told) > 3)
    assert 0 <= told[0] < told[-1] < 1
    told.clear()
    show_draw(revise(build, show_s=4.0), told.append)
    assert told == pytest.approx([64 / 160, 128 / 160, 1.0])


def test_a_fitted_picture_keeps_room_for_names_above_and_below() -> None:
    placed = fit((0, 0, 1, 1), 400, 300, edge=26)
    corners = to_screen(np.array([[0, 0], [1, 1]], float), placed)
    assert corners[:, 1].min() >= 26
    assert corners[:, 1].max() <= 300 - 26
    low = to_screen(np.array([[0, 0], [1, 1]], float), fit((0, 0, 1, 1), 400, 60, edge=26))
    assert np.ptp(low[:, 1]) == pytest.approx(48)
    assert fit((0, 0, 1, 3), 400, 100)[0] == pytest.approx(33.333, abs=0.001)
    middle = to_screen(np.array([[0.5, 0.25]]), fit((0, 0, 1, 0.5), 401, 301.5, edge=26))
    assert middle == pytest.approx(np.array([[200.5, 150.75]]))


def test_very_many_lights_share_spots_though_they_lie_apart() -> None:
    def far_apart(count: int) -> int:
        return stride_of(np.stack([5.0 * np.arange(count), np.zeros(count)], axis=1))

    assert [far_apart(count) for count in (1, 2, 4000, 4001, 8000, 8001, 10_000)] == [1, 1, 1, 2, 2, 3, 3]


def test_single_lamps_grow_with_the_picture_within_bounds_and_a_flood_is_largest() -> None:
    lamps = add_piece(Build(), part("led-red-5mm"), LampGroup(id="l", name="L", part_id="led-red-5mm", lamp_count=2))
    flood_build = driven("relay", flood())
    assert [spot_sizes(lamps.pieces, scale)[0] for scale in (50, 250, 1000)] == pytest.approx([2.0, 4.0, 8.0])
    assert spot_sizes(flood_build.pieces, 50)[0] == pytest.approx(12.0)
    assert [spot_radius(scale, 0.03) for scale in (10, 200, 2000)] == pytest.approx([1.6, 2.7, 7.0])
    frosted = revise(lamps.pieces[0], mount=Mount(cover="frosted"))
    assert spot_sizes((frosted,), 250)[0] == pytest.approx(1.7 * 4.0)


def test_a_channel_is_on_and_off_from_tick_to_tick() -> None:
    on = np.array([0, 0, 1, 1, 1, 0, 1], bool)
    assert runs_of(on) == [(0, 2), (1, 3), (0, 1), (1, 1)]
    assert runs_of(np.ones(4, bool)) == [(1, 4)]
    assert runs_of(on[:0]) == []


def test_a_light_has_a_core_and_a_wide_halo_and_shines_up_to_the_edges() -> None:
    glow = Glow(np.array([[0.0, 50.0], [199.0, 50.0]]), 200, 100, np.full(2, 8.0))
    row = glow.picture(np.ones((2, 3)))[50, :, 0].astype(int)
    assert row[0] == row[199] == 255
    assert row[5] == row[194] == pytest.approx(214, abs=2), "58 % of the light in the core, and 9 % in the halo"
    assert row[15] == row[184] == pytest.approx(74, abs=2), "less than 1 %, and 6 %"
    assert (np.diff(row[:100]) <= 0).all()


def test_the_picture_glows_where_the_light_is() -> None:
    placed = fit((0, 0, 2, 1), 200, 100)
    spots = to_screen(np.array([[0.5, 0.5], [1.5, 0.5]]), placed)
    assert spots == pytest.approx(np.array([[50, 50], [150, 50]]))
    glow = Glow(spots, 200, 100, np.full(len(spots), spot_radius(placed[0], 0.03)))
    picture = glow.picture(np.array([[1.0, 0, 0], [0, 0, 0]]))
    assert picture[50, 50].tolist()[0] == 255
    assert (picture[90, 100] == GROUND).all()
    assert (picture >= GROUND).all()
    unlit = picture[50, 150].astype(int)
    assert 0 < unlit.max() - max(GROUND) < 40
    assert picture.shape == (100, 200, 3)


@example(400, 0.4)
@example(240, 0.15)
@given(st.integers(1, 400), st.floats(0.01, 5))
def test_lights_too_near_to_tell_apart_share_a_spot_and_none_goes_dark(count: int, apart: float) -> None:
    places = np.stack([10 + apart * np.arange(count), np.full(count, 20.0)], axis=1)
    stride = stride_of(places)
    assert stride == 1 or stride * apart <= 1.2 + 1e-9
    width = int(places[-1, 0]) + 20
    glow = Glow(places, width, 40, np.full(len(places), 1.6))
    for lit in {0, count // 2, count - 1}:
        rgb = np.zeros((count, 3))
        rgb[lit] = 1.0
        row = glow.picture(rgb)[20, :, 0].astype(int)
        assert row.max() > 200
        assert abs(int(row.argmax()) - places[lit, 0]) <= 2


@pytest.mark.parametrize("tick_hz", [30.0, 40.0, 37.5, 0.5])
@pytest.mark.parametrize("start", [0.0, 0.033, 0.067, 0.1, 1.234, 2.5])
def test_an_effect_begins_at_the_frame_nearest_to_its_start(tick_hz: float, start: float) -> None:
    build = revise(one_strip(4), tick_hz=tick_hz, show_s=8.0)
    build = add_effect(build, look_of("steady", colour="#ffffff"), 0, 3, start, 4.0)
    lit = np.flatnonzero(render(build, np.arange(build.timeline.count)).any(axis=(1, 2)))
    assert abs(lit[0] / tick_hz - start) <= 0.5 / tick_hz + 1e-6
    assert abs((lit[-1] + 1) / tick_hz - (start + 4.0)) <= 0.5 / tick_hz + 1e-6
    assert list(np.diff(lit)) == [1] * (len(lit) - 1)


@given(builds(), st.integers(0, 9), st.floats(-5, 5), st.integers(0, 30))
def test_light_that_is_kept_while_an_effect_moves_is_the_light_worked_out_anew(
    build: Build, which: int, seconds: float, first: int
) -> None:
    if not build.effects:
        return
    ticks = np.sort(np.concatenate([np.arange(0, build.timeline.count, 61), np.arange(0, build.timeline.count, 97)]))
    kept = KeptLight(ticks)
    for moves in range(3):
        stale = ticks[first % 4 :: 1 + moves]
        show = Show(build)
        assert np.array_equal(show.render(stale, light_of=kept), show.render(stale))
        build = nudge_effect(build, build.effects[which % len(build.effects)].id, 1, seconds)


@given(builds(), st.integers(0, 9), st.floats(-5, 5))
def test_a_show_compiled_from_one_like_it_is_the_same(build: Build, which: int, seconds: float) -> None:
    if not build.effects:
        return
    moved = nudge_effect(build, build.effects[which % len(build.effects)].id, which, seconds)
    ticks = np.arange(0, build.timeline.count, 97)
    near, anew = Show(moved, Show(build)), Show(moved)
    assert np.array_equal(near.render(ticks), anew.render(ticks))
    assert list(near.under(ticks)) == list(anew.under(ticks))
    other = revise(build, tick_hz=30.0)
    assert np.array_equal(Show(other, near).render(ticks), Show(other).render(ticks))


@given(st.data())
def test_a_frame_of_many_effects_worked_out_together_is_the_frame_in_a_block(data: st.DataObject) -> None:
    build = add_strip(one_strip(23), part("rgbw-5v-60"), 9, "Four")
    for _ in range(data.draw(st.integers(5, 14))):
        look = data.draw(st.sampled_from(LOOKS))
        first, last = sorted(data.draw(st.tuples(st.integers(0, 31), st.integers(0, 31))))
        build = add_effect(build, look, first, last, data.draw(st.floats(0, 2)), data.draw(st.floats(0.1, 3)))
        layer = data.draw(st.sampled_from(["replace", "add", "lighten", "dim"]))
        build = change_effect(build, build.effects[-1].id, layer=layer)
    whole = render(build, np.arange(120))
    for tick in data.draw(st.lists(st.integers(0, 119), min_size=4, max_size=4)):
        assert np.array_equal(render(build, np.array([tick]))[0], whole[tick])
