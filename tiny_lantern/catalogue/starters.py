"""Small builds to start from: one strip, fed and lit."""

from __future__ import annotations

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_power import add_feed, add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.layouts import AlongArc, AlongPath, AroundRing, Layout
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart

KINDS: tuple[tuple[str, str, str, int, Layout, str, tuple[tuple[float, float], ...]], ...] = (
    ("A straight run", "rgb-5v-60", "mains-5v-10a", 60, AlongPath(points_m=((0.0, 0.0), (1.0, 0.0))),
     "fuse-5a", ((0.0, 1.0),)),
    ("An arch", "rgb-5v-30", "mains-5v-10a", 94, AlongArc(angle_deg=90, radius_m=1.0, rightward=True),
     "fuse-5a", ((0.0, 1.0),)),
    ("A ring", "rgb-5v-60", "mains-5v-10a", 120, AroundRing(), "fuse-7_5a", ((0.0, 1.0),)),
    ("A long path at 24 V", "rgb-24v-seg10", "mains-24v-6a", 70, AlongPath(points_m=((0, 0), (4, 0), (4, -3))),
     "fuse-4a", ((0.0, 1.0), (1.0, 8.0))),
)  # fmt: skip


def starter(kind: int) -> Build:
    """A small sound build of one strip, one supply, its feeds and one effect to start from.

    Args:
        kind: number of the kind in ``KINDS``: its title, strip, supply, pixels, layout, fuse, and for each feed the
            share of the strip it stands at [-] with the length of its wire [m].
    """
    title, strip_id, supply_id, pixels, layout, fuse_id, feeds = KINDS[kind]
    strip, supply = shelf().find(StripPart, strip_id), shelf().find(SupplyPart, supply_id)
    assert isinstance(strip, StripPart)
    assert isinstance(supply, SupplyPart)
    build = add_strip(Build(name=title), strip, pixels, "First strip")
    first = build.strips[0]
    build = change_strip(build, first.id, layout=layout)
    build = add_supply(build, supply, "Supply")
    wire = next(wire for wire in shelf().of(WirePart) if wire.id == "mm2-1_5")
    fuse = next(fuse for fuse in shelf().of(FusePart) if fuse.id == fuse_id)
    for share, length_m in feeds:
        build = add_feed(build, build.supplies[0].id, first.id, share * first.length_m, wire, length_m, fuse)
    return add_effect(build, look_of("breathe"), 0, pixels - 1, 0.0, build.show_s)
