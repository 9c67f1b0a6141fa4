"""Whether every piece of copper can be fed: positive to a supply, return to the common negative."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import Network, network_of, snap_node
from tiny_lantern.model.build import Build, OnBus
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.strip import PixelRun

Piece = tuple[str, str, int]


@dataclass(frozen=True)
class Stranded:
    """A piece of copper that nothing reaches: which side of which strip, from which pixel to which."""

    strip: PixelRun
    side: str
    first_pixel: int
    stop_pixel: int

    @property
    def what(self) -> str:
        """The fault in words."""
        missing = "no feed" if self.side == "positive" else "no way back to the supply"
        if self.first_pixel == 0 and self.stop_pixel == self.strip.pixel_count:
            return f"“{self.strip.name}” has {missing}"
        return (
            f"“{self.strip.name}” pixels {self.first_pixel} to {self.stop_pixel - 1} have {missing} (the zone floats)"
        )


def zones(strip: PixelRun) -> list[tuple[int, int]]:
    """Pixel ranges between the cuts of the positive rail: first and the one after the last."""
    edges = [0, *strip.cuts, strip.pixel_count]
    return list(pairwise(edges))


def zone_of_node(strip: PixelRun, node: int) -> int:
    """Number of the zone that a rail node (0 start .. N + 1 end) belongs to."""
    pixel = min(max(node - 1, 0), strip.pixel_count - 1)
    return sum(1 for cut in strip.cuts if pixel >= cut)


@memoised_on("strips", "joints", "buses", "feeds")
def stranded(build: Build) -> tuple[Stranded, ...]:
    """Pieces of copper that reach no supply or no common negative."""
    return tuple(_stranded(build))


def _stranded(build: Build) -> Iterator[Stranded]:
    groups = _Groups()
    for first, second in _ties(build):
        groups.tie(first, second)
    for strip in build.strips:
        for zone, (pixel, stop) in enumerate(zones(strip)):
            if not groups.same(("pos", strip.id, zone), SUPPLY):
                yield Stranded(strip, "positive", pixel, stop)
        if not groups.same(("neg", strip.id, 0), COMMON):
            yield Stranded(strip, "return", 0, strip.pixel_count)


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def fed_network(build: Build) -> Network:
    """The network of a build with the copper that nothing reaches marked, so that the rest can be solved.

    Raises:
        LanternError: there is nothing to solve, or a feed's conductor has no resistance at all.
    """
    if not build.strips:
        raise LanternError("there is nothing to solve yet", "strips", "at least one strip with a feed")
    network = network_of(build)
    first = {run.strip.id: run.first_node for run in network.runs}
    dark = []
    for piece in stranded(build):
        low = 0 if piece.first_pixel == 0 else piece.first_pixel + 1
        high = piece.stop_pixel + 1 if piece.stop_pixel == piece.strip.pixel_count else piece.stop_pixel
        side = 1 if piece.side == "return" else 0
        dark.append(first[piece.strip.id] + 2 * np.arange(low, high + 1) + side)
    return replace(network, dark_nodes=np.concatenate(dark)) if dark else network


SUPPLY: Piece = ("supply", "", 0)
COMMON: Piece = ("common", "", 0)


class _Groups:
    """Disjoint sets of pieces that copper ties together."""

    def __init__(self) -> None:
        self._leader: dict[Piece, Piece] = {}

    def _find(self, piece: Piece) -> Piece:
        while (above := self._leader.get(piece, piece)) != piece:
            piece = above
        return piece

    def tie(self, first: Piece, second: Piece) -> None:
        self._leader[self._find(first)] = self._find(second)

    def same(self, first: Piece, second: Piece) -> bool:
        return self._find(first) == self._find(second)


def _ties(build: Build) -> Iterator[tuple[Piece, Piece]]:
    for joint in build.joints:
        last = len(build.line.strip(joint.from_strip_id).cuts)
        yield ("pos", joint.from_strip_id, last), ("pos", joint.to_strip_id, 0)
        yield ("neg", joint.from_strip_id, 0), ("neg", joint.to_strip_id, 0)
    for bus in build.buses:
        strip = build.line.strip(bus.strip_id)
        for tap in bus.tap_pixels:
            yield ("bus_pos", bus.id, 0), ("pos", strip.id, zone_of_node(strip, tap + 1))
            yield ("bus_neg", bus.id, 0), ("neg", strip.id, 0)
    strips = {strip.id: strip for strip in build.strips}
    for feed in build.feeds:
        if isinstance(feed.attach, OnBus):
            yield ("bus_pos", feed.attach.bus_id, 0), SUPPLY
            yield ("bus_neg", feed.attach.bus_id, 0), COMMON
        else:
            strip = strips[feed.attach.strip_id]
            yield ("pos", strip.id, zone_of_node(strip, snap_node(strip, feed.attach.position_m))), SUPPLY
            yield ("neg", strip.id, 0), COMMON
