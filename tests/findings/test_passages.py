"""Verdicts on passages and boxes, from both sides of each limit."""

import math

import pytest

from tests.support.builds import one_strip
from tiny_lantern.electrical.room_behind import conductors_m, needed_diameter_m
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Finding
from tiny_lantern.findings.mends import with_mends
from tiny_lantern.findings.passages import fitting_box
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.model.edits_power import remove_supply
from tiny_lantern.model.edits_room import (
    add_box,
    add_passage,
    change_box,
    change_passage,
    feeds_through,
    move_room,
    remove_room,
)
from tiny_lantern.model.edits_route import set_route
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.room import Content
from tiny_lantern.model.store import dumps, loads


def _led(diameter_m: float, others: int = 0) -> Build:
    """A strip whose feed is led through a passage."""
    build = add_passage(one_strip(), 0.3, -0.2)
    hole = build.passages[0]
    build = set_route(build, build.feeds[0].id, [(0.3, -0.2)])
    return change_passage(build, hole.id, diameter_m=diameter_m, others=others, other_outer_m=0.002)


def _found(build: Build, code: str) -> list[Finding]:
    evidence = gather(build, FullWhite(), ())
    return [finding for finding in with_mends(evidence, check(evidence)) if finding.code == code]


def test_a_feed_led_through_a_passage_counts_two_conductors_and_others_besides() -> None:
    build = _led(0.02, others=3)
    outer = conductors_m(build, build.passages[0])
    assert len(outer) == 5
    assert outer[2:] == [0.002] * 3
    assert 0.0024 < outer[0] < 0.0032  # 1.5 mm² in half a millimetre of plastic
    assert list(feeds_through(build, build.passages[0])) == [build.feeds[0]]


@pytest.mark.parametrize(("count", "fill"), [(1, 0.53), (2, 0.31), (3, 0.40), (10, 0.40)])
def test_conductors_fill_what_they_may(count: int, fill: float) -> None:
    hole_m = needed_diameter_m([0.002] * count)
    assert count * math.pi / 4 * 0.002**2 == pytest.approx(fill * math.pi / 4 * hole_m**2)


def test_of_several_passages_the_small_one_is_told() -> None:
    build = add_passage(_led(0.1), 0.6, -0.4)
    small = build.passages[1]
    build = change_passage(build, small.id, diameter_m=0.003, others=3, other_outer_m=0.002)
    (found,) = _found(build, "passage")
    assert found.place.one("passages") == small.id


@pytest.mark.parametrize("others", [0, 4])
def test_a_passage_speaks_just_below_what_is_needed_and_its_mend_holds(others: int) -> None:
    needed_m = needed_diameter_m(conductors_m(_led(0.1, others), _led(0.1, others).passages[0]))
    assert _found(_led(needed_m + 1e-6, others), "passage") == []
    (found,) = _found(_led(needed_m - 0.001, others), "passage")
    assert "1.0 mm too little" in found.message
    assert found.fix is not None
    assert found.fix.edit is not None
    mended = found.fix.edit(_led(needed_m - 0.001, others))
    assert _found(mended, "passage") == []
    assert mended.passages[0].diameter_m < needed_m + 0.0006


def test_a_way_goes_along_with_its_passage_and_stays_without_it() -> None:
    build = _led(0.02)
    moved = move_room(build, build.passages[0].id, 0.5, 0.1)
    assert moved.feeds[0].route_m == ((0.5, 0.1),)
    assert len(conductors_m(moved, moved.passages[0])) == 2
    assert remove_room(moved, moved.passages[0].id).feeds == moved.feeds
    away = set_route(moved, moved.feeds[0].id, [])
    assert conductors_m(away, away.passages[0]) == []


def _boxed(*sizes_mm: float, things: tuple[tuple[float, float, float], ...] = ((60, 30, 15),)) -> Build:
    build = add_box(Build(), 0, 0)
    contents = tuple(Content(name=f"Board {n}", sizes_m=tuple(s / 1000 for s in each)) for n, each in enumerate(things))
    width, height, depth = (size / 1000 for size in sizes_mm)
    return change_box(build, build.boxes[0].id, width_m=width, height_m=height, depth_m=depth, contents=contents)


def test_a_box_speaks_when_a_thing_does_not_go_in_and_its_mend_holds() -> None:
    assert _found(_boxed(64, 34, 24), "box") == []
    assert _found(_boxed(34, 64, 24), "box") == [], "a board may lie either way"
    (found,) = _found(_boxed(63, 34, 24), "box")
    assert "Board 0 lacks 1.0 mm" in found.message
    assert found.fix is not None
    assert found.fix.edit is not None
    mended = found.fix.edit(_boxed(63, 34, 24)).boxes[0]
    assert mended.sizes_m == pytest.approx((0.064, 0.034, 0.024))


def test_a_box_speaks_when_it_is_too_full_and_its_mend_holds() -> None:
    """Six boards of 27 cm³ need 270 cm³."""
    six = ((60, 30, 15),) * 6
    assert _found(_boxed(90, 60, 50, things=six), "box") == []
    (found,) = _found(_boxed(90, 60, 49, things=six), "box")
    assert "61%" in found.message
    assert "5 cm³ too little" in found.message
    assert found.fix is not None
    assert found.fix.edit is not None
    assert _found(found.fix.edit(_boxed(90, 60, 49, things=six)), "box") == []


def test_a_fitting_box_never_shrinks() -> None:
    assert fitting_box((1.0, 1.0, 1.0), [(0.1, 0.1, 0.1)]) == (1.0, 1.0, 1.0)
    assert fitting_box((0.01, 1.0, 1.0), [(0.1, 0.1, 0.1)]) == (0.104, 1.0, 1.0)


def test_a_box_holds_the_supplies_that_are_there_and_lets_go_of_one_removed() -> None:
    build = add_box(one_strip(), 0, 0)
    assert build.boxes[0].supply_ids == ("supply",)
    assert add_box(build, 0, 0).boxes[1].supply_ids == ()
    assert remove_supply(build, "supply").boxes[0].supply_ids == ()
    assert len(remove_piece(build, "strip").boxes) == 1
    (found,) = _found(change_box(build, build.boxes[0].id, depth_m=0.02), "box")
    assert "Supply lacks" in found.message
    assert loads(dumps(build)) == build
    with pytest.raises(LanternError, match="nothing here has the id"):
        change_box(build, build.boxes[0].id, supply_ids=("nobody",))
