"""Both sides of the copper between junctions: ends, taps, cuts, joints and buses.

In a short the pixels count for nothing, so the positive and the return copper meet only in the short itself and in
the supplies. Each side falls into pieces that no copper ties together; a piece is described by the resistance matrix
of its junctions, and a stretch of rail between two junctions is one resistance, in which a place is a share.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import Network, Run
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Places:
    """Places on one side, each between two junctions: their numbers, the share of the resistance from the first to
    the place [-], the resistance between them [ohm], and the stretch (-1 at a junction). Each (n_places,)."""

    left: Ints
    right: Ints
    share: Floats
    ohm: Floats
    stretch: Ints


@dataclass(frozen=True)
class Side:
    """One side of the copper.

    ``stretches`` are rails between junctions: run, first and last rail node, both junctions, (n_stretches, 5), with
    ``stretch_ohm``. ``links`` are joints, bus conductors and taps: both junctions, (n_links, 2), with ``link_ohm``.
    ``taps`` is the junction of each feed. ``piece`` and ``local`` say of each junction which piece it is in and its
    place in that piece's resistance matrix in ``ohms``. ``junctions`` finds a run's junctions: rail nodes, rising, and
    their numbers.
    """

    stretches: Ints
    stretch_ohm: Floats
    links: Ints
    link_ohm: Floats
    taps: Ints
    piece: Ints
    local: Ints
    ohms: tuple[Floats, ...]
    junctions: tuple[tuple[Ints, Ints], ...]
    rails_ohm: tuple[Floats, ...]

    def places(self, run: int, nodes: Ints) -> Places:
        """Where rail nodes of a run are, (n_places,).

        Args:
            run: number of the run. [-]
            nodes: its rail nodes, (n_places,). [-]
        """
        at, numbers = self.junctions[run]
        after = np.clip(np.searchsorted(at, nodes, side="right"), 1, len(at) - 1)
        low, high = at[after - 1], at[after]
        rail = self.rails_ohm[run]
        ohm = rail[high] - rail[low]
        share = np.where(nodes == high, 1.0, (rail[nodes] - rail[low]) / ohm)
        at_junction = (nodes == low) | (nodes == high)
        here = numbers[np.where(nodes == high, after, after - 1)]
        left, right = np.where(at_junction, here, numbers[after - 1]), np.where(at_junction, here, numbers[after])
        first = np.flatnonzero(self.stretches[:, 0] == run)
        order = np.searchsorted(self.stretches[first, 1], low)
        stretch = np.where(at_junction, -1, first[np.minimum(order, len(first) - 1)] if len(first) else -1)
        return Places(left, right, np.where(at_junction, 0.0, share), ohm, stretch)

    def between(self, piece: int, junctions: Ints, places: Places) -> Floats:
        """Resistance matrix entries between junctions of a piece and places on it. (n_junctions, n_places) [ohm]

        Args:
            piece: number of the piece. [-]
            junctions: numbers of its junctions, (n_junctions,). [-]
            places: where the places are.
        """
        ohms = self.ohms[piece][self.local[junctions]]
        left, right = self.local[places.left], self.local[places.right]
        return (1 - places.share) * ohms[:, left] + places.share * ohms[:, right]

    def own(self, piece: int, places: Places) -> Floats:
        """Resistance matrix entry of each place with itself. (n_places,) [ohm]"""
        ohms, share = self.ohms[piece], places.share
        left, right = self.local[places.left], self.local[places.right]
        ends = (1 - share) ** 2 * ohms[left, left] + share**2 * ohms[right, right]
        return ends + 2 * share * (1 - share) * ohms[left, right] + share * (1 - share) * places.ohm


def sides_of(build: Build, network: Network) -> tuple[Side, Side]:
    """The positive and the return side of a build's copper."""
    return _side(build, network, 0), _side(build, network, 1)


