"""The copper of a build as nodes and branches.

Each strip has a positive and a return node at its start, at every pixel and at its end. They are numbered
in turn (positive, return, positive ...) so that the nodal matrix of a chain of strips has two sub-diagonals.
Bus nodes follow, then one terminal a supply. Ground, the common negative, is not numbered.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from math import ceil

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.ohms import bus_ohm, conductor_ohm, fuse_of, gap_ohm, joint_ohm, tap_ohm
from tiny_lantern.model.base import Lean
from tiny_lantern.model.build import Build, Bus, Feed, OnBus
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import Pixel, StripPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.strip import PixelRun

GROUND = -1
Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Branches(Lean):
    """Resistive branches of one kind: from node, to node (or ground), and the resistance. (n_branches,) each [ohm]"""

    kind: str
    start: Ints
    stop: Ints
    ohm: Floats

    @cached_property
    def siemens(self) -> Floats:
        """Conductance of each. (n_branches,) [S]"""
        return 1 / self.ohm


@dataclass(frozen=True)
class Run(Lean):
    """One strip in the network, and where its nodes begin."""

    strip: PixelRun
    part: StripPart
    first_node: int

    @cached_property
    def pos_nodes(self) -> Ints:
        """Positive nodes: start, pixels, end. (n_pixels + 2,)"""
        return self.first_node + 2 * np.arange(self.strip.pixel_count + 2)

    @property
    def pixel_pairs(self) -> slice:
        """Its pixels among all pairs of rail nodes."""
        first = self.first_node // 2 + 1
        return slice(first, first + self.strip.pixel_count)

    @cached_property
    def gap_ohm(self) -> tuple[Floats, Floats]:
        """Positive and return rail from each node to the next, half a pitch at both ends. (n_pixels + 1,) each [ohm]"""
        return gap_ohm(self.strip, self.part)

    @cached_property
    def rails(self) -> tuple[Branches, Branches]:
        """The positive rail, open at the cuts, and the return rail."""
        pos_ohm, neg_ohm = self.gap_ohm
        start, stop = self.pos_nodes[:-1], self.pos_nodes[1:]
        whole = np.setdiff1d(np.arange(len(start)), self.strip.cuts) if self.strip.cuts else slice(None)
        return (
            Branches("rail_pos", start[whole], stop[whole], pos_ohm[whole]),
            Branches("rail_neg", start + 1, stop + 1, neg_ohm),
        )


@dataclass(frozen=True)
class SupplyEnd:
    """A supply as the solver sees it."""

    supply_id: str
    name: str
    node: int
    open_v: float
    output_ohm: float
    sinks: bool


@dataclass(frozen=True)
class FeedEnd:
    """A feed as the solver sees it: the nodes it touches and its two resistances."""

    feed_id: str
    supply: int
    pos_node: int
    neg_node: int
    pos_ohm: float
    neg_ohm: float


@dataclass(frozen=True)
class Elements:
    """Pairs of nodes, anywhere and ground among them, between which something that is no pixel draws a current.
    (n_elements,) each"""

    pos: Ints
    neg: Ints


NO_ELEMENTS = Elements(np.zeros(0, np.int64), np.zeros(0, np.int64))


@dataclass(frozen=True)
class FeedWires:
    """The outgoing conductors of all feeds as arrays: supply, its terminal, the node touched, ohm. (n_feeds,) each"""

    supply: Ints
    supply_node: Ints
    pos_node: Ints
    pos_ohm: Floats


@dataclass(frozen=True)
class Network(Lean):
    """Everything the solver needs but the duties.

    ``rail_s`` is the conductance from each run node to the next node of its rail, (n_run_nodes - 2,), zero where
    there is none; joints between neighbours in the numbering are in it too. ``others``
    are all branches but the rails, by kind; ``links`` those of them that are not neighbours.
    ``dark_nodes`` are rail nodes on copper that reaches no supply or has no way back; they are kept at rest.
    ``elements`` are what draws current elsewhere than a pixel does, as a board does at its supply.
    """

    node_count: int
    run_node_count: int
    runs: tuple[Run, ...]
    others: tuple[Branches, ...]
    rail_s: Floats
    links: Branches
    supplies: tuple[SupplyEnd, ...]
    feeds: tuple[FeedEnd, ...]
    pixels: tuple[Pixel, ...]
    bus_nodes: dict[str, tuple[Ints, Ints]]
    dark_nodes: Ints = field(default_factory=lambda: np.zeros(0, np.int64))
    elements: Elements = NO_ELEMENTS

    @property
    def pair_count(self) -> int:
        """Pairs of rail nodes. [-]"""
        return self.run_node_count // 2

    def across(self, node_v: Floats) -> Floats:
        """Voltage across each pair of rail nodes, then across each element, of many loads at once one column a load.
        (n_pairs + n_elements,) or (n_pairs + n_elements, n_loads) [V]

        Args:
            node_v: voltage of each node, (n_nodes,) or (n_nodes, n_loads). [V]
        """
        runs = self.run_node_count
        pairs = node_v[0:runs:2] - node_v[1:runs:2]
        if not len(self.elements.pos):
            return pairs
        ends = [
            np.where((at == GROUND)[(...,) + (None,) * (node_v.ndim - 1)], 0.0, node_v[at])
            for at in (self.elements.pos, self.elements.neg)
        ]
        return np.concatenate([pairs, ends[0] - ends[1]])

    def draw_from(self, node_a: Floats, drawn_a: Floats) -> None:
        """Take what pairs and elements draw from the currents into the nodes.

        Args:
            node_a: current into each node, (n_nodes,) or (n_nodes, n_loads); changed. [A]
            drawn_a: what each pair and each element draws, (n_pairs + n_elements,) or with n_loads columns. [A]
        """
        runs, pairs = self.run_node_count, self.pair_count
        node_a[0:runs:2] -= drawn_a[:pairs]
        node_a[1:runs:2] += drawn_a[:pairs]
        for ends, sign in ((self.elements.pos, -1.0), (self.elements.neg, 1.0)):
            tied = ends != GROUND
            if tied.any():
                np.add.at(node_a, ends[tied], sign * drawn_a[pairs:][tied])

    @cached_property
    def branches(self) -> tuple[Branches, ...]:
        """Every branch of the copper, by kind."""
        return (*(side for run in self.runs for side in run.rails), *self.others)

    @cached_property
    def feed_wires(self) -> FeedWires:
        """The outgoing conductors of all feeds."""
        supply = np.array([feed.supply for feed in self.feeds], np.int64)
        terminal = np.array([end.node for end in self.supplies], np.int64)
        return FeedWires(
            supply, terminal[supply], np.array([feed.pos_node for feed in self.feeds], np.int64),
            np.array([feed.pos_ohm for feed in self.feeds], float),
        )  # fmt: skip

    @cached_property
    def dark_pairs(self) -> Ints:
        """Pairs of rail nodes of which one is on copper that nothing reaches. (n_pairs,)"""
        return np.unique(self.dark_nodes // 2)


def snap_node(strip: PixelRun, position_m: float) -> int:
    """Index of the rail node nearest to a position: 0 start, 1 .. N pixels, N + 1 end; a tie goes lower.

    Args:
        strip: the strip.
        position_m: distance from its start. [m]
    """
    pixels = strip.pixel_count
    steps = position_m / strip.pitch_m
    hair = 1e-6
    if steps <= 0.25 + hair:
        return 0
    if steps > pixels - 0.25 + hair:
        return pixels + 1
    return min(max(ceil(steps - 1 - hair), 0), pixels - 1) + 1


def node_position_m(strip: PixelRun, node: int) -> float:
    """Distance of a rail node from the start of its strip. [m]"""
    if node == 0:
        return 0.0
    if node == strip.pixel_count + 1:
        return strip.length_m
    return (node - 0.5) * strip.pitch_m


def node_name(strip: PixelRun, node: int) -> str:
    """What a rail node is called: ``start``, ``pixel 7``, ``end``."""
    return "start" if node == 0 else "end" if node == strip.pixel_count + 1 else f"pixel {node - 1}"


def part_of(build: Build, strip: PixelRun) -> StripPart:
    """The part a strip is made of."""
    return build.shelf.find(StripPart, strip.part_id)


def supply_part(build: Build, supply_id: str) -> SupplyPart:
    """The part a supply is."""
    supply = item(build.supplies, supply_id, "supply")
    return build.shelf.find(SupplyPart, supply.part_id)


def chain_order(build: Build) -> list[PixelRun]:
    """Strips so that a strip joined to another's end follows it where that is possible."""
    follower = {joint.from_strip_id: joint.to_strip_id for joint in reversed(build.joints)}
    led = {joint.to_strip_id for joint in build.joints}
    heads = [strip.id for strip in build.strips if strip.id not in led]
    placed: dict[str, PixelRun] = {}
    for head in heads + [strip.id for strip in build.strips]:
        step: str | None = head
        while step is not None and step not in placed:
            placed[step] = build.line.strip(step)
            step = follower.get(step)
    return list(placed.values())


