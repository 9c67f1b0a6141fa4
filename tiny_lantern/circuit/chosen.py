"""Wires and fuses that a person chooses for conductors: of feeds the feeds' own, all others by the conductor's key."""

from __future__ import annotations

from tiny_lantern.circuit.conductor import Conductor
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_power import set_fuse, set_wires
from tiny_lantern.model.edits_wiring import choose_wire
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart


def chosen_for(build: Build, row: Conductor) -> tuple[str | None, str | None]:
    """The wire and the fuse that a person chose for a conductor, by their ids; None where the program chooses.

    Args:
        build: the build.
        row: the conductor.
    """
    feed_id = _feed_of(build, row)
    if feed_id is not None:
        feed = item(build.feeds, feed_id, "feed")
        return feed.positive.wire_id, feed.fuse_id
    own = next((each for each in build.wires if each.key == row.key), None)
    return (own.wire_id, own.fuse_id) if own is not None else (None, None)


def with_wire(build: Build, rows: tuple[Conductor, ...], wire: WirePart | None) -> Build:
    """The build with a wire for some conductors; those of feeds out and back.

    Args:
        build: the build.
        rows: the conductors.
        wire: the wire; None where the program is to choose it again.
    """
    for row in rows:
        feed = _feed_of(build, row)
        if feed is None:
            _, fuse_id = chosen_for(build, row)
            build = choose_wire(build, row.key, wire, build.shelf.find(FusePart, fuse_id) if fuse_id else None)
        elif wire is not None:
            build = set_wires(build, feed, wire, wire)
    return build


def with_fuse(build: Build, rows: tuple[Conductor, ...], fuse: FusePart | None) -> Build:
    """The build with a fuse in some conductors.

    Args:
        build: the build.
        rows: the conductors.
        fuse: the fuse; None where the program is to choose it again, or a feed is to have none.
    """
    for row in rows:
        feed = _feed_of(build, row)
        if feed is None:
            wire_id, _ = chosen_for(build, row)
            build = choose_wire(build, row.key, build.shelf.find(WirePart, wire_id) if wire_id else None, fuse)
        else:
            build = set_fuse(build, feed, fuse)
    return build


def _feed_of(build: Build, row: Conductor) -> str | None:
    """The id of the feed whose conductor it is."""
    return next((feed.id for feed in build.feeds if row.key.startswith(f"feed/{feed.id}/")), None)
