"""The way of a feed's wires sets how long they are."""

import pytest

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_layout import shift_pieces
from tiny_lantern.model.edits_power import change_supply
from tiny_lantern.model.edits_route import bent, follow_routes, forget_route, route_handles, set_route, without_corner
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import Handle
from tiny_lantern.model.store import dumps, loads


def routed(*corners: tuple[float, float]) -> Build:
    """A strip from (0, 0), fed at its start from a supply at (0, 3), its wires led by some corners."""
    return set_route(change_supply(one_strip(60), "supply", x_m=0.0, y_m=3.0), "feed", corners)


def lengths(build: Build) -> tuple[float, float]:
    """Both conductors of the feed."""
    return build.feeds[0].positive.length_m, build.feeds[0].negative.length_m


def test_a_way_without_corners_is_straight_and_each_corner_makes_it_longer() -> None:
    assert lengths(routed()) == (3.0, 3.0)
    assert lengths(routed((4.0, 3.0), (4.0, 0.0))) == (11.0, 11.0)
    assert loads(dumps(routed((4.0, 3.0)))) == routed((4.0, 3.0))


def test_a_leg_that_is_dragged_becomes_a_corner_and_a_corner_can_go_again() -> None:
    build = routed()
    (middle,) = route_handles(build, build.feeds[0])
    assert (middle.role, middle.x_m, middle.y_m) == ("between", 0.0, 1.5)
    build = bent(build, "feed", middle, (2.0, 1.5))
    assert lengths(build) == (5.0, 5.0)
    roles = [handle.role for handle in route_handles(build, build.feeds[0])]
    assert roles == ["via", "between", "between"]
    build = bent(build, "feed", Handle("between", 1, 0, 0), (0.0, 1.0))
    assert build.feeds[0].route_m == ((2.0, 1.5), (0.0, 1.0))
    build = bent(build, "feed", Handle("via", 0, 0, 0), (0.0, 2.0))
    assert lengths(build) == (3.0, 3.0)
    assert without_corner(build, "feed", 0).feeds[0].route_m == ((0.0, 1.0),)


def test_wires_follow_when_an_end_of_their_way_is_moved_and_typed_ones_do_not() -> None:
    build = shift_pieces(routed(), ("strip",), 0.0, -1.0)
    assert lengths(build) == (3.0, 3.0)
    assert lengths(follow_routes(build)) == (4.0, 4.0)
    typed = forget_route(build, "feed")
    assert lengths(follow_routes(typed)) == (3.0, 3.0)


def test_a_way_of_too_many_corners_is_refused() -> None:
    with pytest.raises(LanternError):
        routed(*[(float(n), 1.0) for n in range(51)])