@memoised_on("strips", "joints", "parts")
def runs_of(build: Build) -> tuple[Run, ...]:
    """The strips of a build in the order of their nodes; moving a feed leaves them as they are."""
    runs, node = [], 0
    for strip in chain_order(build):
        runs.append(Run(strip, part_of(build, strip), node))
        node += 2 * (strip.pixel_count + 2)
    return tuple(runs)


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def network_of(build: Build) -> Network:
    """The network of a build.

    Raises:
        LanternError: a feed's conductor has no resistance at all, which would be a short.
    """
    runs = runs_of(build)
    node = run_nodes = sum(2 * (run.strip.pixel_count + 2) for run in runs)
    by_id = {run.strip.id: run for run in runs}
    bus_nodes: dict[str, tuple[Ints, Ints]] = {}
    for bus in build.buses:
        stops = len(bus.tap_pixels) + 2
        bus_nodes[bus.id] = (node + np.arange(stops), node + stops + np.arange(stops))
        node += 2 * stops
    supplies = tuple(
        SupplyEnd(s.id, s.name, node + number, s.set_v, part.output_ohm, part.sinks_current)
        for number, (s, part) in enumerate((s, supply_part(build, s.id)) for s in build.supplies)
    )
    node += len(supplies)
    feeds = tuple(_feed_end(build, feed, by_id, bus_nodes) for feed in build.feeds)
    rails = [side for run in runs for side in run.rails]
    others = _other_branches(build, by_id, bus_nodes, supplies, feeds)
    rail_s, links = _sorted_out(rails, others, run_nodes)
    pixels = tuple(run.part.pixel for run in runs)
    return Network(
        node, run_nodes, runs, tuple(others), rail_s, links, supplies, feeds, pixels, bus_nodes
    )  # fmt: skip


