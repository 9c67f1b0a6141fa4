"""Letters of feeds, which stand on labels by then: a feed keeps its own for good, a new one gets one that is free."""

from __future__ import annotations

from tiny_lantern.model.base import revise, same_members
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.line import letters


def keep_letters(before: Build, after: Build) -> Build:
    """A build after an edit in which every feed that was there has the letter that it had, and new ones follow in the
    order of the Line.

    Args:
        before: the build before the edit.
        after: the build after it.
    """
    if same_members(before.feeds, after.feeds) or all(feed.letter for feed in after.feeds):
        return after
    known = before.feed_letters
    had = {feed.id: feed.letter or known.get(feed.id, "") for feed in after.feeds}
    free = (letter for letter in letters() if letter not in had.values())
    for feed in _along_the_line(after):
        had[feed.id] = had[feed.id] or next(free)
    lettered = tuple(feed if feed.letter else revise(feed, letter=had[feed.id]) for feed in after.feeds)
    return revise(after, feeds=lettered)


def _along_the_line(build: Build) -> list[Feed]:
    """The feeds by the number of their strip and the place on it."""
    order = {strip.id: number for number, strip in enumerate(build.strips)}
    of_bus = {bus.id: order[bus.strip_id] for bus in build.buses}

    def place(feed: Feed) -> tuple[int, float]:
        attach = feed.attach
        if isinstance(attach, OnStrip):
            return order[attach.strip_id], attach.position_m
        return of_bus[attach.bus_id], 0.0 if attach.end == "start" else float("inf")

    return sorted(build.feeds, key=place)
