"""What a dead short at the far end of a feed's copper draws, and whether the fuse will notice."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array, csr_array
from scipy.sparse.csgraph import dijkstra

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import Network, network_of
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class FarShort:
    """A short at the farthest copper that a feed's fuse guards: the loop and the current it draws."""

    feed_id: str
    supply_v: float
    output_ohm: float
    lead_ohm: float
    copper_ohm: float

    @property
    def loop_ohm(self) -> float:
        """Everything the fault current passes. [ohm]"""
        return self.output_ohm + self.lead_ohm + self.copper_ohm

    @property
    def current_a(self) -> float:
        """Current of the short. [A]  ``I = V_s / (R_s + R_lead + R_copper)``."""
        return self.supply_v / self.loop_ohm


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def far_shorts(build: Build) -> dict[str, FarShort]:
    """The far short of every feed, by feed id.

    A feed's fuse guards the copper from its tap up to the next feed on the same copper, or to where the copper
    ends; beyond the next feed a short is that feed's own.

    Source: the usual rule that a fuse must see at least twice its rating to blow in good time.
    """
    network = network_of(build)
    if not network.feeds:
        return {}
    taps = np.array([feed.pos_node for feed in network.feeds])
    reached = dijkstra(_loop_graph(network, taps), indices=network.node_count + np.arange(len(taps)))
    found = {}
    for feed, ohms in zip(network.feeds, reached, strict=True):
        supply = network.supplies[feed.supply]
        within = ohms[: network.node_count]
        copper = float(within[np.isfinite(within)].max(initial=0.0))
        found[feed.feed_id] = FarShort(
            feed.feed_id, supply.open_v, supply.output_ohm, feed.pos_ohm + feed.neg_ohm, copper
        )
    return found


def _loop_graph(network: Network, taps: NDArray[np.int64]) -> csr_array:
    """Positive copper, each edge weighted by out plus return resistance, one-way into every feed's tap.

    After the network's nodes comes one node a feed, from which its tap's own edges start.
    """
    start, stop, ohm = _loop_edges(network)
    start, stop, ohm = np.concatenate([start, stop]), np.concatenate([stop, start]), np.concatenate([ohm, ohm])
    rows, columns, values = [], [], []
    passable = ~np.isin(start, taps)
    rows.append(start[passable])
    columns.append(stop[passable])
    values.append(ohm[passable])
    for number, tap in enumerate(taps):
        own = start == tap
        rows.append(np.full(np.count_nonzero(own), network.node_count + number))
        columns.append(stop[own])
        values.append(ohm[own])
    size = network.node_count + len(taps)
    shape = (size, size)
    return csr_array(coo_array((np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), shape=shape))


def _loop_edges(network: Network) -> tuple[NDArray[np.int64], NDArray[np.int64], Floats]:
    starts, stops, ohms = [], [], []
    pending = None
    for branch in network.branches:
        if branch.kind == "rail_pos":
            starts.append(branch.start)
            stops.append(branch.stop)
            ohms.append(1 / branch.siemens + 1 / network.rail_s[branch.start + 1])
        elif branch.kind == "joints":
            starts.append(branch.start[0::2])
            stops.append(branch.stop[0::2])
            ohms.append(1 / branch.siemens[0::2] + 1 / branch.siemens[1::2])
        elif branch.kind in ("bus", "taps"):
            if pending is None:
                pending = branch
            else:
                starts.append(pending.start)
                stops.append(pending.stop)
                ohms.append(1 / pending.siemens + 1 / branch.siemens)
                pending = None
    return np.concatenate(starts), np.concatenate(stops), np.concatenate(ohms)
