"""First feeds for strips that nothing feeds: from a supply that suits them, or from a new one that is enough for
all."""

from __future__ import annotations

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.fuses import first_fuse
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.reach import Stranded, stranded
from tiny_lantern.electrical.supplies import fitting_supply, full_current_a, supply_for
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Conductor, Feed, OnStrip
from tiny_lantern.model.edits import fresh_id, with_part
from tiny_lantern.model.edits_power import add_supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import PixelRun

LEAD_M = 1.0
WIRE = "mm2-1_5"


def place_of(piece: Stranded) -> float:
    """Where a piece of copper is fed at first: a whole strip at its start, a zone in its middle. [m]"""
    return (piece.first_pixel + piece.stop_pixel) / 2 * piece.strip.pitch_m if piece.first_pixel else 0.0


def missing_supply(build: Build, strip: PixelRun) -> SupplyPart | None:
    """The supply to add for a strip that none suits, enough for all dark strips of its voltage."""
    part = part_of(build, strip)
    if fitting_supply(build, part) is not None:
        return None
    dark = {piece.strip.id: piece.strip for piece in stranded(build)}.values()
    alike = [other for other in dark if part_of(build, other).nominal_v == part.nominal_v]
    return supply_for(part.nominal_v, full_current_a(build, alike or (strip,)))


def feed_pieces(build: Build, pieces: tuple[tuple[str, float], ...]) -> Build:
    """Feeds at places on strips, each through a metre of 1.5 mm² with a fuse that carries the strip.

    Args:
        build: the build.
        pieces: of each feed its strip's id and place [m].

    Raises:
        LanternError: no supply suits a strip and none on the shelf has its voltage.
    """
    wire = next(wire for wire in shelf().of(WirePart) if wire.id == WIRE)
    build = with_part(build, wire)
    feeds: list[Feed] = []
    stem = fresh_id(build, "feed")
    lead = Conductor(wire_id=wire.id, length_m=LEAD_M)
    for strip_id, position_m in pieces:
        strip = build.line.strip(strip_id)
        part = part_of(build, strip)
        supply = fitting_supply(build, part)
        if supply is None:
            missing = missing_supply(build, strip)
            if missing is None:
                raise LanternError(f"no supply on the shelf has {part.nominal_v:g} V", strip.name, "one added in Power")
            build = add_supply(build, missing)
            supply = build.supplies[-1]
        fuse = first_fuse(build, strip, wire)
        build = with_part(build, fuse)
        feeds.append(
            Feed(
                id=stem if not feeds else f"{stem}-{len(feeds) + 1}", supply_id=supply.id,
                attach=OnStrip(strip_id=strip_id, position_m=position_m), positive=lead, negative=lead,
                fuse_id=fuse.id,
            )
        )  # fmt: skip
    taken = {feed.id for feed in build.feeds}
    named = [feed if feed.id not in taken else revise(feed, id=fresh_id(build, f"{feed.id}-of")) for feed in feeds]
    return revise(build, feeds=(*build.feeds, *named))


def feed_everything(build: Build) -> Build:
    """Every piece of positive copper that nothing feeds, fed."""
    pieces = tuple((p.strip.id, place_of(p)) for p in stranded(build) if p.side == "positive")
    return feed_pieces(build, pieces)
