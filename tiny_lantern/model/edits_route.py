"""The way a feed's wires take in the picture, with corners: it sets how long they are."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits import item, replaced
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.handles import Handle
from tiny_lantern.model.layout import places_along

Point = tuple[float, float]
MOST_CORNERS = 50


def route_points(build: Build, feed: Feed) -> list[Point]:
    """From the supply by the corners to where the feed meets its strip. [m]

    Raises:
        LanternError: the feed is on a bus, which has no place in the picture.
    """
    if not isinstance(feed.attach, OnStrip):
        raise LanternError("a feed on a bus has no place in the picture", "route", "a feed on a strip")
    supply = item(build.supplies, feed.supply_id, "supply")
    strip = build.line.strip(feed.attach.strip_id)
    x, y = places_along(strip, np.array([feed.attach.position_m]))[0]
    return [(supply.x_m, supply.y_m), *(feed.route_m or ()), (float(x), float(y))]


def route_length_m(points: Sequence[Point]) -> float:
    """How long a way is, in whole millimetres. [m]

    Args:
        points: its corners and ends, in order. [m]
    """
    return round(sum(math.dist(one, other) for one, other in pairwise(points)), 3)


def set_route(build: Build, feed_id: str, corners: Sequence[Point]) -> Build:
    """Lead a feed's wires by some corners; both conductors become as long as the way.

    Raises:
        LanternError: the feed is on a bus, or there are too many corners.
    """
    feed = item(build.feeds, feed_id, "feed")
    laid = revise(feed, route_m=tuple((round(x, 4), round(y, 4)) for x, y in corners))
    length_m = route_length_m(route_points(build, laid))
    both = {side: revise(getattr(laid, side), length_m=length_m) for side in ("positive", "negative")}
    return revise(build, feeds=replaced(build.feeds, feed_id, revise(laid, **both)))


def forget_route(build: Build, feed_id: str) -> Build:
    """Let a feed's wires be as long as is typed again."""
    feed = item(build.feeds, feed_id, "feed")
    return revise(build, feeds=replaced(build.feeds, feed_id, revise(feed, route_m=None)))


def follow_routes(build: Build) -> Build:
    """The build with every routed feed's wires as long as their ways are now, after something was moved."""
    for feed in build.feeds:
        if feed.route_m is not None and feed.positive.length_m != route_length_m(route_points(build, feed)):
            build = set_route(build, feed.id, feed.route_m)
    return build


def route_handles(build: Build, feed: Feed) -> tuple[Handle, ...]:
    """What a feed's way can be taken hold of by: its corners, and the middle of each leg, which becomes a corner."""
    if not isinstance(feed.attach, OnStrip):
        return ()
    points = route_points(build, feed)
    corners = [Handle("via", number, x, y) for number, (x, y) in enumerate(feed.route_m or ())]
    middles = [
        Handle("between", number, (one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
        for number, (one, other) in enumerate(pairwise(points))
    ]
    return (*corners, *middles)


def bent(build: Build, feed_id: str, handle: Handle, to: Point) -> Build:
    """The build with a corner of a feed's way dragged to a point, or a new corner made there. [m]

    Raises:
        LanternError: there would be too many corners.
    """
    corners = list(item(build.feeds, feed_id, "feed").route_m or ())
    if handle.role == "between":
        corners.insert(handle.number, to)
    else:
        corners[handle.number] = to
    return set_route(build, feed_id, corners)


def without_corner(build: Build, feed_id: str, number: int) -> Build:
    """A feed's way with one corner fewer, counted from 0."""
    corners = list(item(build.feeds, feed_id, "feed").route_m or ())
    del corners[number]
    return set_route(build, feed_id, corners)
