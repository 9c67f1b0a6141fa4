"""Where a meter is put on strips and their feeds, and what it would read in a solved network."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.strips.plan import TEST, StripPlan, World
from tiny_lantern.electrical.network import Network, node_position_m, snap_node

Floats = NDArray[np.float64]
StripProbeKind = Literal["pixel_V", "node_V", "rail_drop_V", "supply_V", "feed_drop_V", "fuse_V", "feed_A", "supply_A"]
HAND, CLAMP = (0.005, 0.005), (0.02, 0.030)
AMPERES = ("feed_A", "supply_A")


@dataclass(frozen=True)
class StripProbe:
    """A place to read: volts of a pixel, of a pad against 0 V, along a rail from one pixel to another, of a supply, of
    a feed's conductor or across its fuse; amperes of a feed's conductor or of a supply with a clamp. ``node`` is
    ``start``, ``end`` or a pixel; numbers of strips and pixels are those of the plan. ``pattern`` is what is sent."""

    kind: StripProbeKind
    run: int = 0
    pixel: int = 0
    rail: str = "pos"
    node: str | int = 0
    start: int = 0
    stop: int = 0
    supply: int = 0
    feed: int = 0
    conductor: str = "pos"
    pattern: str = TEST


@dataclass(frozen=True)
class StripReading:
    """What a meter showed somewhere, and its standard deviation. [V] or [A]"""

    probe: StripProbe
    value: float
    sigma: float


def spread_of(kind: StripProbeKind) -> tuple[float, float]:
    """The share of a reading and what it always may be off, one standard deviation: a hand meter, or a clamp. [-], [V]
    or [A]

    Args:
        kind: what is read.
    """
    return CLAMP if kind in AMPERES else HAND


class Reader:
    """Reads a solved network where a plan's probes are.

    Args:
        plan: the strips as planned.
        world: the strips as they are taken to be.
        network: its copper in the pattern at hand.
        node_v: voltage of each node, (n_nodes,). [V]
    """

    def __init__(self, plan: StripPlan, world: World, network: Network, node_v: Floats) -> None:
        self.plan, self.world, self.network, self.node_v = plan, world, network, node_v

    def read(self, probe: StripProbe) -> float:
        """What a meter would show.

        Args:
            probe: where it is put.
        """
        return float(getattr(self, f"_{probe.kind.lower()}")(probe))

    def _pixel_v(self, probe: StripProbe) -> float:
        at = self._node(probe.run, probe.pixel, "pos")
        return float(self.node_v[at] - self.node_v[at + 1])

    def _node_v(self, probe: StripProbe) -> float:
        return float(self.node_v[self._node(probe.run, probe.node, probe.rail)])

    def _rail_drop_v(self, probe: StripProbe) -> float:
        one, other = (self._node(probe.run, pixel, probe.rail) for pixel in (probe.start, probe.stop))
        return float(self.node_v[one] - self.node_v[other])

    def _supply_v(self, probe: StripProbe) -> float:
        return float(self.node_v[self.network.supplies[probe.supply].node])

    def _feed_drop_v(self, probe: StripProbe) -> float:
        feed = self.network.feeds[probe.feed]
        if probe.conductor == "neg":
            return float(self.node_v[feed.neg_node])
        return float(self.node_v[self.network.supplies[feed.supply].node] - self.node_v[feed.pos_node])

    def _fuse_v(self, probe: StripProbe) -> float:
        if self.world.blown == probe.feed:
            return self._feed_drop_v(probe)
        made = self.plan.made[probe.feed]
        return (made.fuse_ohm if made is not None else 0.0) * self._feed_a(probe)

    def _feed_a(self, probe: StripProbe) -> float:
        feed = self.network.feeds[probe.feed]
        ohm = feed.pos_ohm if probe.conductor == "pos" else feed.neg_ohm
        return self._feed_drop_v(probe) / ohm

    def _supply_a(self, probe: StripProbe) -> float:
        feeds = [at for at, feed in enumerate(self.network.feeds) if feed.supply == probe.supply]
        return sum(self._feed_a(StripProbe("feed_A", feed=at)) for at in feeds)

    def _node(self, strip: int, node: str | int, rail: str) -> int:
        """The node of the network at a planned place: the nearest real pixel where others are fitted."""
        run = self.network.runs[self.plan.run(strip)]
        planned = self.plan.strips[strip]
        if node == "start":
            at = 0
        elif node == "end":
            at = run.strip.pixel_count + 1
        elif self.world.stands_for is None:
            at = int(node) + 1
        else:
            place_m = node_position_m(planned, int(node) + 1)
            at = min(max(snap_node(run.strip, place_m), 1), run.strip.pixel_count)
        return run.first_node + 2 * at + (rail == "neg")
