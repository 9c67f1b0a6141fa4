"""The voltage and the current at every pixel, feed and supply of a build."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.laws import PixelLaws, laws_for
from tiny_lantern.electrical.memo import memoised_on, read_only
from tiny_lantern.electrical.network import GROUND, Elements, Network, Run
from tiny_lantern.electrical.newton import Operating, settle, source_current_a, supply_current_a
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.base import Lean
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError

Floats = NDArray[np.float64]
Duties = tuple[Floats, ...]


@dataclass(frozen=True)
class RunSolution:
    """One strip, solved: at each pixel (n_pixels,), on each rail from start to end (n_pixels + 2,)."""

    strip_id: str
    pixel_v: Floats
    pixel_a: Floats
    rail_pos_v: Floats
    rail_neg_v: Floats
    rail_pos_a: Floats
    rail_neg_a: Floats


@dataclass(frozen=True)
class FeedSolution:
    """One feed, solved: outgoing and return current, which differ in general. [A]"""

    feed_id: str
    pos_a: float
    neg_a: float


@dataclass(frozen=True)
class SupplySolution:
    """One supply, solved: what it delivers and at what terminal voltage."""

    supply_id: str
    current_a: float
    terminal_v: float
    delivering: bool


@dataclass(frozen=True)
class PowerSolution(Lean):
    """A build's network, solved for one load."""

    network: Network
    laws: PixelLaws
    operating: Operating

    @cached_property
    def pair_v(self) -> Floats:
        """Voltage across every pair of rail nodes, in node order. [V]"""
        return self._across[: self.network.pair_count]

    @cached_property
    def pair_a(self) -> Floats:
        """Current from the positive to the return node of every pair. [A]"""
        return self._drawn_a[: self.network.pair_count]

    @cached_property
    def element_a(self) -> Floats:
        """Current of each element. (n_elements,) [A]"""
        return self._drawn_a[self.network.pair_count :]

    @cached_property
    def _across(self) -> Floats:
        across = self.network.across(self.operating.node_v)
        across[self.network.dark_pairs] = 0.0
        return read_only(across)

    @cached_property
    def _drawn_a(self) -> Floats:
        return read_only(self.laws.current_a(self._across))

    @cached_property
    def rail_a(self) -> tuple[Floats, Floats]:
        """Current from each pair of rail nodes to the next, in the positive and in the return rail, towards the end of
        the strip and back from it; zero across a cut. (n_pairs - 1,) each [A]"""
        v = self.operating.node_v[: self.network.run_node_count]
        flow = (v[:-2] - v[2:]) * self.network.rail_s
        return read_only(flow[0::2]), read_only(-flow[1::2])

    @cached_property
    def runs(self) -> dict[str, RunSolution]:
        """Each strip's solution by id."""
        return {run.strip.id: self._run(run) for run in self.network.runs}

    @cached_property
    def feeds(self) -> dict[str, FeedSolution]:
        """Each feed's solution by id."""
        v = self.operating.node_v
        found = {}
        for feed in self.network.feeds:
            terminal = v[self.network.supplies[feed.supply].node]
            pos_a = (terminal - v[feed.pos_node]) / feed.pos_ohm
            found[feed.feed_id] = FeedSolution(feed.feed_id, float(pos_a), float(v[feed.neg_node] / feed.neg_ohm))
        return found

    @cached_property
    def supplies(self) -> dict[str, SupplySolution]:
        """Each supply's solution by id."""
        delivered = supply_current_a(self.network, self.operating.node_v)
        return {
            supply.supply_id: SupplySolution(
                supply.supply_id, float(current), float(self.operating.node_v[supply.node]), on
            )
            for supply, current, on in zip(self.network.supplies, delivered, self.operating.delivering, strict=True)
        }

    @cached_property
    def all_held(self) -> bool:
        """Whether every lit pixel still holds its current, so that duty-averaging is exact."""
        return self.laws.all_held(self._across)

    def _run(self, run: Run) -> RunSolution:
        v = self.operating.node_v
        nodes = run.pos_nodes
        pixels = run.pixel_pairs
        pos_v, neg_v = v[nodes], v[nodes + 1]
        gaps = slice(run.first_node // 2, run.first_node // 2 + run.strip.pixel_count + 1)
        pos_a, neg_a = (rail[gaps] for rail in self.rail_a)
        return RunSolution(run.strip.id, self.pair_v[pixels], self.pair_a[pixels], pos_v, neg_v, pos_a, neg_a)


def is_approximate(solution: PowerSolution, duties: Duties) -> bool:
    """Whether duty-averaging is only approximate: some channel is dimmed by PWM and some pixel left its knee.

    Args:
        solution: the solved network.
        duties: the load it was solved for. [-]
    """
    dimmed = any(bool(np.any((duty > 0) & (duty < 1))) for duty in duties)
    return dimmed and not solution.all_held


def power_balance(solution: PowerSolution) -> dict[str, float]:
    """Where the power goes: sources, pixels and each kind of branch. Sources equal the rest. [W]"""
    network, v = solution.network, solution.operating.node_v
    spent = dict.fromkeys(
        ("pixels", "rail_pos", "rail_neg", "joints", "bus", "taps", "feeds", "outputs", "beside"), 0.0
    )
    spent["pixels"] = float(solution.pair_v @ solution.pair_a)
    spent["beside"] = float(solution.network.across(v)[network.pair_count :] @ solution.element_a)
    for branch in network.branches:
        far = np.where(branch.stop == GROUND, 0.0, v[branch.stop])
        spent[branch.kind] += float(((v[branch.start] - far) ** 2 * branch.siemens).sum())
    sources = 0.0
    given = source_current_a(network, solution.laws, v)
    for end, current in zip(network.supplies, given.tolist(), strict=True):
        delivering = solution.supplies[end.supply_id].delivering
        sources += (end.open_v if delivering else float(v[end.node])) * current
        spent["outputs"] += end.output_ohm * current**2 if delivering else 0.0
    return {"sources": sources, **spent}


@memoised_on("strips", "joints", "buses", "supplies", "feeds", "parts")
def solve_power(
    build: Build, duties: Duties, beside_a: tuple[float, ...] = (), *, near: PowerSolution | None = None
) -> PowerSolution:
    """Solve the network of a build for one load. Copper that nothing reaches stays dark, the rest is solved.

    Args:
        build: the build.
        duties: one array a strip, in the order of ``build.strips``, (n_pixels, n_channels), 0 to 1. [-]
        beside_a: what draws at each supply's terminals beside the strips, as boards and lamps do, (n_supplies,);
            nothing without. [A]
        near: the solution of a build like this one to begin from, as a drag has it; the result is the same.

    Raises:
        LanternError: there is nothing to solve, a feed has no resistance at all, or duties do not fit.
    """
    network = with_terminals(fed_network(build), beside_a)
    laws = laws_for(network.pixels, in_network_order(build, network, duties)).without(network.dark_pairs)
    laws = laws.beside(drawing(beside_a))
    near_v = near.operating.node_v if near else None
    return PowerSolution(network, laws, settle(network, laws, near_v))


def drawing(beside_a: tuple[float, ...]) -> Floats:
    """Those of some currents that are any. (n_elements,) [A]

    Args:
        beside_a: what is drawn from each supply, (n_supplies,), or nothing. [A]
    """
    return np.array([amps for amps in beside_a if amps > 0], float)


def with_terminals(network: Network, beside_a: tuple[float, ...]) -> Network:
    """A network with an element at the terminals of each supply that something draws from beside the strips.

    Args:
        network: the copper.
        beside_a: what is drawn from each supply, (n_supplies,), or nothing. [A]
    """
    nodes = [end.node for end, amps in zip(network.supplies, beside_a, strict=False) if amps > 0]
    if not nodes:
        return network
    return replace(network, elements=Elements(np.array(nodes, np.int64), np.full(len(nodes), GROUND)))


def in_network_order(build: Build, network: Network, duties: Duties) -> Duties:
    """Duties re-ordered from the build's strips to the network's runs, checked for shape.

    Raises:
        LanternError: an array has the wrong shape.
    """
    by_id = dict(zip((strip.id for strip in build.strips), duties, strict=True))
    ordered = tuple(by_id[run.strip.id] for run in network.runs)
    for run, duty in zip(network.runs, ordered, strict=True):
        wanted = (run.strip.pixel_count, len(run.part.pixel.channels))
        if duty.shape != wanted:
            raise LanternError(f"duties of shape {duty.shape}", f"strip “{run.strip.id}”", f"shape {wanted}")
    return ordered
