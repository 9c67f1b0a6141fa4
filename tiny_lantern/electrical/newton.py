"""Damped Newton on the nodal equations of pixels whose current never falls with voltage.

With such pixels the solution is the minimum of a convex function, so Newton steps with a search along the
step always arrive, and arrive exactly once the right pieces of each law are found.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.coarse import coarsened
from tiny_lantern.electrical.laws import PixelLaws
from tiny_lantern.electrical.linear import LinearSystem, system_for
from tiny_lantern.electrical.network import Network

Floats = NDArray[np.float64]
RESIDUAL_A = 1e-9
STEP_V = 1e-9
MOST_STEPS = 200
GUESS_SHARE = 0.65
REST_S = 1.0
FLAT_SHARE = 0.01
LOOSE_STEPS = 20


@dataclass(frozen=True)
class Operating:
    """Where a network settles: node voltages (n_nodes,), which supplies deliver, and the steps it took."""

    node_v: Floats
    delivering: tuple[bool, ...]
    steps: int
    residual_a: float


def settle(network: Network, laws: PixelLaws, near_v: Floats | None = None, step_v: float = STEP_V) -> Operating:
    """Solve the network, supplies that cannot take current back included.

    A supply that would have to take current is cut off and the rest solved again; one that was cut off and
    finds its terminal below its own voltage is put back. The laws are monotone, so this ends.

    Args:
        network: the copper.
        laws: what each pair of rail nodes draws.
        near_v: node voltages of a network like this one to begin from, (n_nodes,). [V]
        step_v: how still every node has to be; copper that hangs on nearly nothing is never as still as other. [V]

    Raises:
        ArithmeticError: no operating point was found, which for a fed network is a defect of this program.
    """
    delivering = [True] * len(network.supplies)
    steps = 0
    for _ in range(2 * len(network.supplies) + 2):
        held, supply_s, source_a, start = boundary(network, delivering)
        system = system_for(network, held, supply_s)
        begin_v = _from_few(network, laws, held, supply_s, source_a, start) if near_v is None else near_v
        node_v, taken, residual = _newton(system, network, laws, held, source_a, start, begin_v, step_v)
        steps += taken
        wanted = _wanted(network, laws, node_v, delivering)
        if wanted == delivering:
            return Operating(node_v, tuple(delivering), steps, residual)
        delivering = wanted
    raise ArithmeticError("the supplies do not settle")


def boundary(network: Network, delivering: list[bool]) -> tuple[NDArray[np.bool_], Floats, Floats, Floats]:
    """What the supplies impose: nodes held, conductance to and current from sources, and voltages to start from.

    Args:
        network: the copper.
        delivering: whether each supply takes part; one that does not floats.
    """
    held = np.zeros(network.node_count, bool)
    supply_s, source_a = np.zeros(network.node_count), np.zeros(network.node_count)
    start = np.zeros(network.node_count)
    highest = max((supply.open_v for supply in network.supplies), default=0.0)
    start[: network.run_node_count : 2] = highest
    for pos, _ in network.bus_nodes.values():
        start[pos] = highest
    for supply, on in zip(network.supplies, delivering, strict=True):
        start[supply.node] = supply.open_v if on else highest
        if on and supply.output_ohm == 0:
            held[supply.node] = True
        elif on:
            supply_s[supply.node] = 1 / supply.output_ohm
            source_a[supply.node] = supply.open_v / supply.output_ohm
    supply_s[network.dark_nodes] = REST_S
    fed, drawn_from = {feed.supply for feed in network.feeds}, set(network.elements.pos.tolist())
    for number, supply in enumerate(network.supplies):
        if number not in fed and supply.node not in drawn_from:
            held[supply.node] = True
    return held, supply_s, source_a, start


def _wanted(network: Network, laws: PixelLaws, node_v: Floats, delivering: list[bool]) -> list[bool]:
    delivered = source_current_a(network, laws, node_v)
    wanted = []
    for number, (supply, on) in enumerate(zip(network.supplies, delivering, strict=True)):
        below = node_v[supply.node] < supply.open_v - 1e-9
        wanted.append(supply.sinks or (bool(delivered[number] > -1e-9) if on else bool(below)))
    return wanted


def supply_current_a(network: Network, node_v: Floats) -> Floats:
    """Current each supply delivers, the sum of its feeds' outgoing ones; of many loads at once one column a load.

    Args:
        network: the copper.
        node_v: voltage of each node, (n_nodes,) or (n_nodes, n_loads). [V]

    Returns:
        (n_supplies,) or (n_supplies, n_loads). [A]
    """
    delivered = np.zeros((len(network.supplies), *node_v.shape[1:]))
    np.add.at(delivered, network.feed_wires.supply, feed_current_a(network, node_v))
    return delivered


def feed_current_a(network: Network, node_v: Floats) -> Floats:
    """Current out of each feed; of many loads at once one column a load. (n_feeds,) or (n_feeds, n_loads) [A]

    Args:
        network: the copper.
        node_v: voltage of each node, (n_nodes,) or (n_nodes, n_loads). [V]
    """
    wires = network.feed_wires
    drop = node_v[wires.supply_node] - node_v[wires.pos_node]
    return np.asarray((drop.T / wires.pos_ohm).T)


def source_current_a(network: Network, laws: PixelLaws, node_v: Floats) -> Floats:
    """Current out of each supply, into its feeds and into what draws at its terminal. (n_supplies,) [A]

    Args:
        network: the copper.
        laws: what each pair of rail nodes and each element draws.
        node_v: voltage of each node, (n_nodes,). [V]
    """
    given = supply_current_a(network, node_v)
    if len(network.elements.pos):
        drawn = laws.current_a(network.across(node_v))[network.pair_count :]
        for ends, sign in ((network.elements.pos, 1.0), (network.elements.neg, -1.0)):
            into = np.zeros(network.node_count + 1)
            np.add.at(into, ends, sign * drawn)
            given += into[[supply.node for supply in network.supplies]]
    return given


def _newton(
    system: LinearSystem,
    network: Network,
    laws: PixelLaws,
    held: NDArray[np.bool_],
    source_a: Floats,
    start: Floats,
    near_v: Floats | None,
    step_v: float = STEP_V,
) -> tuple[Floats, int, float]:
    still = _Still(network, laws, held)
    if near_v is None or len(near_v) != network.node_count:
        x = _first_guess(system, still, source_a, start)
    else:
        x = np.where(held, start, near_v)
    linear = system.multiply(x) - source_a
    residual = still.residual(linear, x)
    slopes = laws.conductance_s(still.pair_v(x))
    solve = system.factor(slopes)
    largest = float(np.abs(residual).max(initial=0.0))
    for count in range(MOST_STEPS):
        step = solve(-residual)
        if largest < RESIDUAL_A and float(np.abs(step).max(initial=0.0)) < step_v:
            return x, count, largest
        along = system.multiply(step)
        falling = float(residual @ step)
        flat = -FLAT_SHARE * falling if count < LOOSE_STEPS else 0.0
        reach, residual = _search(still, linear, along, x, step, falling, flat)
        x = x + reach * step
        linear = linear + reach * along if (count + 1) % 8 else system.multiply(x) - source_a
        largest = float(np.abs(residual).max(initial=0.0))
        if largest < RESIDUAL_A:
            continue  # there already: the slopes at hand tell the next step well enough
        now = laws.conductance_s(still.pair_v(x))
        if not np.array_equal(now, slopes):
            solve, slopes = system.factor(now), now
    raise ArithmeticError(f"no operating point after {MOST_STEPS} steps, residual {largest:.2e} A")


@dataclass(frozen=True)
class _Still:
    """What stays the same during one solve: the network, the laws, which nodes are held."""

    network: Network
    laws: PixelLaws
    held: NDArray[np.bool_]

    def pair_v(self, x: Floats) -> Floats:
        """Voltage across each pair of rail nodes and each element. (n_pairs + n_elements,) [V]"""
        return self.network.across(x)

    def residual(self, linear: Floats, x: Floats) -> Floats:
        """Current left over at each node, held ones left out. (n_nodes,) [A]"""
        return self.with_drawn(linear, self.laws.current_a(self.pair_v(x)))

    def with_drawn(self, linear: Floats, drawn_a: Floats) -> Floats:
        """The copper's current at each node with what the pairs and elements draw. (n_nodes,) [A]"""
        left = linear.copy()
        self.network.draw_from(left, -drawn_a)
        left[self.held] = 0
        return left