def with_others(network: Network, others: tuple[Branches, ...]) -> Network:
    """A network with other branches beside its rails.

    Args:
        network: the network.
        others: all branches but the rails, by kind.
    """
    rails = [side for run in network.runs for side in run.rails]
    rail_s, links = _sorted_out(rails, list(others), network.run_node_count)
    return replace(network, others=others, rail_s=rail_s, links=links)


def _sorted_out(rails: list[Branches], others: list[Branches], run_nodes: int) -> tuple[Floats, Branches]:
    """Branches between neighbours of one rail as a vector, and all others as a list."""
    rail_s = np.zeros(max(run_nodes - 2, 0))
    for branch in rails:
        rail_s[branch.start] = branch.siemens
    start, stop = (np.concatenate([getattr(branch, end) for branch in others]) for end in ("start", "stop"))
    ohm = np.concatenate([branch.ohm for branch in others])
    near = (stop - start == 2) & (stop < run_nodes)
    rail_s[start[near]] = 1 / ohm[near]
    return rail_s, Branches("links", start[~near], stop[~near], ohm[~near])


def _feed_end(build: Build, feed: Feed, by_id: dict[str, Run], bus_nodes: dict[str, tuple[Ints, Ints]]) -> FeedEnd:
    supply = next(number for number, supply in enumerate(build.supplies) if supply.id == feed.supply_id)
    if isinstance(feed.attach, OnBus):
        index = 0 if feed.attach.end == "start" else -1
        pos, neg = (int(side[index]) for side in bus_nodes[feed.attach.bus_id])
    else:
        run = by_id[feed.attach.strip_id]
        pos = run.first_node + 2 * snap_node(run.strip, feed.attach.position_m)
        neg = pos + 1
    pos_ohm = conductor_ohm(build, feed.positive, fuse_of(build, feed))
    neg_ohm = conductor_ohm(build, feed.negative)
    if min(pos_ohm, neg_ohm) <= 0:
        raise LanternError(
            "this feed has no resistance at all, which no real wire has", f"feed “{feed.id}”",
            "a wire length, a connector or a measured resistance in both conductors",
        )  # fmt: skip
    return FeedEnd(feed.id, supply, pos, neg, pos_ohm, neg_ohm)


def _other_branches(
    build: Build, by_id: dict[str, Run], bus_nodes: dict[str, tuple[Ints, Ints]],
    supplies: tuple[SupplyEnd, ...], feeds: tuple[FeedEnd, ...],
) -> list[Branches]:  # fmt: skip
    """Joints, buses with their taps, and both conductors of the feeds."""
    joints: list[tuple[int, int, float]] = []
    for joint in build.joints:
        end = int(by_id[joint.from_strip_id].pos_nodes[-1])
        start = by_id[joint.to_strip_id].first_node
        joints += [(end + side, start + side, ohm) for side, ohm in enumerate(joint_ohm(joint))]
    found = [_pack("joints", joints)]
    for bus in build.buses:
        found += _bus_branches(bus, by_id[bus.strip_id], *bus_nodes[bus.id])
    found.append(_pack("feeds", [(supplies[f.supply].node, f.pos_node, f.pos_ohm) for f in feeds]))
    found.append(_pack("feeds", [(f.neg_node, GROUND, f.neg_ohm) for f in feeds]))
    return found


def _bus_branches(bus: Bus, run: Run, pos: Ints, neg: Ints) -> list[Branches]:
    taps = run.first_node + 2 * (np.array(bus.tap_pixels) + 1)
    pos_ohm, neg_ohm = bus_ohm(bus, run.strip)
    tap_pos_ohm, tap_neg_ohm = (np.full(len(taps), ohm) for ohm in tap_ohm(bus))
    return [
        Branches("bus", pos[:-1], pos[1:], pos_ohm),
        Branches("bus", neg[:-1], neg[1:], neg_ohm),
        Branches("taps", pos[1:-1], taps, tap_pos_ohm),
        Branches("taps", neg[1:-1], taps + 1, tap_neg_ohm),
    ]


def _pack(kind: str, rows: list[tuple[int, int, float]]) -> Branches:
    if not rows:
        return Branches(kind, np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros(0))
    start, stop, ohm = zip(*rows, strict=True)
    return Branches(kind, np.array(start), np.array(stop), np.array(ohm, float))
