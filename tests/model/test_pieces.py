"""Every kind of piece: on the Line, in the picture, in the file, in the weave, and gone with what refers to it."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.support.pieces import EVERY_PIECE, pier
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.light.flash import MOST_FLASHES
from tiny_lantern.model.base import revise
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build, Bus, FrameLoad, FullWhite, OnBus
from tiny_lantern.model.edits_pieces import (
    add_joint,
    add_piece,
    add_strip,
    change_piece,
    duplicate_piece,
    move_piece,
    remove_piece,
)
from tiny_lantern.model.edits_power import add_feed, add_supply, remove_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.layout import all_places, slot_places
from tiny_lantern.model.layouts import AroundRing, AsGrid, AtSpots
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.model.strip import Panel
from tiny_lantern.show.loads import duties_for
from tiny_lantern.show.weave import render


@pytest.mark.parametrize("piece", EVERY_PIECE, ids=lambda piece: piece.kind)
class TestEveryPiece:
    """What every kind of piece must keep to."""

    def test_it_has_a_place_for_each_light_and_slots_of_its_own_on_the_line(self, piece: Piece) -> None:
        build = add_piece(one_strip(7), part(piece.part_id), piece)
        line = build.line
        assert line.slot_count == 7 + piece.slot_count
        assert len(all_places(build)) == line.slot_count
        assert len(np.unique(slot_places(piece).round(6), axis=0)) == piece.slot_count
        own = build.pieces[-1].id
        assert line.ref_at(7) == SlotRef(piece_id=own, index=0)
        assert line.slot_of(SlotRef(piece_id=own, index=piece.slot_count - 1)) == line.slot_count - 1

    def test_it_comes_back_from_a_file_and_from_a_copy(self, piece: Piece) -> None:
        build = add_piece(Build(), part(piece.part_id), piece)
        assert loads(dumps(build)) == build
        twice = duplicate_piece(build, build.pieces[0].id)
        assert [each.name for each in twice.pieces] == [piece.name, f"{piece.name} 2"]
        assert not np.allclose(slot_places(twice.pieces[0]), slot_places(twice.pieces[1]))

    def test_the_weave_lights_it_and_the_copper_of_the_strips_beside_it_is_the_same(self, piece: Piece) -> None:
        bare = one_strip(20)
        build = move_piece(add_piece(bare, part(piece.part_id), piece), "strip", 1)
        lit = add_effect(build, look_of("steady", colour="#ffffff"), 0, piece.slot_count - 1, 0, 5)
        frame = render(lit, np.array([0]))[0]
        assert frame[: piece.slot_count].min() == 255
        assert frame[piece.slot_count :].max() == 0
        own, alone = (solve_power(b, duties_for(b, FullWhite())).runs["strip"].pixel_v for b in (build, bare))
        assert own == pytest.approx(alone, abs=1e-12)

    def test_it_goes_with_the_effects_that_lie_on_it(self, piece: Piece) -> None:
        build = add_piece(one_strip(5), part(piece.part_id), piece)
        build = add_effect(build, look_of("steady"), 0, 4, 0, 5)
        build = add_effect(build, look_of("steady"), 2, 5, 0, 5)
        gone = remove_piece(build, build.pieces[-1].id)
        assert [effect.id for effect in gone.effects] == [build.effects[0].id]
        assert gone.pieces == build.pieces[:1]

    def test_its_part_must_be_there_and_of_its_kind(self, piece: Piece) -> None:
        build = add_piece(Build(), part(piece.part_id), piece)
        with pytest.raises(ValueError, match=r"pieces\[0\].part_id"):
            revise(build, parts=(part("mm2-1_5"),))
        with pytest.raises(ValueError, match=r"pieces\[0\].part_id"):
            revise(build, parts=(*build.parts, part("mm2-1_5")), pieces=(revise(build.pieces[0], part_id="mm2-1_5"),))

    def test_it_is_on_the_bill(self, piece: Piece) -> None:
        (line,) = bill_of(add_piece(Build(), part(piece.part_id), piece))
        assert line.name == part(piece.part_id).name
        assert line.amount > 0
        assert line.cost == pytest.approx(line.amount * unit_cost(piece), rel=0.02)


def unit_cost(piece: Piece) -> float:
    """What one of a piece's part costs, or a metre of it."""
    own = part(piece.part_id)
    return getattr(own, "cost_per_m", None) or own.cost


def test_a_panel_runs_from_its_corner_and_turns_back() -> None:
    def order(**changes: object) -> list[tuple[float, float]]:
        panel = revise(Panel(**{**dict(PANEL), "id": "panel"}), **changes)
        return [tuple(place) for place in (slot_places(panel) / [0.1, 0.2]).round().astype(int).tolist()]

    assert order() == [(0, 0), (1, 0), (2, 0), (2, -1), (1, -1), (0, -1)]
    assert order(serpentine=False)[3:] == [(0, -1), (1, -1), (2, -1)]
    assert order(corner="bottom_right")[:4] == [(2, -1), (1, -1), (0, -1), (0, 0)]
    upright = revise(Panel(**dict(PANEL)), columns_first=True, pitch_m=0.2, cross_pitch_m=0.1)
    assert (slot_places(upright)[:3] / [0.1, 0.2]).round().tolist() == [[0, 0], [0, -1], [1, -1]]
    turned = revise(Panel(**dict(PANEL)), layout=AsGrid(x_m=1.0, y_m=2.0, angle_deg=90))
    assert slot_places(turned)[1] == pytest.approx([1.0, 2.1])


