"""Many loads on one network: the copper is factored once and a block of frames needs one back-substitution.

While every lit pixel holds its current, the nodal matrix does not depend on the frame. A frame in which a pixel
leaves its knee is solved by Newton like any other load, beginning from the frame before it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.batch import Batch
from tiny_lantern.electrical.laws import QUIESCENT_RAMP_V, laws_for, ramps_of
from tiny_lantern.electrical.linear import system_for
from tiny_lantern.electrical.network import Run
from tiny_lantern.electrical.newton import boundary, feed_current_a, settle, supply_current_a
from tiny_lantern.electrical.power import Duties, drawing, in_network_order, with_terminals
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.int64]
DELIVERS_A = -1e-9


@dataclass(frozen=True)
class Frames:
    """Some frames solved: current of each supply (n_frames, n_supplies) and out of each feed (n_frames, n_feeds) [A],
    the lowest voltage of a pixel that is fed (n_frames,) [V], and which pair of rail nodes has it (n_frames,), -1 for
    none."""

    supply_a: Floats
    feed_a: Floats
    lowest_v: Floats
    lowest_pair: Ints


class FrameSolver:
    """Solves frames of one build, with what draws at each supply's terminals beside its strips, (n_supplies,). [A]

    Raises:
        LanternError: the network cannot be solved.
    """

    def __init__(self, build: Build, beside_a: tuple[float, ...] = ()) -> None:
        self._build = build
        self._network = with_terminals(fed_network(build), beside_a)
        self._beside_a = drawing(beside_a)
        runs = self._network.runs
        fed = np.ones(self._network.run_node_count // 2, bool)
        fed[self._network.dark_pairs] = False
        pixels = [np.arange(run.pixel_pairs.start, run.pixel_pairs.stop) for run in runs]
        self._fed = [fed[own] for own in pixels]
        self._lit_pairs = np.concatenate([own[fed[own]] for own in pixels])
        self._number = {strip.id: number for number, strip in enumerate(build.strips)}
        supplies = self._network.supplies
        self._sinks = np.array([supply.sinks for supply in supplies], bool)
        self._held, supply_s, self._source_a, self._start = boundary(self._network, [True] * len(supplies))
        self._system = system_for(self._network, self._held, supply_s)
        solve = self._system.factor(np.zeros(self._network.pair_count + len(self._beside_a)))
        rest = self._source_a - self._system.multiply(self._start)
        rest[self._held] = 0
        self._batch = Batch(solve, self._start + solve(rest))
        self._bounded = all(np.isfinite(ramps_of(run.part.pixel)[1]).all() for run in runs)
        self._near: Floats | None = None

    def pixel_of(self, pair: int) -> tuple[str, int] | None:
        """The strip, by its id, and the number of the pixel that a pair of rail nodes is; None for none."""
        return next(
            (
                (run.strip.id, pair - run.pixel_pairs.start)
                for run in self._network.runs
                if run.pixel_pairs.start <= pair < run.pixel_pairs.stop
            ),
            None,
        )

    def solve(self, duties: Duties) -> Frames:
        """Some frames.

        Args:
            duties: one array a strip, in the order of the build, (n_frames, n_pixels, n_channels), 0 to 1. [-]
        """
        frames = len(duties[0])
        current, feed_a = np.zeros((frames, len(self._sinks))), np.zeros((frames, len(self._network.feeds)))
        lowest, pair = np.zeros(frames), np.full(frames, -1)
        done = np.zeros(frames, bool)
        if self._bounded:
            drawn, needed = self._held_currents(duties)
            node_v = self._batch.under(self._loads(drawn))
            across = self._network.across(node_v)
            pair_v = across[: self._network.pair_count]
            current = supply_current_a(self._network, node_v).T.copy()
            feed_a = feed_current_a(self._network, node_v).T.copy()
            lowest, pair = self._lowest(pair_v)
            held = (pair_v >= needed).all(axis=0) & (across[len(pair_v) :] >= QUIESCENT_RAMP_V).all(axis=0)
            done = held & ((current > DELIVERS_A) | self._sinks).all(axis=1)
        for frame in np.flatnonzero(~done):
            node_v = self._by_newton(tuple(duty[frame] for duty in duties))
            current[frame] = supply_current_a(self._network, node_v)
            feed_a[frame] = feed_current_a(self._network, node_v)
            across = self._network.across(node_v)[: self._network.pair_count]
            (lowest[frame],), (pair[frame],) = self._lowest(across[:, None])
        return Frames(current, feed_a, lowest, pair)

    def _held_currents(self, duties: Duties) -> tuple[Floats, Floats]:
        """What each pair draws while its pixel holds its current, and the voltage it needs for that.
        (n_pairs, n_frames) each [A], [V]"""
        shape = (self._network.run_node_count // 2, len(duties[0]))
        drawn, needed = np.zeros(shape), np.full(shape, -np.inf)
        for run, fed in zip(self._network.runs, self._fed, strict=True):
            duty = duties[self._number[run.strip.id]].transpose(1, 0, 2)
            drawn[run.pixel_pairs], needed[run.pixel_pairs] = held_pixels(run, duty)
            drawn[run.pixel_pairs][~fed] = 0.0
            needed[run.pixel_pairs][~fed] = -np.inf
        return drawn, needed

    def _loads(self, drawn: Floats) -> Floats:
        """What each frame adds to the right-hand sides of the nodal equations, (n_nodes, n_frames). [A]"""
        right = np.zeros((self._network.node_count, drawn.shape[1]))
        beside = np.repeat(self._beside_a[:, None], drawn.shape[1], axis=1)
        self._network.draw_from(right, np.concatenate([drawn, beside]) if len(beside) else drawn)
        right[self._held] = 0
        return right

    def _by_newton(self, duties: Duties) -> Floats:
        laws = laws_for(self._network.pixels, in_network_order(self._build, self._network, duties))
        laws = laws.without(self._network.dark_pairs).beside(self._beside_a)
        node_v = settle(self._network, laws, self._near).node_v
        self._near = node_v
        return node_v

    def _lowest(self, pair_v: Floats) -> tuple[Floats, Ints]:
        """The lowest voltage of a pixel that is fed, (n_pairs, n_frames) to (n_frames,), zero where none is, and which
        pair of rail nodes has it, -1 for none. [V]"""
        if not len(self._lit_pairs):
            return np.zeros(pair_v.shape[1]), np.full(pair_v.shape[1], -1)
        fed = pair_v[self._lit_pairs]
        at = fed.argmin(axis=0)
        return fed[at, np.arange(fed.shape[1])], self._lit_pairs[at]


def held_pixels(run: Run, duty: Floats) -> tuple[Floats, Floats]:
    """Current of pixels that hold theirs, and the voltage at which the last lit channel begins to.

    Args:
        run: the strip.
        duty: duty of each channel, (n_pixels, n_frames, n_channels). [-]
    """
    start, width, slope = ramps_of(run.part.pixel)
    full_a, knee_v = slope * width, start + width
    drawn = full_a[0] + duty @ full_a[1:]
    quiescent_v = knee_v[0] if slope[0] > 0 else -np.inf
    lit = (duty > 0) & (slope[1:] > 0)
    needed = np.where(lit, knee_v[1:], -np.inf).max(axis=2)
    return drawn, np.maximum(needed, quiescent_v)
