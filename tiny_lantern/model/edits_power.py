"""Edits of supplies and feeds."""

from __future__ import annotations

from typing import Any, Literal

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build, Conductor, Feed, Load, LoadCase, OnStrip, Supply
from tiny_lantern.model.edits import fresh_id, item, replaced, with_part, without, without_all
from tiny_lantern.model.edits_sources import with_sources
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.connector import ConnectorPart
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart


def add_supply(build: Build, part: SupplyPart, name: str = "") -> Build:
    """Add a supply of a part, set to its nominal voltage; what had no source of that voltage hangs on it."""
    build = with_part(build, part)
    title = name or f"Supply {len(build.supplies) + 1}"
    supply = made(Supply, id=fresh_id(build, title), name=title, part_id=part.id, set_v=part.nominal_v, x_m=-1.0)
    return with_sources(revise(build, supplies=(*build.supplies, supply)))


def change_supply(build: Build, supply_id: str, **changes: Any) -> Build:
    """Change fields of a supply; what had no source of its voltage hangs on it."""
    supply = item(build.supplies, supply_id, "supply")
    new = revise(build, supplies=replaced(build.supplies, supply_id, revise(supply, **changes)))
    return with_sources(new) if "set_v" in changes else new


def set_all(build: Build, supply_ids: tuple[str, ...], set_v: float) -> Build:
    """Set several supplies to one voltage.

    Args:
        build: the build.
        supply_ids: the supplies.
        set_v: what they are set to. [V]
    """
    for supply_id in supply_ids:
        build = change_supply(build, supply_id, set_v=set_v)
    return build


def change_supply_part(build: Build, supply_id: str, part: SupplyPart) -> Build:
    """Make a supply of another part; a set-point at the old nominal voltage follows to the new one."""
    supply = item(build.supplies, supply_id, "supply")
    old = item(build.shelf.of(SupplyPart), supply.part_id, "supply part")
    set_v = part.nominal_v if supply.set_v == old.nominal_v else supply.set_v
    return change_supply(with_part(build, part), supply_id, part_id=part.id, set_v=set_v)


def remove_supply(build: Build, supply_id: str) -> Build:
    """Remove a supply with its feeds and rails; a box that held it holds it no more, and what hung on it hangs on
    another source of its voltage where there is one."""
    item(build.supplies, supply_id, "supply")
    return with_sources(without_all(build, supply_id))


def add_feed(
    build: Build, supply_id: str, strip_id: str, position_m: float, wire: WirePart, length_m: float = 1.0,
    fuse: FusePart | None = None,
) -> Build:  # fmt: skip
    """Add a feed to a strip with both conductors of one wire.

    Args:
        build: the build.
        supply_id: where it comes from.
        strip_id: where it goes to.
        position_m: its place on the strip. [m]
        wire: the wire of both conductors.
        length_m: how long each is. [m]
        fuse: the fuse in the outgoing one, if any.
    """
    build = with_part(build, wire)
    if fuse is not None:
        build = with_part(build, fuse)
    lead = made(Conductor, wire_id=wire.id, length_m=length_m)
    feed = made(
        Feed,
        id=fresh_id(build, "feed"),
        supply_id=supply_id,
        attach=OnStrip(strip_id=strip_id, position_m=position_m),
        positive=lead,
        negative=lead,
        fuse_id=fuse.id if fuse else None,
    )
    return revise(build, feeds=(*build.feeds, feed))


def move_feed(build: Build, feed_id: str, position_m: float, strip_id: str | None = None) -> Build:
    """Move a feed along its strip, or to another one; past an end it stays at the end.

    Args:
        build: the build.
        feed_id: the feed.
        position_m: its new place. [m]
        strip_id: the strip to move it to; None for its own.

    Raises:
        LanternError: the feed is on a bus, whose ends do not move.
    """
    feed = item(build.feeds, feed_id, "feed")
    if not isinstance(feed.attach, OnStrip):
        raise LanternError("a feed on a bus stands at its end and does not move", f"feed “{feed_id}”", "a strip's feed")
    strip = build.line.strip(strip_id or feed.attach.strip_id)
    place = min(max(position_m, 0.0), strip.length_m)
    return change_feed(build, feed_id, attach=OnStrip(strip_id=strip.id, position_m=place))


