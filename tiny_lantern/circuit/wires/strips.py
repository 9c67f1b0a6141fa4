"""Strips with their feeds, joints and buses."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.conductor import FEEDS, Conductor, End, InLine
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.rails import source_end
from tiny_lantern.electrical.ohms import conductor_ohm, fuse_of, wire_of
from tiny_lantern.model.build import Build, Feed, OnStrip
from tiny_lantern.model.edits import item


def feed_wires(build: Build) -> Iterator[Wired]:
    """Every feed's two conductors, from its supply to its place.

    Args:
        build: the build.
    """
    for feed in build.feeds:
        yield from _of_feed(build, feed)


def _of_feed(build: Build, feed: Feed) -> Iterator[Conductor]:
    supply = item(build.supplies, feed.supply_id, "supply")
    letter, fuse = build.feed_letters[feed.id], fuse_of(build, feed)
    place = f"at {feed.attach.position_m:.3f} m" if isinstance(feed.attach, OnStrip) else "bus"
    on = build.line.strip(feed.attach.strip_id).name if isinstance(feed.attach, OnStrip) else "bus"
    of = feed.attach.strip_id if isinstance(feed.attach, OnStrip) else feed.attach.bus_id
    for side, terminal, conductor in (("out", "+", feed.positive), ("back", "−", feed.negative)):
        fused = fuse if side == "out" else None
        named = (InLine(f"{fused.name}, feed {letter}"),) if fused is not None else (InLine(f"feed {letter}"),)
        yield Conductor(
            f"feed/{feed.id}/{side}", FEEDS, source_end(build, supply, "+" if side == "out" else "0 V"),
            End(on, terminal, place, of=f"{of} {place}"), named, "feeds",
            gauge=wire_of(build, conductor).name, cut_m=conductor.length_m,
            told_ohm=conductor_ohm(build, conductor, fused),
        )  # fmt: skip