def _side(build: Build, network: Network, which: int) -> Side:
    """One side; ``which`` is 0 for the positive rails, 1 for the return rails."""
    count = 0
    junctions: list[tuple[Ints, Ints]] = []
    junction_of = np.full(network.node_count, -1)
    for run in network.runs:
        nodes = _junction_nodes(build, network, run, which)
        junctions.append((nodes, count + np.arange(len(nodes))))
        junction_of[run.first_node + 2 * nodes + which] = junctions[-1][1]
        count += len(nodes)
    for sides in network.bus_nodes.values():
        junction_of[sides[which]] = count + np.arange(len(sides[which]))
        count += len(sides[which])
    rails_ohm = tuple(np.concatenate([[0.0], np.cumsum(run.gap_ohm[which])]) for run in network.runs)
    stretches = _stretches(network, junctions, which)
    stretch_ohm = np.array([rails_ohm[run][stop] - rails_ohm[run][first] for run, first, stop, *_ in stretches])
    links, link_ohm = _links(network, junction_of)
    taps = junction_of[[feed.neg_node if which else feed.pos_node for feed in network.feeds]]
    ties = np.concatenate([stretches[:, 3:5], links])
    piece, local, ohms = _pieces(count, ties, np.concatenate([stretch_ohm, link_ohm]))
    return Side(
        stretches, stretch_ohm, links, link_ohm, taps, piece, local, ohms, tuple(junctions), rails_ohm,
    )  # fmt: skip


def _links(network: Network, junction_of: Ints) -> tuple[Ints, Floats]:
    """Joints, bus conductors and taps of the side whose junctions are given: (n_links, 2) with (n_links,). [ohm]"""
    ties = [branch for branch in network.others if branch.kind in ("joints", "bus", "taps")]
    ends = np.concatenate([np.stack([junction_of[tie.start], junction_of[tie.stop]], axis=1) for tie in ties])
    own = (ends >= 0).all(axis=1)
    return ends[own], np.concatenate([tie.ohm for tie in ties])[own]


def _junction_nodes(build: Build, network: Network, run: Run, which: int) -> Ints:
    pixels = run.strip.pixel_count
    nodes = {0, pixels + 1}
    if which == 0:
        nodes |= {node for cut in run.strip.cuts for node in (cut, cut + 1)}
    for bus in build.buses:
        if bus.strip_id == run.strip.id:
            nodes |= {tap + 1 for tap in bus.tap_pixels}
    first, stop = run.first_node, run.first_node + 2 * (pixels + 2)
    ends = np.array([feed.pos_node for feed in network.feeds], np.int64)
    nodes |= set(((ends[(ends >= first) & (ends < stop)] - first) // 2).tolist())
    return np.array(sorted(nodes), np.int64)


def _stretches(network: Network, junctions: list[tuple[Ints, Ints]], which: int) -> Ints:
    found = []
    for number, run in enumerate(network.runs):
        at, names = junctions[number]
        cuts = set(run.strip.cuts) if which == 0 else set()
        found += [
            (number, low, high, one, other)
            for low, high, one, other in zip(
                at[:-1].tolist(), at[1:].tolist(), names[:-1].tolist(), names[1:].tolist(), strict=True
            )
            if low not in cuts
        ]
    return np.array(found, np.int64).reshape(-1, 5)


def _pieces(count: int, ties: Ints, tie_ohm: Floats) -> tuple[Ints, Ints, tuple[Floats, ...]]:
    """Pieces of copper: of each junction its piece and its place there, and each piece's resistance matrix.

    The first junction of a piece is taken as its zero; the matrix is the inverse of the nodal matrix of the others.
    """
    from scipy.sparse import coo_array  # loaded by the first study, not before the window is there
    from scipy.sparse.csgraph import connected_components

    graph = coo_array((np.ones(len(ties)), (ties[:, 0], ties[:, 1])), shape=(count, count))
    found, piece = connected_components(graph, directed=False)
    piece = piece.astype(np.int64)
    order = np.argsort(piece, kind="stable")
    starts = np.searchsorted(piece[order], np.arange(found + 1))
    local = np.empty(count, np.int64)
    local[order] = np.arange(count) - starts[piece[order]]
    tie_order = np.argsort(piece[ties[:, 0]], kind="stable")
    tie_starts = np.searchsorted(piece[ties[tie_order, 0]], np.arange(found + 1))
    ohms = []
    for number in range(found):
        own = tie_order[tie_starts[number] : tie_starts[number + 1]]
        ohms.append(_resistance_matrix(starts[number + 1] - starts[number], local[ties[own]], tie_ohm[own]))
    return piece, local, tuple(ohms)


def _resistance_matrix(count: int, ties: Ints, ohm: Floats) -> Floats:
    nodal = np.zeros((count, count))
    one, other, siemens = ties[:, 0], ties[:, 1], 1 / ohm
    np.add.at(nodal, (one, one), siemens)
    np.add.at(nodal, (other, other), siemens)
    np.add.at(nodal, (one, other), -siemens)
    np.add.at(nodal, (other, one), -siemens)
    found = np.zeros((count, count))
    if count > 1:
        inverse = np.linalg.inv(nodal[1:, 1:])
        found[1:, 1:] = (inverse + inverse.T) / 2
    return found
