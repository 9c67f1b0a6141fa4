"""Strips with their feeds, joints and buses."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from tiny_lantern.circuit.conductor import FEEDS, MANY, Conductor, End, InLine
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.rails import source_end
from tiny_lantern.electrical.fuses import conductor_limit_a
from tiny_lantern.electrical.ohms import bus_ohm, conductor_ohm, fuse_of, wire_of
from tiny_lantern.model.build import Build, Bus, Feed, Joint, OnStrip
from tiny_lantern.model.edits import item
from tiny_lantern.model.sources import source_of_supply


def feed_wires(build: Build) -> Iterator[Wired]:
    """Every feed's two conductors, from its supply to its place; then what joins strips, and buses beside them.

    Args:
        build: the build.
    """
    for feed in build.feeds:
        yield from _of_feed(build, feed)
    for joint in build.joints:
        yield from _of_joint(build, joint)
    for bus in build.buses:
        yield from _of_bus(build, bus)


def _of_feed(build: Build, feed: Feed) -> Iterator[Conductor]:
    source = source_of_supply(item(build.supplies, feed.supply_id, "supply"))
    letter, fuse = build.feed_letters[feed.id], fuse_of(build, feed)
    for side, mark, conductor in (("out", "+", feed.positive), ("back", "−", feed.negative)):
        fused = fuse if side == "out" else None
        named = (InLine(f"feed {letter}"),)
        if fused is not None:
            named = (InLine(f"{fused.name}, feed {letter}", fuse_a=fused.rating_a),)
        yield Conductor(
            f"feed/{feed.id}/{side}", FEEDS, source_end(build, source, "+" if side == "out" else "0 V"),
            _fed_end(build, feed, mark), named, "feeds", gauge=wire_of(build, conductor).name, cut_m=conductor.length_m,
            told_ohm=conductor_ohm(build, conductor, fused), limit_a=conductor_limit_a(build, conductor),
        )  # fmt: skip


def _fed_end(build: Build, feed: Feed, mark: str) -> End:
    """What a feed is soldered to: a place of a strip, or an end of a bus."""
    attach = feed.attach
    if isinstance(attach, OnStrip):
        strip, place = build.line.strip(attach.strip_id), f"at {attach.position_m:.3f} m"
        return End(strip.name, mark, place, of=f"{strip.id} {place}")
    bus = item(build.buses, attach.bus_id, "bus")
    return _bus_end(build, bus, mark, attach.end)


def _bus_end(build: Build, bus: Bus, mark: str, place: str) -> End:
    """A place of a bus: its ends, and where it is tied to its strip."""
    name = f"Bus of {build.line.strip(bus.strip_id).name}"
    return End(name, f"{mark} at {place}", of=f"{bus.id} {place}", takes=MANY)


def _of_joint(build: Build, joint: Joint) -> Iterator[Conductor]:
    """From the end of a strip to the start of the next, both rails."""
    one, other = (build.line.strip(each) for each in (joint.from_strip_id, joint.to_strip_id))
    for name, mark, ohm in (("plus", "+", joint.pos_ohm), ("minus", "−", joint.neg_ohm)):
        yield Conductor(
            f"joint/{joint.id}/{name}", FEEDS, End(one.name, f"{mark} at its end", of=f"{one.id} end"),
            End(other.name, f"{mark} at its start", of=f"{other.id} start"), (), "feeds", gauge="", cut_m=0.0,
            told_ohm=ohm, limit_a=joint.limit_a,
        )  # fmt: skip


def _of_bus(build: Build, bus: Bus) -> Iterator[Conductor]:
    """Two conductors beside a strip, from each tap to the next, and the two of each tap."""
    strip = build.line.strip(bus.strip_id)
    ways_ohm = bus_ohm(bus, strip)
    names = ["start", *(f"pixel {tap}" for tap in bus.tap_pixels), "end"]
    ends_m = [0.0, *((tap + 0.5) * strip.pitch_m for tap in bus.tap_pixels), strip.length_m]
    taps = zip(("plus", "minus"), ("+", "−"), ways_ohm, (bus.tap_pos_ohm, bus.tap_neg_ohm), strict=True)
    for name, mark, own_ohm, tap_ohm in taps:
        at = [_bus_end(build, bus, mark, place) for place in names]
        for number, (here, there) in enumerate(pairwise(at)):
            yield Conductor(
                f"bus/{bus.id}/{name}/{number}", FEEDS, here, there, (), "feeds", gauge="",
                cut_m=ends_m[number + 1] - ends_m[number], told_ohm=float(own_ohm[number]), limit_a=bus.limit_a,
            )  # fmt: skip
        for tap, end in zip(bus.tap_pixels, at[1:-1], strict=True):
            yield Conductor(
                f"bus/{bus.id}/{name}/tap{tap}", FEEDS, end, End(strip.name, f"{mark} at pixel {tap}",
                of=f"{strip.id} pixel {tap}"), (), "feeds", gauge="", cut_m=0.0, told_ohm=tap_ohm,
                limit_a=bus.tap_limit_a,
            )  # fmt: skip
