"""Which fuse a current and a wire call for."""

from __future__ import annotations

from tiny_lantern.catalogue.shelf import all_parts, fuses_by_rating
from tiny_lantern.electrical.ohms import connector_of, wire_of
from tiny_lantern.electrical.supplies import full_current_a
from tiny_lantern.model.build import Build, Conductor, Feed
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import PixelRun

FUSE_SHARE = 0.75


def fuse_for(build: Build, current_a: float, at_most_a: float) -> FusePart | None:
    """The smallest fuse that carries a current within its share and is no larger than a limit. [A]

    Args:
        build: the build, whose own fuses count too.
        current_a: what the fuse carries. [A]
        at_most_a: the largest rating. [A]
    """
    for fuse in fuses_by_rating(all_parts(build)):
        if FUSE_SHARE * fuse.rating_a >= current_a - 1e-9 and fuse.rating_a <= at_most_a:
            return fuse
    return None


def first_fuse(build: Build, strip: PixelRun, wire: WirePart) -> FusePart:
    """The fuse for a strip's new feed: one that carries the whole strip, else the largest that the wire allows."""
    fuses = fuses_by_rating(all_parts(build))
    allowed = [fuse for fuse in fuses if fuse.rating_a <= wire.limit_a] or fuses[:1]
    return fuse_for(build, full_current_a(build, (strip,)), wire.limit_a) or allowed[-1]


def conductor_limit_a(build: Build, conductor: Conductor) -> float:
    """What the wire and the connector of one conductor of a feed may carry, the lesser of both. [A]"""
    connector = connector_of(build, conductor)
    return min(wire_of(build, conductor).limit_a, connector.limit_a if connector else float("inf"))


def feed_limit_a(build: Build, feed: Feed) -> float:
    """The largest fuse that the wires and connectors of a feed bear, out and back. [A]"""
    return min(conductor_limit_a(build, feed.positive), conductor_limit_a(build, feed.negative))
