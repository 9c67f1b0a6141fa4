"""What a supply may deliver for long, which strips it suits and reaches, and which supplies meet on one copper."""

from __future__ import annotations

from collections.abc import Iterable

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import part_of, snap_node, supply_part
from tiny_lantern.electrical.reach import zone_of_node
from tiny_lantern.model.build import Attach, Build, OnBus, Supply
from tiny_lantern.model.parts.strip import StripPart, nominal_currents_a
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.strip import PixelRun

Piece = tuple[str, str, int]
OPEN_SHARE = 0.8
SEALED_SHARE = 0.6
VOLTAGE_SHARE = 0.10
BENCH_MOST_V = 60.0


def allowed_share(supply: Supply) -> float:
    """Part of its rating that a supply may give for long: less in a sealed box or above 40 °C. [-]"""
    return SEALED_SHARE if supply.sealed else OPEN_SHARE


def bearable_v(part: StripPart) -> float:
    """The most that a strip is taken to bear, a tenth over its nominal voltage. [V]"""
    return (1 + VOLTAGE_SHARE) * part.nominal_v


def wanted_v(part: StripPart) -> float:
    """The least that a strip's supply is expected to be set to, a tenth under its nominal voltage. [V]"""
    return (1 - VOLTAGE_SHARE) * part.nominal_v


def suits(supply: Supply, part: StripPart) -> bool:
    """Whether a supply is set to a strip's nominal voltage, a tenth more or less."""
    return wanted_v(part) - 1e-9 <= supply.set_v <= bearable_v(part) + 1e-9


def can_be_set(build: Build, supply_id: str, set_v: float) -> bool:
    """Whether a supply's range allows a set-point: a bench unit's is free, a mains unit trims a tenth either way, a
    battery has its own voltage only.

    Args:
        build: the build.
        supply_id: the supply.
        set_v: the set-point. [V]
    """
    part = supply_part(build, supply_id)
    if part.source == "bench":
        return set_v <= BENCH_MOST_V
    trim = 0.0 if part.source == "battery" else VOLTAGE_SHARE
    return abs(set_v - part.nominal_v) <= trim * part.nominal_v + 1e-9


def fitting_supply(build: Build, part: StripPart, preferred_id: str | None = None) -> Supply | None:
    """The first supply that suits a strip's part, a preferred one before all others; None when there is none."""
    fitting = [supply for supply in build.supplies if suits(supply, part)]
    return next((supply for supply in fitting if supply.id == preferred_id), fitting[0] if fitting else None)


def full_current_a(build: Build, strips: Iterable[PixelRun]) -> float:
    """What strips draw when every channel has its nominal current. [A]"""
    parts = [(strip.pixel_count, part_of(build, strip)) for strip in strips]
    return sum(count * (sum(nominal_currents_a(part)) + part.pixel.quiescent_a) for count, part in parts)


def supply_for(nominal_v: float, needed_a: float, kind: str = "mains") -> SupplyPart | None:
    """The smallest supply on the shelf that may give a current for long, else the largest of that voltage.

    Args:
        nominal_v: its voltage. [V]
        needed_a: the current. [A]
        kind: ``mains``, ``battery`` or ``bench``.
    """
    offered = [part for part in shelf().of(SupplyPart) if part.nominal_v == nominal_v and part.source == kind]
    offered.sort(key=lambda part: part.rated_a)
    enough = [part for part in offered if OPEN_SHARE * part.rated_a >= needed_a]
    return next(iter(enough or offered[-1:]), None)


def suggested_supply(build: Build) -> SupplyPart:
    """The supply to add next: enough for the strips that no supply suits yet, else for the first strip's voltage."""
    unsuited = [strip for strip in build.strips if fitting_supply(build, part_of(build, strip)) is None]
    strips = unsuited or build.strips
    nominal_v = part_of(build, strips[0]).nominal_v if strips else 5.0
    alike = [strip for strip in strips if part_of(build, strip).nominal_v == nominal_v]
    return supply_for(nominal_v, full_current_a(build, alike)) or shelf().of(SupplyPart)[0]


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def reaching_supplies(build: Build) -> dict[str, tuple[str, ...]]:
    """The supplies, by id, that reach some positive copper of each strip, by id of the strip."""
    copper = _supplies_on_copper(build)
    return {
        strip.id: tuple(sorted(set().union(*(copper.get(("strip", strip.id, n), ()) for n in _zone_numbers(strip)))))
        for strip in build.strips
    }


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def meeting_supplies(build: Build) -> list[tuple[str, ...]]:
    """Groups of two or more supplies whose positives meet on one piece of copper, by id."""
    groups = {tuple(sorted(group)) for group in _supplies_on_copper(build).values() if len(group) > 1}
    return sorted(groups)


def _zone_numbers(strip: PixelRun) -> range:
    return range(len(strip.cuts) + 1)


def _supplies_on_copper(build: Build) -> dict[Piece, set[str]]:
    copper: dict[Piece, set[str]] = {}
    strips = {strip.id: strip for strip in build.strips}
    for feed in build.feeds:
        copper.setdefault(_piece(strips, feed.attach), set()).add(feed.supply_id)
    for joint in build.joints:
        last = len(build.line.strip(joint.from_strip_id).cuts)
        _merge(copper, ("strip", joint.from_strip_id, last), ("strip", joint.to_strip_id, 0))
    for bus in build.buses:
        strip = build.line.strip(bus.strip_id)
        for tap in bus.tap_pixels:
            _merge(copper, ("bus", bus.id, 0), ("strip", strip.id, zone_of_node(strip, tap + 1)))
    return copper


def _piece(strips: dict[str, PixelRun], attach: Attach) -> Piece:
    if isinstance(attach, OnBus):
        return ("bus", attach.bus_id, 0)
    strip = strips[attach.strip_id]
    return ("strip", strip.id, zone_of_node(strip, snap_node(strip, attach.position_m)))


def _merge(copper: dict[Piece, set[str]], one: tuple[str, str, int], other: tuple[str, str, int]) -> None:
    group = copper.setdefault(one, set())
    theirs = copper.setdefault(other, set())
    group |= theirs
    for piece, members in list(copper.items()):
        if members is theirs:
            copper[piece] = group
