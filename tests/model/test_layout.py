"""Where pixels lie in the picture."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import add_board, change_board
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.layout import all_places, bounds, clear_of_each_other, metre_step, places_along, slot_places
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AroundRing, Layout


def laid(layout: Layout, pixels: int = 60) -> Build:
    """A metre of strip laid some way."""
    return change_strip(one_strip(pixels), "strip", layout=layout)


@pytest.mark.parametrize(
    "layout",
    [
        AlongLine(angle_deg=30), AlongArc(radius_m=2), AlongArc(radius_m=0.7, rightward=True, angle_deg=45),
        AroundRing(), AlongPath(points_m=((0, 0), (0.4, 0), (0.4, 5))),
    ],
)  # fmt: skip
def test_neighbouring_pixels_are_one_pitch_apart_whatever_the_shape(layout: Layout) -> None:
    steps = np.linalg.norm(np.diff(slot_places(laid(layout).strips[0]), axis=0), axis=1)
    corners = isinstance(layout, AlongPath)
    assert np.median(steps) == pytest.approx(1 / 60, rel=2e-3)
    assert steps.max() <= 1 / 60 + 1e-9
    assert corners or steps.min() == pytest.approx(steps.max(), rel=1e-6)


def test_an_arc_bends_the_way_it_says() -> None:
    left = places_along(laid(AlongArc(radius_m=1)).strips[0], np.array([np.pi / 2]))
    right = places_along(laid(AlongArc(radius_m=1, rightward=True)).strips[0], np.array([np.pi / 2]))
    assert left[0] == pytest.approx([1, 1])
    assert right[0] == pytest.approx([1, -1])


def test_a_ring_closes_on_itself() -> None:
    strip = laid(AroundRing(x_m=3, y_m=2)).strips[0]
    ends = places_along(strip, np.array([0.0, strip.length_m]))
    assert ends[0] == pytest.approx(ends[1])
    assert slot_places(strip).mean(axis=0) == pytest.approx([3, 2])


def test_a_path_goes_straight_on_past_its_last_corner() -> None:
    strip = laid(AlongPath(points_m=((0, 0), (0.2, 0)))).strips[0]
    assert places_along(strip, np.array([0.9]))[0] == pytest.approx([0.9, 0])


def test_the_picture_holds_everything_and_never_has_no_area() -> None:
    build = laid(AlongLine())
    left, bottom, right, top = bounds(build)
    places = all_places(build)
    assert left < places[:, 0].min() < places[:, 0].max() < right
    assert bottom < 0 < top
    boarded = add_board(build, part("board-paired-3v3"))
    far = change_board(boarded, boarded.boards[0].id, at_m=(right + 2.0, 0.0))
    assert bounds(boarded) == bounds(build), "a board that was not put anywhere takes no room of its own"
    assert bounds(far)[2] > right + 2.0
    empty = bounds(Build())
    assert empty[2] > empty[0]
    assert all_places(Build()).shape == (0, 2)


@pytest.mark.parametrize(("span", "step"), [(7.2, 1), (14.4, 2), (0.9, 0.2), (100, 20), (0, 1)])
def test_the_ruler_steps_by_round_metres(span: float, step: float) -> None:
    assert metre_step(span) == pytest.approx(step)


boxes = st.tuples(*[st.floats(0, 50)] * 4).map(lambda b: (b[0], b[1], b[0] + b[2] + 0.1, b[1] + b[3] + 0.1))


@given(st.lists(boxes, max_size=8))
def test_kept_boxes_are_clear_of_each_other_and_a_left_out_one_lies_on_an_earlier(found: list) -> None:
    def on(one: tuple, other: tuple) -> bool:
        return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]

    kept: list[tuple] = []
    for box, free in zip(found, clear_of_each_other(found), strict=True):
        assert free != any(on(box, other) for other in kept)
        if free:
            kept.append(box)
