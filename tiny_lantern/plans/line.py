"""A line: strips joined end to start, the supplies that may feed it, and where their wires come to it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from tiny_lantern.electrical.network import node_position_m, part_of, snap_node
from tiny_lantern.electrical.supplies import fitting_supply, suits
from tiny_lantern.model.build import Approach, Build, Feed, Joint, OnStrip, Supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.strip import PixelRun


@dataclass(frozen=True)
class Line:
    """Strips joined end to start, in order, with the joints between them."""

    strips: tuple[PixelRun, ...]
    joints: tuple[Joint, ...]

    @cached_property
    def ids(self) -> frozenset[str]:
        """The strips' ids."""
        return frozenset(strip.id for strip in self.strips)

    def start_m(self, strip_id: str) -> float:
        """Where a strip begins on the line. [m]"""
        place = 0.0
        for strip in self.strips:
            if strip.id == strip_id:
                return place
            place += strip.length_m
        raise KeyError(strip_id)


def line_of(build: Build, strip_id: str) -> Line:
    """The line that a strip is part of.

    Raises:
        LanternError: its strips are joined in a branch or a ring.
    """
    after: dict[str, list[Joint]] = {}
    before: dict[str, list[Joint]] = {}
    for joint in build.joints:
        after.setdefault(joint.from_strip_id, []).append(joint)
        before.setdefault(joint.to_strip_id, []).append(joint)
    first, seen = strip_id, {strip_id}
    while before.get(first):
        first = before[first][0].from_strip_id
        if first in seen:
            break
        seen.add(first)
    strips: list[PixelRun] = []
    joints: list[Joint] = []
    step = first
    members: set[str] = set()
    while True:
        if step in members or len(after.get(step, [])) > 1 or len(before.get(step, [])) > 1:
            raise LanternError(
                "these strips are joined in a branch or a ring, and places are searched on lines only",
                build.line.strip(step).name, "feeds placed by hand, or one joint opened",
            )  # fmt: skip
        members.add(step)
        strips.append(build.line.strip(step))
        onward = after.get(step)
        if not onward:
            return Line(tuple(strips), tuple(joints))
        joints.append(onward[0])
        step = onward[0].to_strip_id


def on_line(feed: Feed, line: Line) -> bool:
    """Whether a feed is soldered to a line."""
    return isinstance(feed.attach, OnStrip) and feed.attach.strip_id in line.ids


def supplies_of(build: Build, line: Line) -> tuple[Supply, ...]:
    """The supplies that may feed a line: those that do, or come to it; else the first that suits it.

    Raises:
        LanternError: none does.
    """
    named = {feed.supply_id for feed in build.feeds if on_line(feed, line)}
    named |= {approach.supply_id for approach in build.approaches if approach.strip_id in line.ids}
    part = part_of(build, line.strips[0])
    found = tuple(supply for supply in build.supplies if supply.id in named and suits(supply, part))
    if found:
        return found
    fitting = fitting_supply(build, part)
    if fitting is None:
        what = f"there is no supply of {part.nominal_v:g} V to feed this strip from"
        raise LanternError(what, line.strips[0].name, "one added in Power")
    return (fitting,)


def approaches_of(build: Build, line: Line, supplies: tuple[Supply, ...]) -> tuple[Approach, ...]:
    """Where each supply's wires come to a line: as the build says, else where its shortest feed is."""
    found: list[Approach] = []
    for supply in supplies:
        own = [a for a in build.approaches if a.supply_id == supply.id and a.strip_id in line.ids]
        found.append(own[0] if own else taken_approach(build, line, supply))
    return tuple(found)


def taken_approach(build: Build, line: Line, supply: Supply) -> Approach:
    """Where a supply's wires come to a line when the build does not say: where its shortest feed is.

    Its id is good for one that is put into no build.
    """
    identity = f"approach-{supply.id}"[:40]
    feeds = [feed for feed in build.feeds if feed.supply_id == supply.id and on_line(feed, line)]
    if not feeds:
        first = line.strips[0].id
        return Approach(id=identity, supply_id=supply.id, strip_id=first, position_m=0.0, standoff_m=1.0)
    feed = min(feeds, key=lambda feed: feed.positive.length_m)
    assert isinstance(feed.attach, OnStrip)
    strip = build.line.strip(feed.attach.strip_id)
    place = node_position_m(strip, snap_node(strip, feed.attach.position_m))
    return Approach(
        id=identity, supply_id=supply.id, strip_id=strip.id, position_m=round(place, 6),
        standoff_m=feed.positive.length_m,
    )  # fmt: skip