def refeed(build: Build, strip_id: str, old_supply_id: str, supply_id: str) -> Build:
    """Take a strip's feeds from one supply to another."""
    item(build.supplies, supply_id, "supply")
    feeds = tuple(
        revise(feed, supply_id=supply_id)
        if isinstance(feed.attach, OnStrip) and (feed.attach.strip_id, feed.supply_id) == (strip_id, old_supply_id)
        else feed
        for feed in build.feeds
    )
    return revise(build, feeds=feeds)


def change_feed(build: Build, feed_id: str, **changes: Any) -> Build:
    """Change fields of a feed."""
    feed = item(build.feeds, feed_id, "feed")
    return revise(build, feeds=replaced(build.feeds, feed_id, revise(feed, **changes)))


def set_fuse(build: Build, feed_id: str, fuse: FusePart | None) -> Build:
    """Fit a fuse to a feed, or take it out."""
    build = with_part(build, fuse) if fuse else build
    return change_feed(build, feed_id, fuse_id=fuse.id if fuse else None)


def set_wires(build: Build, feed_id: str, out: WirePart, back: WirePart) -> Build:
    """Give each conductor of a feed its own wire; lengths and connectors stay, measured values go."""
    feed = item(build.feeds, feed_id, "feed")
    build = with_part(with_part(build, out), back)
    return change_feed(
        build,
        feed_id,
        positive=revise(feed.positive, wire_id=out.id, measured_ohm=None),
        negative=revise(feed.negative, wire_id=back.id, measured_ohm=None),
    )


def set_wire(build: Build, feed_id: str, wire: WirePart) -> Build:
    """Make both conductors of a feed of one wire; lengths and connectors stay, measured values go."""
    return set_wires(build, feed_id, wire, wire)


def set_lengths(build: Build, feed_id: str, out_m: float, back_m: float) -> Build:
    """Give each conductor of a feed its own length.

    Args:
        build: the build.
        feed_id: the feed.
        out_m: the outgoing conductor. [m]
        back_m: the return conductor. [m]
    """
    feed = item(build.feeds, feed_id, "feed")
    positive, negative = revise(feed.positive, length_m=out_m), revise(feed.negative, length_m=back_m)
    return change_feed(build, feed_id, positive=positive, negative=negative)


def set_length(build: Build, feed_id: str, length_m: float) -> Build:
    """Give both conductors of a feed one length.

    Args:
        build: the build.
        feed_id: the feed.
        length_m: of each conductor. [m]
    """
    return set_lengths(build, feed_id, length_m, length_m)


def set_connector(build: Build, feed_id: str, connector: ConnectorPart | None) -> Build:
    """Put one kind of connector into both conductors of a feed, or none."""
    feed = item(build.feeds, feed_id, "feed")
    build = with_part(build, connector) if connector else build
    identity = connector.id if connector else None
    positive, negative = (revise(side, connector_id=identity) for side in (feed.positive, feed.negative))
    return change_feed(build, feed_id, positive=positive, negative=negative)


def set_measured(build: Build, feed_id: str, side: Literal["positive", "negative"], ohm: float | None) -> Build:
    """Take a conductor's whole resistance as it was measured, or work it out again when None."""
    feed = item(build.feeds, feed_id, "feed")
    return change_feed(build, feed_id, **{side: revise(getattr(feed, side), measured_ohm=ohm)})


def add_load_case(build: Build, name: str, load: Load) -> Build:
    """Keep a load under a name."""
    case = made(LoadCase, id=fresh_id(build, f"load-{name}"), name=name, load=load)
    return revise(build, load_cases=(*build.load_cases, case))


def remove_feed(build: Build, feed_id: str) -> Build:
    """Remove a feed."""
    item(build.feeds, feed_id, "feed")
    return revise(build, feeds=without(build.feeds, feed_id))