def _from_few(
    network: Network, laws: PixelLaws, held: NDArray[np.bool_], supply_s: Floats, source_a: Floats, start: Floats
) -> Floats | None:  # fmt: skip
    """Voltages of a long network as one with few of its nodes has them; None for a short one. (n_nodes,) [V]"""
    few = coarsened(network, laws)
    if few is None:
        return None
    at = few.nodes
    system = system_for(few.network, held[at], supply_s[at])
    node_v, *_ = _newton(system, few.network, few.laws, held[at], source_a[at], start[at], None)
    return few.spread(node_v)


def _first_guess(system: LinearSystem, still: _Still, source_a: Floats, start: Floats) -> Floats:
    """Pixels taken as resistors that draw their full current at part of the supply's voltage.

    Such a network sags but never goes negative, so Newton begins on pieces of the laws near the right ones.
    """
    v = still.pair_v(start)
    pair_s = still.laws.current_a(v) / np.maximum(GUESS_SHARE * v, 1e-9)
    residual = still.with_drawn(system.multiply(start) - source_a, pair_s * v)
    return start + system.factor(pair_s)(-residual)


def _search(
    still: _Still, linear: Floats, along: Floats, x: Floats, step: Floats, falling: float, flat: float
) -> tuple[float, Floats]:  # fmt: skip
    """How far to go along the step: all the way, or to where the convex function, ``falling`` at first, does not fall
    any more; a slope up to ``flat`` counts as level."""
    low, reach = 0.0, 1.0
    for _ in range(12):
        residual = still.residual(linear + reach * along, x + reach * step)
        slope = float(residual @ step)
        if slope <= max(1e-12, flat):
            return reach, residual
        high = reach
        reach = low + (high - low) * min(0.9, max(0.1, -falling / (slope - falling)))
    return reach, still.residual(linear + reach * along, x + reach * step)