PANEL = next(piece for piece in EVERY_PIECE if isinstance(piece, Panel))


def test_a_panel_is_fed_and_solved_as_a_strip_is() -> None:
    build = add_piece(Build(), part("rgb-5v-60"), revise(PANEL, rows=4, columns=15, pitch_m=1 / 60))
    build = add_supply(build, part("mains-5v-20a"), "Supply")
    build = add_feed(build, "supply", build.pieces[0].id, 0.0, part("mm2-1_5"), 1.0, None)
    panel = solve_power(build, duties_for(build, FullWhite())).runs[build.pieces[0].id].pixel_v
    strip = solve_power(one_strip(60), duties_for(one_strip(60), FullWhite())).runs["strip"].pixel_v
    assert panel == pytest.approx(strip, abs=0.02)
    assert panel[-1] < panel[0]


def test_lamps_lie_on_a_ring_of_their_own_spacing_or_each_at_its_spot() -> None:
    lamps = next(piece for piece in EVERY_PIECE if isinstance(piece, LampGroup))
    ring = revise(lamps, lamp_count=12, spacing_m=0.1, layout=AroundRing(x_m=1.0, y_m=2.0))
    far = np.linalg.norm(slot_places(ring) - [1.0, 2.0], axis=1)
    assert far == pytest.approx(np.full(12, 1.2 / (2 * np.pi)))
    spots = ((0.0, 0.0), (0.5, 0.1), (0.2, 0.9))
    assert slot_places(revise(lamps, lamp_count=3, layout=AtSpots(points_m=spots))).tolist() == [list(s) for s in spots]
    with pytest.raises(ValueError, match="3 spots for 4 lamps"):
        revise(lamps, lamp_count=4, layout=AtSpots(points_m=spots))


def test_effects_stay_on_a_piece_that_gets_fewer_lights() -> None:
    build = add_effect(pier(), look_of("steady"), 3, pier().line.slot_count - 1, 0, 5)
    first = build.line.piece(build.effects[0].first.piece_id)
    less = change_piece(build, first.id, **({"pixel_count": 2} if first.kind == "strip" else {"lamp_count": 2}))
    assert less.effects[0].first.index == 1


def test_what_hangs_on_a_thing_goes_with_it_however_far_it_hangs() -> None:
    build = add_strip(one_strip(30, feeds=(0.0, 1.0)), part("rgb-5v-60"), 20, "Next")
    build = add_joint(build, "strip", "next")
    build = add_feed(build, "supply", "next", 0.1, part("mm2-1_5"), 1.0, None)
    gone = remove_piece(build, "strip")
    assert [feed.attach.strip_id for feed in gone.feeds] == ["next"]
    assert gone.joints == ()
    assert remove_supply(build, "supply").feeds == ()


def test_feeds_joints_and_shorts_are_for_what_has_rails() -> None:
    build = add_supply(pier(), part("mains-5v-20a"), "Supply")
    lamps = next(piece.id for piece in build.pieces if piece.kind == "lamps")
    with pytest.raises((ValueError, LanternError), match=r"rails|nothing here has the id"):
        add_feed(build, build.supplies[0].id, lamps, 0.0, part("mm2-1_5"), 1.0, None)
    with pytest.raises(ValueError, match="nothing here has the id"):
        add_joint(build, build.strips[0].id, lamps)


@given(st.integers(0, 400))
def test_looking_up_a_light_and_back_is_the_same(slot: int) -> None:
    line = pier().line
    inside = min(slot, line.slot_count - 1)
    assert line.slot_of(line.ref_at(inside)) == inside
    assert line.span_at(inside).first <= inside < line.span_at(inside).stop


def test_a_lamp_that_blinks_fast_is_a_danger_too() -> None:
    from tiny_lantern.findings.evidence import find_flashes

    build = pier()
    lamps = next(span for span in build.line.spans if span.piece.kind == "lamps")
    build = add_effect(build, look_of("blink", colour="#ffffff", period_s=0.1), lamps.first, lamps.stop - 1, 0, 5)
    runs = find_flashes(build)
    assert runs
    assert all(run.flashes > MOST_FLASHES and lamps.first <= run.slot < lamps.stop for run in runs)


def test_a_feed_on_the_bus_of_a_strip_goes_with_the_strip() -> None:
    build = one_strip(30)
    bus = Bus(id="bus", strip_id="strip", pos_ohm_per_m=0.02, neg_ohm_per_m=0.02, tap_pixels=(3,))
    on_bus = revise(build.feeds[0], id="second", attach=OnBus(bus_id="bus"))
    build = revise(build, buses=(bus,), feeds=(*build.feeds, on_bus))
    gone = remove_piece(build, "strip")
    assert (gone.buses, gone.feeds) == ((), ())


def test_a_frame_becomes_duties_of_what_has_rails_alone() -> None:
    build = add_effect(pier(), look_of("steady", colour="#ffffff"), 0, pier().line.slot_count - 1, 0, 5)
    duties = duties_for(build, FrameLoad(time_s=1.0))
    assert [len(duty) for duty in duties] == [strip.pixel_count for strip in build.strips]
