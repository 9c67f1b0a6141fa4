"""What a supply may deliver for long, and which supplies meet on one copper."""

from __future__ import annotations

from tiny_lantern.electrical.network import snap_node
from tiny_lantern.electrical.reach import zone_of_node
from tiny_lantern.model.build import Build, OnBus, Supply
from tiny_lantern.model.line import find_strip

Piece = tuple[str, str, int]
OPEN_SHARE = 0.8
SEALED_SHARE = 0.6


def allowed_share(supply: Supply) -> float:
    """Part of its rating that a supply may give for long: less in a sealed box or above 40 °C. [-]"""
    return SEALED_SHARE if supply.sealed else OPEN_SHARE


def meeting_supplies(build: Build) -> list[tuple[str, ...]]:
    """Groups of two or more supplies whose positives meet on one piece of copper, by id."""
    copper: dict[Piece, set[str]] = {}
    for feed in build.feeds:
        copper.setdefault(_piece(build, feed.attach), set()).add(feed.supply_id)
    for joint in build.joints:
        last = len(find_strip(build, joint.from_strip_id).cuts)
        _merge(copper, ("strip", joint.from_strip_id, last), ("strip", joint.to_strip_id, 0))
    for bus in build.buses:
        strip = find_strip(build, bus.strip_id)
        for tap in bus.tap_pixels:
            _merge(copper, ("bus", bus.id, 0), ("strip", strip.id, zone_of_node(strip, tap + 1)))
    groups = {tuple(sorted(group)) for group in copper.values() if len(group) > 1}
    return sorted(groups)


def _piece(build: Build, attach: object) -> Piece:
    if isinstance(attach, OnBus):
        return ("bus", attach.bus_id, 0)
    strip = find_strip(build, attach.strip_id)  # type: ignore[attr-defined]
    return ("strip", strip.id, zone_of_node(strip, snap_node(strip, attach.position_m)))  # type: ignore[attr-defined]


def _merge(copper: dict[Piece, set[str]], one: tuple[str, str, int], other: tuple[str, str, int]) -> None:
    group = copper.setdefault(one, set())
    theirs = copper.setdefault(other, set())
    group |= theirs
    for piece, members in list(copper.items()):
        if members is theirs:
            copper[piece] = group
