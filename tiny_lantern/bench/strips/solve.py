"""Solving strips as they may be, for what is sent to them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.strips.plan import Duties, StripPlan, World
from tiny_lantern.electrical.laws import PixelLaws, laws_for
from tiny_lantern.electrical.network import Network
from tiny_lantern.electrical.newton import Operating, settle

Floats = NDArray[np.float64]
LEAK_S, STILL_V = 1e-6, 1e-4


def solved(
    world: World, plan: StripPlan, sent: Duties, near: Operating | None = None, test: bool = True
) -> Operating:  # fmt: skip
    """The operating point of strips under what is sent.

    Args:
        world: the strips as they are taken to be.
        plan: the strips as planned.
        sent: the duties sent, strip by strip, (n_pixels, n_channels) each. [-]
        near: one of much the same network to begin from.
        test: whether this is the test, in which some supplies reach their limit.
    """
    network = network_in(world, test)
    shown = world.shown(sent)
    by_run = {plan.run(number): duty for number, duty in enumerate(shown)}
    laws = laws_for(network.pixels, tuple(by_run[run] for run in range(len(network.runs))))
    dead = np.union1d(network.dark_pairs, np.array(world.dead_pairs, np.int64)).astype(np.int64)
    begin_v = near.node_v if near is not None and len(near.node_v) == network.node_count else None
    laws = laws.without(dead)
    metered = Metered(laws.start_v, laws.width_v, world.current_scale * laws.slope_s)
    return settle(network, metered, begin_v, STILL_V)


@dataclass(frozen=True)
class Metered(PixelLaws):
    """Laws of pixels with what a meter makes every pair take beside, so that those on a piece that nothing feeds have
    no volts: ``I(v) + g·v``."""

    def current_a(self, v: Floats) -> Floats:
        """See ``PixelLaws``.

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        return np.asarray(super().current_a(v) + LEAK_S * v)

    def conductance_s(self, v: Floats) -> Floats:
        """See ``PixelLaws``.

        Args:
            v: voltage of each pair, (n_pairs,). [V]
        """
        return np.asarray(super().conductance_s(v) + LEAK_S)


def network_in(world: World, test: bool) -> Network:
    """The copper of strips in the test, or in another pattern.

    Args:
        world: the strips.
        test: whether it is the test.
    """
    return world.test_network if test and world.test_network is not None else world.network
