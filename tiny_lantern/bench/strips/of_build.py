"""A build's strips as the bench reads them: their pads by keys, patterns to send, and what a meter should say there."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.patterns import Pattern
from tiny_lantern.bench.strips.fault import StripFault
from tiny_lantern.bench.strips.fit import CURRENT, fit_names, number_of, planned_value, world_with
from tiny_lantern.bench.strips.plan import COLOURS, HALF, OFF, TEST, WHITE, Made, StripPlan, World
from tiny_lantern.bench.strips.probes import Reader, StripProbe
from tiny_lantern.bench.strips.ranking import strip_words
from tiny_lantern.bench.strips.solve import solved
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.ohms import fuse_of, wire_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.strip import PixelRun

Floats = NDArray[np.float64]
STRIPS, PAD = "strips ", "strip/"
PATTERNS = (OFF, WHITE, HALF, *COLOURS)
SENT_RGB = {OFF: (0, 0, 0), WHITE: (255, 255, 255), HALF: (128, 128, 128), "red": (255, 0, 0), "green": (0, 255, 0),
            "blue": (0, 0, 255)}  # fmt: skip
SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)
RAILS = {"pos": "+", "neg": "−"}
SPREAD = {CURRENT: 0.10, "rail_scale": 0.10}
WIRE_SHARE, SET_POINT = 0.10, 0.01


class StripsAtBench:
    """The strips of a build that are fed.

    Args:
        build: the build.

    Raises:
        LanternError: nothing is fed.
    """

    def __init__(self, build: Build) -> None:
        if not (build.strips and build.feeds):
            raise LanternError("no strip is fed", "strips", "a strip with a feed")
        self.build = build

    @cached_property
    def plan(self) -> StripPlan:
        """The strips, fully white."""
        ones = tuple(np.ones((strip.pixel_count, len(part_of(self.build, strip).pixel.channels)))
                     for strip in self.build.strips)  # fmt: skip
        orders = {strip.colour_order for strip in self.build.strips}
        order = next(iter(orders)) if len(orders) == 1 else ""
        set_order = order if sorted(order) == sorted("RGB") else ""
        return StripPlan(self.build, ones, None, set_order, tuple(self._made()))

    def _made(self) -> Iterator[Made | None]:
        for feed in self.build.feeds:
            fuse = fuse_of(self.build, feed)
            if feed.positive.measured_ohm is not None:
                yield None
            else:
                area_mm2 = wire_of(self.build, feed.positive).area_mm2
                yield Made(feed.positive.length_m, area_mm2, fuse.cold_ohm if fuse is not None else 0.0)

    def plan_in(self, pattern: str) -> StripPlan:
        """The strips with a pattern as the test.

        Args:
            pattern: its name among ``PATTERNS``.
        """
        plan = self.plan
        return StripPlan(plan.build, plan.pattern(pattern), plan.before, plan.set_order, plan.made)

    @cached_property
    def pads(self) -> Mapping[str, str]:
        """Pads where a probe can be put, by their keys: the ends of each strip and some pixels of it."""
        found = {}
        for strip in self.build.strips:
            for node in _nodes(strip):
                for rail, mark in RAILS.items():
                    found[pad(strip, node, rail)] = f"{strip.name}, {node_words(node)}, {mark} pad"
        return found

    def probe(self, kind: str, plus: str, minus: str, conductor: str, pattern: str) -> StripProbe:
        """A probe by pads and conductors.

        Args:
            kind: ``V`` or ``A``.
            plus: the key of the pad that the red probe is on.
            minus: the key of the pad or the terminal that the black one is on.
            conductor: the key of a feed's conductor, or the id of a supply.
            pattern: what is sent, by its name.

        Raises:
            KeyError: there is no such place, or nothing to be read so.
        """
        if kind == "A":
            return self._current(conductor, pattern)
        strip, node, rail = self._pad(plus)
        if minus.startswith(PAD):
            other_strip, other, other_rail = self._pad(minus)
            if (other_strip, other) == (strip, node) and (rail, other_rail) == ("pos", "neg") and isinstance(node, int):
                return StripProbe("pixel_V", run=strip, pixel=node, pattern=pattern)
            if other_strip == strip and rail == other_rail and isinstance(node, int) and isinstance(other, int):
                return StripProbe("rail_drop_V", run=strip, rail=rail, start=node, stop=other, pattern=pattern)
            raise KeyError(minus)
        return StripProbe("node_V", run=strip, rail=rail, node=node, pattern=pattern)

    def _current(self, conductor: str, pattern: str) -> StripProbe:
        supplies = [supply.id for supply in self.build.supplies]
        if conductor in supplies:
            return StripProbe("supply_A", supply=supplies.index(conductor), pattern=pattern)
        head, feed_id, side = conductor.split("/")
        numbers = {feed.id: at for at, feed in enumerate(self.build.feeds)}
        if head != "feed":
            raise KeyError(conductor)
        return StripProbe("feed_A", feed=numbers[feed_id], conductor="pos" if side == "out" else "neg", pattern=pattern)

    def _pad(self, key: str) -> tuple[int, int | str, str]:
        """A pad's strip by its number, its node, and its rail."""
        if not key.startswith(PAD):
            raise KeyError(key)
        strip_id, node, rail = key.removeprefix(PAD).rsplit("/", 2)
        number = next((at for at, strip in enumerate(self.build.strips) if strip.id == strip_id), None)
        if number is None or rail not in RAILS:
            raise KeyError(key)
        at: int | str = int(node) if node.isdigit() else node
        if isinstance(at, int) and at >= self.build.strips[number].pixel_count:
            raise KeyError(key)
        return number, at, rail

    def expected(self, probe: StripProbe) -> tuple[float, float]:
        """What a meter should say, and how far it may lie off by what parts may differ. [V] or [A]

        Args:
            probe: where it is put.
        """
        value = self._read(World(self.plan.network), probe)
        off = [self._read(world_with(self.plan, {name: other}), probe) - value for name, other in self._spread()]
        return value, float(np.sqrt(np.sum(np.square(off))))

    def _spread(self) -> Iterator[tuple[str, float]]:
        """Parameters at the edge of their spread."""
        yield from ((name, 1 + share) for name, share in SPREAD.items())
        for name in fit_names(self.plan):
            planned = planned_value(self.plan, name)
            if name.endswith("_V"):
                yield name, planned * (1 + SET_POINT)
            elif name.endswith("_ohm"):
                feed = self.plan.network.feeds[number_of(name)]
                yield name, WIRE_SHARE * (feed.pos_ohm + feed.neg_ohm)

    def _read(self, world: World, probe: StripProbe) -> float:
        point = solved(world, self.plan, self.plan.pattern(probe.pattern), None, probe.pattern == TEST)
        return Reader(self.plan, world, world.network, point.node_v).read(probe)

    def words(self, fault: StripFault) -> str:
        """A fault in a sentence.

        Args:
            fault: the fault.
        """
        return strip_words(self.plan, fault)


