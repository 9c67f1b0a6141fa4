"""Edits of passages and boxes: the room behind the lights."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, without
from tiny_lantern.model.edits_route import route_points
from tiny_lantern.model.room import Box, Passage, Room


def add_passage(build: Build, x_m: float, y_m: float) -> Build:
    """A hole for wires at a point of the picture.

    Args:
        build: the build.
        x_m: from the left. [m]
        y_m: up. [m]
    """
    name = _name("Passage", build.passages)
    hole = made(Passage, id=fresh_id(build, name), name=name, x_m=round(x_m, 4), y_m=round(y_m, 4))
    return revise(build, passages=(*build.passages, hole))


def add_box(build: Build, x_m: float, y_m: float) -> Build:
    """A box with its middle at a point of the picture; a first one holds the supplies that are there.

    Args:
        build: the build.
        x_m: from the left. [m]
        y_m: up. [m]
    """
    name = _name("Box", build.boxes)
    held = {each for box in build.boxes for each in box.supply_ids}
    free = tuple(supply.id for supply in build.supplies if supply.id not in held)
    box = made(Box, id=fresh_id(build, name), name=name, x_m=round(x_m, 4), y_m=round(y_m, 4), supply_ids=free)
    return revise(build, boxes=(*build.boxes, box))


def change_passage(build: Build, passage_id: str, **changes: Any) -> Build:
    """Change fields of a passage."""
    old = item(build.passages, passage_id, "passage")
    return revise(build, passages=replaced(build.passages, passage_id, revise(old, **changes)))


def change_box(build: Build, box_id: str, **changes: Any) -> Build:
    """Change fields of a box."""
    old = item(build.boxes, box_id, "box")
    return revise(build, boxes=replaced(build.boxes, box_id, revise(old, **changes)))


def move_room(build: Build, identity: str, x_m: float, y_m: float) -> Build:
    """Put a passage or a box elsewhere; ways that bend in a passage bend there still.

    Args:
        build: the build.
        identity: its id.
        x_m: from the left. [m]
        y_m: up. [m]
    """
    x_m, y_m = round(x_m, 4), round(y_m, 4)
    if all(hole.id != identity for hole in build.passages):
        return change_box(build, identity, x_m=x_m, y_m=y_m)
    old = item(build.passages, identity, "passage")
    feeds = tuple(_led_along(feed, old, x_m, y_m) for feed in build.feeds)
    return change_passage(revise(build, feeds=feeds), identity, x_m=x_m, y_m=y_m)


def _led_along(feed: Feed, hole: Passage, x_m: float, y_m: float) -> Feed:
    """A feed whose corners in a passage go along with it."""
    corners = feed.route_m or ()
    if not any(hole.holds_point(*corner) for corner in corners):
        return feed
    return revise(feed, route_m=tuple((x_m, y_m) if hole.holds_point(*corner) else corner for corner in corners))


def remove_room(build: Build, identity: str) -> Build:
    """Take a passage or a box away; what went through it or sat in it stays."""
    return revise(build, passages=without(build.passages, identity), boxes=without(build.boxes, identity))


def rooms(build: Build) -> tuple[Room, ...]:
    """Every passage and box."""
    return (*build.passages, *build.boxes)


def feeds_through(build: Build, passage: Passage) -> Iterator[Feed]:
    """The feeds whose way in the picture leads through a passage."""
    for feed in build.feeds:
        if isinstance(feed.attach, OnStrip) and any(passage.holds_point(*point) for point in route_points(build, feed)):
            yield feed


def _name(word: str, others: tuple[Passage, ...] | tuple[Box, ...]) -> str:
    taken = {other.name for other in others}
    return word if word not in taken else numbered_name(word, taken)
