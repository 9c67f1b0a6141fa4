"""Taking hold of pieces in the picture, and laying several of them together."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.pieces import pier
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_layout import align_pieces, distribute_pieces, make_copies, mirror_pieces, shift_pieces
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import (
    Handle,
    dragged,
    grid_step,
    handles_of,
    piece_ends,
    ring_radius,
    snapped,
    snapped_angle,
)  # fmt: skip
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AroundRing, AsGrid, AtSpots

LAYOUTS = (AlongLine(x_m=1, y_m=2, angle_deg=30), AlongArc(radius_m=0.5), AroundRing(),
           AlongPath(points_m=((0, 0), (1, 0), (1, 1))),
           AtSpots(points_m=((0, 0), (0.1, 0.2), (0.3, 0.1), (0.4, 0.4), (0.6, 0))))  # fmt: skip


def laid(layout: object, piece_id: str = "quay") -> Build:
    """The pier with a piece laid so."""
    return change_piece(pier(), piece_id, layout=layout)


def handle(build: Build, role: str, number: int = 0, piece_id: str = "quay") -> Handle:
    """One handle of a piece."""
    found = handles_of(build.line.piece(piece_id))
    return next(each for each in found if (each.role, each.number) == (role, number))


@pytest.mark.parametrize("layout", LAYOUTS, ids=lambda layout: layout.shape)
def test_a_handle_dragged_to_where_it_is_changes_nothing_to_see(layout: object) -> None:
    build = laid(layout)
    before = slot_places(build.line.piece("quay"))
    for each in handles_of(build.line.piece("quay")):
        after = slot_places(dragged(build, "quay", each, (each.x_m, each.y_m)).line.piece("quay"))
        assert np.allclose(before, after, atol=2e-3), each


def test_the_end_of_a_line_of_lamps_sets_what_lies_between_them() -> None:
    build = laid(AlongLine(x_m=1, y_m=1))
    quay = dragged(build, "quay", handle(build, "end"), (1.0, 3.0)).line.piece("quay")
    assert (quay.layout.angle_deg, quay.spacing_m, quay.slot_count) == (90.0, 0.4, 5)


def test_the_end_of_a_strip_sets_how_many_pixels_it_has() -> None:
    build = laid(AlongLine(), "deck")
    deck = dragged(build, "deck", handle(build, "end", piece_id="deck"), (0.5, 0.0)).line.piece("deck")
    assert deck.pixel_count == 30
    assert deck.pitch_m == 1 / 60


def test_the_start_of_a_line_leaves_its_end_where_it_was() -> None:
    build = laid(AlongLine(x_m=0, y_m=0))
    quay = dragged(build, "quay", handle(build, "start"), (0.5, 0.5)).line.piece("quay")
    end = handle(dragged(build, "quay", handle(build, "start"), (0.5, 0.5)), "end")
    assert (quay.layout.x_m, quay.layout.y_m, quay.layout.angle_deg) == (0.5, 0.5, -90.0)
    assert (round(end.x_m, 6), round(end.y_m, 6)) == (0.5, 0.0)


@pytest.mark.parametrize("rise", [0.02, 0.1, -0.1, 0.15])
def test_the_middle_of_an_arc_comes_to_the_pointer_s_height(rise: float) -> None:
    build = laid(AlongArc(x_m=0.3, y_m=0.7, radius_m=1.0))
    bent = dragged(build, "quay", handle(build, "bend"), (0.5, 0.7 + rise))
    assert handle(bent, "bend").y_m == pytest.approx(0.7 + rise, abs=2e-4)
    assert bent.line.piece("quay").layout.rightward is (rise < 0)


def test_an_arc_is_turned_about_its_start_and_bent_no_farther_than_half_round() -> None:
    build = laid(AlongArc(x_m=0.3, y_m=0.7, radius_m=1.0))
    end = handle(build, "turn")
    quarter = (0.3 - (end.y_m - 0.7), 0.7 + (end.x_m - 0.3))
    assert dragged(build, "quay", end, quarter).line.piece("quay").layout.angle_deg == 90.0
    bent = dragged(build, "quay", handle(build, "bend"), (0.3, 9.0)).line.piece("quay")
    assert bent.layout.radius_m >= 0.25 / np.pi
    assert slot_places(bent)[:, 1].max() < 0.7 + 0.25


def test_a_ring_is_turned_and_sized() -> None:
    build = laid(AroundRing(x_m=1, y_m=1))
    turned = dragged(build, "quay", handle(build, "turn"), (3.0, 1.01))
    assert turned.line.piece("quay").layout.start_deg == 0.0
    sized = dragged(build, "quay", handle(build, "size"), (1.0, 0.75)).line.piece("quay")
    assert ring_radius(sized) == pytest.approx(0.25, abs=1e-5)
    assert (sized.layout.x_m, sized.layout.y_m) == (1, 1)


def test_corners_and_lamps_go_one_by_one() -> None:
    for layout, role in ((LAYOUTS[3], "corner"), (LAYOUTS[4], "lamp")):
        build = laid(layout)
        moved = dragged(build, "quay", handle(build, role, 1), (0.7, 0.9)).line.piece("quay").layout
        assert moved.points_m[1] == (0.7, 0.9)
        assert moved.points_m[::2] == layout.points_m[::2]


def test_a_grid_is_turned_about_its_first_light() -> None:
    build = laid(AsGrid(x_m=1, y_m=1), "sign")
    turn = handle(build, "turn", piece_id="sign")
    first = slot_places(build.line.piece("sign"))[0]
    off = np.array([turn.x_m, turn.y_m]) - first
    quarter = (float(first[0] - off[1]), float(first[1] + off[0]))
    after = dragged(build, "sign", turn, quarter).line.piece("sign")
    assert after.layout.angle_deg == 90.0
    assert np.allclose(slot_places(after)[0], first)


@pytest.mark.parametrize(("angle", "goal"), [(44, 45), (47.6, 47.6), (-179, 180), (181, -180), (190.04, -170)])
def test_angles_snap_to_fifteen_degrees(angle: float, goal: float) -> None:
    assert snapped_angle(angle) % 360 == pytest.approx(goal % 360)


def test_places_snap_to_an_end_that_is_near_else_to_the_grid_of_the_zoom() -> None:
    assert [grid_step(scale) for scale in (100, 150, 1000, 3000)] == [0.1, 0.01, 0.01, 0.001]
    ends = np.array([[0.52, 0.5]])
    assert snapped((0.5, 0.49), 0.1, ends, 0.05) == (0.52, 0.5)
    assert snapped((0.46, 0.49), 0.1, ends, 0.05) == (0.5, 0.5)
    assert snapped((0.46, 0.04), 0.1, np.zeros((0, 2)), 0.05) == (0.5, 0.0)


def test_the_ends_of_others_are_offered_and_not_its_own() -> None:
    build = shift_pieces(laid(AlongLine(), "deck"), ("deck",), 5.0, 5.0)
    assert [5.2, 5.0] in np.round(piece_ends(build, "quay"), 6).tolist()
    assert [5.2, 5.0] not in np.round(piece_ends(build, "deck"), 6).tolist()


def test_pieces_are_aligned_by_the_outermost() -> None:
    build = shift_pieces(shift_pieces(pier(), ("quay",), 0.3, 0.7), ("sign",), -0.2, 0.1)
    for side, axis, worst in (("left", 0, min), ("right", 0, max), ("top", 1, max), ("bottom", 1, min)):
        there = [worst(slot_places(build.line.piece(name))[:, axis]) for name in ("quay", "sign", "deck")]
        after = align_pieces(build, ("quay", "sign", "deck"), side)
        edges = [worst(slot_places(after.line.piece(name))[:, axis]) for name in ("quay", "sign", "deck")]
        assert edges == pytest.approx([worst(there)] * 3, abs=2e-4)


def test_pieces_are_distributed_between_the_outermost() -> None:
    build = pier()
    for name, x in (("quay", 0.0), ("sign", 0.2), ("clock", 3.0)):
        build = shift_pieces(build, (name,), x, 0.0)
    names = ("clock", "quay", "sign")
    before = {
        name: np.ptp(slot_places(build.line.piece(name))[:, 0]) / 2 + slot_places(build.line.piece(name))[:, 0].min()
        for name in names
    }
    after = distribute_pieces(build, names)
    middles = {
        name: (slot_places(after.line.piece(name))[:, 0].min() + slot_places(after.line.piece(name))[:, 0].max()) / 2
        for name in names
    }
    order = sorted(before, key=before.get)
    assert middles[order[0]] == pytest.approx(before[order[0]], abs=2e-4)
    assert middles[order[1]] == pytest.approx((middles[order[0]] + middles[order[2]]) / 2, abs=2e-4)
    with pytest.raises(LanternError, match="three pieces"):
        distribute_pieces(build, ("quay", "sign"))


@given(st.sampled_from([*LAYOUTS[:2], *LAYOUTS[3:]]), st.floats(-3, 3))
def test_mirrored_twice_all_lies_as_before(layout: object, x: float) -> None:
    build = shift_pieces(laid(layout), ("quay",), round(x, 3), 0.0)
    before = slot_places(build.line.piece("quay"))
    once = mirror_pieces(build, ("quay",))
    mirrored = slot_places(once.line.piece("quay"))
    middle = (before[:, 0].min() + before[:, 0].max()) / 2
    assert np.allclose(mirrored[:, 0], 2 * middle - before[:, 0], atol=1e-3)
    assert np.allclose(mirrored[:, 1], before[:, 1], atol=1e-3)


def test_a_mirrored_ring_of_lamps_runs_the_other_way_round() -> None:
    build = laid(AroundRing(x_m=1, y_m=0, start_deg=90))
    before = slot_places(build.line.piece("quay"))
    after = slot_places(mirror_pieces(build, ("quay",)).line.piece("quay"))
    middle = (before[:, 0].min() + before[:, 0].max()) / 2
    assert np.allclose(after, np.stack([2 * middle - before[:, 0], before[:, 1]], axis=1), atol=1e-3)


def test_a_mirrored_panel_begins_at_the_other_corner_in_the_same_place() -> None:
    after = mirror_pieces(pier(), ("sign",)).line.piece("sign")
    before = slot_places(pier().line.piece("sign"))
    assert after.corner == "top_right"
    assert sorted(map(tuple, slot_places(after).round(4))) == sorted(map(tuple, before.round(4)))


def test_copies_stand_in_a_row_under_names_of_their_own() -> None:
    build = make_copies(laid(AlongLine()), "quay", 3, 0.2, 0.1)
    made = [piece for piece in build.pieces if piece.name.startswith("Quay")]
    assert [piece.name for piece in made] == ["Quay", "Quay 2", "Quay 3", "Quay 4"]
    assert [(piece.layout.x_m, piece.layout.y_m) for piece in made] == [(0, 0), (0.2, 0.1), (0.4, 0.2), (0.6, 0.3)]
    with pytest.raises(LanternError, match="1 to 200"):
        make_copies(build, "quay", 0, 0.1, 0.1)


def test_lamps_added_to_spots_lie_beside_the_last_one() -> None:
    build = change_piece(laid(LAYOUTS[4]), "quay", lamp_count=6)
    assert build.line.piece("quay").layout.points_m[4:] == ((0.6, 0), (0.62, 0))
    assert len(change_piece(build, "quay", lamp_count=2).line.piece("quay").layout.points_m) == 2
