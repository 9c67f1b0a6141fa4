"""Small builds that tests share."""

from __future__ import annotations

import numpy as np
from hypothesis import strategies as st

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Conductor, Feed, OnStrip
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import remove_board
from tiny_lantern.model.edits_pieces import add_strip, toggle_cut
from tiny_lantern.model.edits_power import add_feed, add_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import LOOKS
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.ui.files import demo_build

IDEAL = WirePart(id="lead", name="test lead", area_mm2=1, ohm_per_m=0.0195, limit_a=100)


def part(identity: str):
    """A part on the shelf."""
    return next(found for found in shelf() if found.id == identity)


def one_strip(
    pixels: int = 60, part_id: str = "rgb-5v-60", feeds: tuple[float, ...] = (0.0,), supply: str = ""
) -> Build:
    """One strip on one supply, fed at shares of its length through a metre of 1.5 mm²."""
    strip = part(part_id)
    source = supply or {5: "mains-5v-20a", 12: "mains-12v-12a", 24: "mains-24v-14a"}[round(strip.nominal_v)]
    build = add_strip(Build(), strip, pixels, "Strip")
    build = add_supply(build, part(source), "Supply")
    for share in feeds:
        place = share * build.strips[0].length_m
        build = add_feed(build, "supply", "strip", place, part("mm2-1_5"), 1.0, part("fuse-10a"))
    return build


def white(build: Build) -> tuple[np.ndarray, ...]:
    """Every channel of every pixel fully on."""
    channels = {p.id: len(p.pixel.channels) for p in build.shelf.of(StripPart)}
    return tuple(np.ones((s.pixel_count, channels[s.part_id])) for s in build.strips)


def ideal_strip(pixels: int, feeds: tuple[float, ...], pixel_a: float = 0.012, rail: float = 0.08) -> Build:
    """A strip whose pixels draw one constant current, on leads and a supply of next to no resistance."""
    model = part("rgb-5v-60")
    red = model.pixel.channels[0]
    pixel = revise(model.pixel, quiescent_a=0.0, channels=(revise(red, full_current_a=pixel_a),))
    own = StripPart(
        **{**dict(model), "id": "one", "name": "one colour", "pixel": pixel, "colour_order": "R", "pitch_m": 1 / 60,
           "rail_pos_ohm_per_m": rail, "rail_neg_ohm_per_m": rail}
    )  # fmt: skip
    source = SupplyPart(id="ideal", name="ideal", source="bench", nominal_v=5, rated_a=100, output_ohm=0)
    build = add_supply(add_strip(Build(), own, pixels, "Strip"), source, "Supply")
    lead = Conductor(wire_id="lead", length_m=0, measured_ohm=1e-6)
    build = change_parts(build, IDEAL)
    places = tuple(share * build.strips[0].length_m for share in feeds)
    return revise(
        build,
        feeds=tuple(
            Feed(id=f"feed-{n}", supply_id="supply", attach=OnStrip(strip_id="strip", position_m=x), positive=lead,
                 negative=lead)
            for n, x in enumerate(places)
        ),
    )  # fmt: skip


@st.composite
def builds(draw: st.DrawFn) -> Build:
    """Any small build: a few strips of any part, cuts, supplies, feeds and effects."""
    build = Build(name=draw(st.sampled_from(["Pier", "Brücke", "蛍のマント", 'Ring "one"'])))
    for number in range(draw(st.integers(1, 3))):
        strip = draw(st.sampled_from(shelf().of(StripPart)))
        build = add_strip(build, strip, draw(st.integers(1, 40)), f"Strip {number}")
    build = add_supply(build, draw(st.sampled_from(shelf().of(SupplyPart))), "Supply")
    for strip in build.strips:
        for _ in range(draw(st.integers(1, 3))):
            place = draw(st.floats(0, 1)) * strip.length_m
            wire = draw(st.sampled_from(shelf().of(WirePart)))
            build = add_feed(build, "supply", strip.id, place, wire, draw(st.floats(0.1, 9)), None)
    first = build.strips[0]
    if first.pixel_count > 2 and draw(st.booleans()):
        build = toggle_cut(build, first.id, draw(st.integers(1, first.pixel_count - 1)))
        for place in (0.0, first.length_m):
            build = add_feed(build, "supply", first.id, place, draw(st.sampled_from(shelf().of(WirePart))), 1.0, None)
    slots = sum(strip.pixel_count for strip in build.strips)
    for look in draw(st.lists(st.sampled_from(LOOKS), max_size=3)):
        low, high = sorted((draw(st.integers(0, slots - 1)), draw(st.integers(0, slots - 1))))
        build = add_effect(build, look, low, high, draw(st.floats(0, 20)), draw(st.floats(0.1, 20)))
    return build


def bridge() -> Build:
    """The footbridge that ships, without its board: nothing but strips draws from its supply."""
    build = demo_build("footbridge")
    return revise(remove_board(build, build.boards[0].id), data=revise(build.data, shifted=False))
