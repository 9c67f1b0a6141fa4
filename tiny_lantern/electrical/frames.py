"""Many loads on one network: the copper is factored once and most frames need one back-substitution.

While every lit pixel holds its current, the nodal matrix does not depend on the frame. A frame in which a pixel
leaves its knee is solved by Newton like any other load.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.laws import laws_for
from tiny_lantern.electrical.linear import system_for
from tiny_lantern.electrical.newton import boundary, settle, supply_current_a
from tiny_lantern.electrical.power import Duties, in_network_order
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]


class FrameSolver:
    """Solves frames of one build.

    Raises:
        LanternError: the network cannot be solved.
    """

    def __init__(self, build: Build) -> None:
        self._build = build
        self._network = fed_network(build)
        fed = np.ones(self._network.run_node_count // 2, bool)
        fed[self._network.dark_pairs] = False
        pixels = [np.arange(run.pixel_pairs.start, run.pixel_pairs.stop) for run in self._network.runs]
        self._lit_pairs = np.concatenate([own[fed[own]] for own in pixels])
        supplies = self._network.supplies
        self._held, supply_s, self._source_a, self._start = boundary(self._network, [True] * len(supplies))
        self._system = system_for(self._network, self._held, supply_s)
        self._solve = self._system.factor(np.zeros(self._network.run_node_count // 2))
        self._rest = self._source_a - self._system.multiply(self._start)

    def solve(self, duties: Duties) -> tuple[Floats, float]:
        """Current of each supply (n_supplies,) [A] and the lowest pixel voltage [V] of one frame."""
        laws = laws_for(self._network.pixels, in_network_order(self._build, self._network, duties))
        laws = laws.without(self._network.dark_pairs)
        runs = slice(0, self._network.run_node_count)
        right = self._rest.copy()
        drawn = laws.current_a(np.full(self._network.run_node_count // 2, 1e6)) if laws.bounded else None
        if drawn is not None:
            right[runs][0::2] -= drawn
            right[runs][1::2] += drawn
            right[self._held] = 0
            node_v = self._start + self._solve(right)
            pair_v = node_v[runs][0::2] - node_v[runs][1::2]
            current = supply_current_a(self._network, node_v)
            if laws.all_held(pair_v) and self._all_deliver(current):
                return current, self._lowest(pair_v)
        node_v = settle(self._network, laws).node_v
        return supply_current_a(self._network, node_v), self._lowest(node_v[runs][0::2] - node_v[runs][1::2])

    def _all_deliver(self, current: Floats) -> bool:
        return all(supply.sinks or amps > -1e-9 for supply, amps in zip(self._network.supplies, current, strict=True))

    def _lowest(self, pair_v: Floats) -> float:
        return float(pair_v[self._lit_pairs].min(initial=np.inf)) if len(self._lit_pairs) else 0.0
