"""A long network with few of its nodes, whose solution is a good place to begin on the whole one.

Only every so many pairs of rail nodes are kept, with those that anything ties to; the rails between add up, and what
the pixels draw is drawn at the nearest pair that is kept. Solving it first saves most steps on the whole network.

Source: nested iteration; Briggs, Henson and McCormick, A Multigrid Tutorial, 2nd edition, chapter 3.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.laws import PixelLaws
from tiny_lantern.electrical.network import GROUND, Branches, Elements, Network

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
EVERY = 16
WORTH_PAIRS = 1024


@dataclass(frozen=True)
class Coarse:
    """A network of fewer nodes with its laws; ``pairs``, (n_kept,), and ``nodes``, (n_kept_nodes,), are the numbers
    that those kept have in the whole one, which has ``node_count`` nodes."""

    network: Network
    laws: PixelLaws
    pairs: Ints
    nodes: Ints
    node_count: int

    def spread(self, node_v: Floats) -> Floats:
        """Voltages of the whole network, on straight lines between the nodes that were kept. (n_nodes,) [V]

        Args:
            node_v: voltages of the nodes kept, (n_kept_nodes,). [V]
        """
        own, beyond = self.network.run_node_count, self.node_count - (len(self.nodes) - self.network.run_node_count)
        found = np.empty(self.node_count)
        at = np.arange(beyond // 2)
        for side in (0, 1):
            found[side:beyond:2] = np.interp(at, self.pairs, node_v[side:own:2])
        found[beyond:] = node_v[own:]
        return found


def coarsened(network: Network, laws: PixelLaws) -> Coarse | None:
    """A network with few of its nodes, or None for one that is small as it is.

    Args:
        network: the copper.
        laws: what each pair of rail nodes draws.
    """
    count = network.pair_count
    if count < WORTH_PAIRS:
        return None
    pairs = _kept_pairs(network, count)
    runs = 2 * len(pairs)
    nodes = np.concatenate([(2 * pairs[:, None] + (0, 1)).ravel(), np.arange(2 * count, network.node_count)])
    number = np.full(network.node_count + 1, GROUND)
    number[nodes] = np.arange(len(nodes))
    links = network.links
    kept = replace(
        network, node_count=len(nodes), run_node_count=runs, rail_s=_rails(network, pairs),
        links=Branches(links.kind, number[links.start], number[links.stop], links.ohm),
        dark_nodes=number[network.dark_nodes][number[network.dark_nodes] >= 0],
        elements=Elements(number[network.elements.pos], number[network.elements.neg]),
    )  # fmt: skip
    return Coarse(kept, _gathered(laws, pairs, count), pairs, nodes, network.node_count)


def _kept_pairs(network: Network, count: int) -> Ints:
    """Pairs to keep: every so many, the ends of runs and of cuts, and whatever a branch other than a rail ties to."""
    keep = np.zeros(count, bool)
    keep[::EVERY] = True
    for run in network.runs:
        keep[[run.first_node // 2, run.first_node // 2 + run.strip.pixel_count + 1]] = True
    elements = network.elements
    tied = np.concatenate([network.links.start, network.links.stop, elements.pos, elements.neg])
    keep[tied[(tied >= 0) & (tied < network.run_node_count)] // 2] = True
    opened = np.flatnonzero(network.rail_s == 0) // 2
    keep[opened] = keep[opened + 1] = True
    return np.flatnonzero(keep)


def _rails(network: Network, pairs: Ints) -> Floats:
    """Conductance from each kept node to the next kept one of its rail. (n_kept_run_nodes - 2,) [S]"""
    found = np.zeros(2 * len(pairs) - 2)
    for side in (0, 1):
        siemens = network.rail_s[side::2]
        ohm = np.divide(1.0, siemens, out=np.zeros_like(siemens), where=siemens > 0)
        between = np.diff(np.concatenate([[0.0], np.cumsum(ohm)])[pairs])
        found[side::2] = np.divide(1.0, between, out=np.zeros_like(between), where=between > 0)
        found[side::2][siemens[pairs[:-1]] == 0] = 0.0
    return found


def _gathered(laws: PixelLaws, pairs: Ints, count: int) -> PixelLaws:
    """What all pairs draw, at the nearest of those kept; the elements after them stay as they are."""
    first = np.concatenate([[0], (pairs[:-1] + pairs[1:]) // 2 + 1])
    slope_s = np.concatenate([np.add.reduceat(laws.slope_s[:, :count], first, axis=1), laws.slope_s[:, count:]], axis=1)
    if laws.start_v.shape[1] == 1:
        return PixelLaws(laws.start_v, laws.width_v, slope_s)
    kept = np.concatenate([pairs, np.arange(count, laws.start_v.shape[1])])
    return PixelLaws(laws.start_v[:, kept], laws.width_v[:, kept], slope_s)