def pad(strip: PixelRun, node: int | str, rail: str) -> str:
    """The key of a pad.

    Args:
        strip: its strip.
        node: ``start``, ``end`` or the number of a pixel.
        rail: ``pos`` or ``neg``.
    """
    return f"{PAD}{strip.id}/{node}/{rail}"


def node_words(node: int | str) -> str:
    """A place of a strip in words.

    Args:
        node: ``start``, ``end`` or the number of a pixel.
    """
    return f"pixel {node}" if isinstance(node, int) else str(node)


def _nodes(strip: PixelRun) -> list[int | str]:
    count = strip.pixel_count
    pixels = dict.fromkeys(min(int(share * count), count - 1) for share in SHARES)
    return ["start", *pixels, "end"]


def strip_patterns() -> tuple[Pattern, ...]:
    """The patterns of strips as they are offered beside those of lamps, which stay dark in them."""
    return tuple(Pattern(f"{STRIPS}{name}", f"strips {name}", frozenset()) for name in PATTERNS)


def strips_frame(build: Build, name: str) -> NDArray[np.uint8]:
    """What every light is sent in a pattern of strips: lamps dark, all pixels alike. (n_slots, 3)

    Args:
        build: the build.
        name: the pattern's name.
    """
    found = np.zeros((build.line.slot_count, 3), np.uint8)
    for span in build.line.runs:
        found[span.first : span.stop] = np.array(SENT_RGB[name], np.uint8)
    return found


def pattern_name(key: str) -> str | None:
    """What a pattern of strips sends; None of one that is of lamps.

    Args:
        key: the pattern's key.
    """
    name = key.removeprefix(STRIPS)
    return name if key.startswith(STRIPS) and name in PATTERNS else None
