"""What must hold between the parts of a build: ids unique, references found, places on the copper."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import TYPE_CHECKING, NamedTuple

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts import StripPart, check_colour_order

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build, Conductor, Feed
from tiny_lantern.model.strip import Strip

LIST_FIELDS = ("strips", "joints", "buses", "supplies", "feeds", "approaches", "effects", "load_cases")
SHELF_FIELDS = ("strips", "supplies", "fuses", "connectors", "wires")


def check_references(build: Build) -> None:
    """Refuse a build whose pieces do not fit together, naming the place.

    Raises:
        LanternError: a duplicate id, a missing reference, or a place off its strip.
    """
    _ids_unique(build)
    strips = {strip.id: strip for strip in build.strips}
    parts = {part.id: part for part in build.parts.strips}
    for number, strip in enumerate(build.strips):
        _strip_fits(strip, parts, f"strips[{number}]")
    _joints_fit(build, strips)
    _buses_fit(build, strips)
    _found(build.supplies, "supplies", "part_id", _ids(build.parts.supplies))
    ends = FeedEnds(
        strips, *(_ids(items) for items in (build.buses, build.supplies)),
        *(_ids(items) for items in (build.parts.fuses, build.parts.wires, build.parts.connectors)),
    )  # fmt: skip
    for number, feed in enumerate(build.feeds):
        _feed_fits(feed, ends, f"feeds[{number}]")
    for number, approach in enumerate(build.approaches):
        where = f"approaches[{number}]"
        _known(approach.supply_id, ends.supplies, f"{where}.supply_id")
        _known(approach.strip_id, strips, f"{where}.strip_id")
    for number, effect in enumerate(build.effects):
        for end in ("first", "last"):
            ref = getattr(effect, end)
            where = f"effects[{number}].{end}"
            _known(ref.strip_id, strips, f"{where}.strip_id")
            _pixel_on(ref.pixel, strips[ref.strip_id], f"{where}.pixel")


def all_ids(build: Build) -> Iterator[tuple[str, str]]:
    """Every id in the build with its path."""
    for field in SHELF_FIELDS:
        for number, part in enumerate(getattr(build.parts, field)):
            yield part.id, f"parts.{field}[{number}].id"
    for field in LIST_FIELDS:
        for number, item in enumerate(getattr(build, field)):
            yield item.id, f"{field}[{number}].id"


def _ids_unique(build: Build) -> None:
    seen: dict[str, str] = {}
    for identity, where in all_ids(build):
        if identity in seen:
            raise LanternError(f"the id “{identity}” is already used at {seen[identity]}", where, "an id of its own")
        seen[identity] = where


def _ids(items: Collection) -> set[str]:
    return {item.id for item in items}


def _known(identity: str, known: Collection[str], where: str) -> None:
    if identity not in known:
        offered = ", ".join(sorted(known)[:6]) or "nothing yet; add it first"
        raise LanternError(f"nothing here has the id “{identity}”", where, offered)


def _found(items: Collection, field: str, key: str, known: Collection[str]) -> None:
    for number, item in enumerate(items):
        _known(getattr(item, key), known, f"{field}[{number}].{key}")


def _pixel_on(pixel: int, strip: Strip, where: str) -> None:
    if not 0 <= pixel < strip.pixel_count:
        raise LanternError(
            f"pixel {pixel} is not on “{strip.name}”",
            where,
            f"a whole number from 0 to {strip.pixel_count - 1}",
        )


def _strip_fits(strip: Strip, parts: dict[str, StripPart], where: str) -> None:
    _known(strip.part_id, parts, f"{where}.part_id")
    part = parts[strip.part_id]
    try:
        check_colour_order(strip.colour_order, part)
    except ValueError as error:
        raise LanternError(str(error), f"{where}.colour_order", f"for example {part.colour_order}") from None
    if list(strip.cuts) != sorted({cut for cut in strip.cuts if 1 <= cut < strip.pixel_count}):
        accepted = f"rising whole numbers from 1 to {strip.pixel_count - 1}"
        raise LanternError("the cuts do not rise along the strip", f"{where}.cuts", accepted)


def _joints_fit(build: Build, strips: dict[str, Strip]) -> None:
    used: set[tuple[str, str]] = set()
    for number, joint in enumerate(build.joints):
        where = f"joints[{number}]"
        _known(joint.from_strip_id, strips, f"{where}.from_strip_id")
        _known(joint.to_strip_id, strips, f"{where}.to_strip_id")
        pair = (joint.from_strip_id, joint.to_strip_id)
        if pair in used:
            raise LanternError("these two strips are already joined", where, "one joint between two strips")
        used.add(pair)


def _buses_fit(build: Build, strips: dict[str, Strip]) -> None:
    for number, bus in enumerate(build.buses):
        where = f"buses[{number}]"
        _known(bus.strip_id, strips, f"{where}.strip_id")
        for tap in bus.tap_pixels:
            _pixel_on(tap, strips[bus.strip_id], f"{where}.tap_pixels")
        if list(bus.tap_pixels) != sorted(set(bus.tap_pixels)):
            raise LanternError("the taps do not rise along the strip", f"{where}.tap_pixels", "rising pixel numbers")


class FeedEnds(NamedTuple):
    """All that a feed may refer to, by id."""

    strips: dict[str, Strip]
    buses: set[str]
    supplies: set[str]
    fuses: set[str]
    wires: set[str]
    connectors: set[str]


def _feed_fits(feed: Feed, ends: FeedEnds, where: str) -> None:
    _known(feed.supply_id, ends.supplies, f"{where}.supply_id")
    if feed.fuse_id is not None:
        _known(feed.fuse_id, ends.fuses, f"{where}.fuse_id")
    _conductor_fits(feed.positive, ends, f"{where}.positive")
    _conductor_fits(feed.negative, ends, f"{where}.negative")
    if feed.attach.to == "bus":
        _known(feed.attach.bus_id, ends.buses, f"{where}.attach.bus_id")
        return
    _known(feed.attach.strip_id, ends.strips, f"{where}.attach.strip_id")
    strip = ends.strips[feed.attach.strip_id]
    if feed.attach.position_m > strip.length_m + 1e-6:
        raise LanternError(
            f"{feed.attach.position_m:g} m is past the end of “{strip.name}”",
            f"{where}.attach.position_m",
            f"0 to {strip.length_m:g} m",
        )


def _conductor_fits(conductor: Conductor, ends: FeedEnds, where: str) -> None:
    _known(conductor.wire_id, ends.wires, f"{where}.wire_id")
    if conductor.connector_id is not None:
        _known(conductor.connector_id, ends.connectors, f"{where}.connector_id")
