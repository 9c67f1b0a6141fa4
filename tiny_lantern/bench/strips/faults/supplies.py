"""Supplies of strips: set too low, or at their limit."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

import numpy as np

from tiny_lantern.bench.fault import Sizes
from tiny_lantern.bench.strips.alter import with_supply
from tiny_lantern.bench.strips.fault import Place, Size, StripFault, StripFaultKind, Sweep
from tiny_lantern.bench.strips.plan import StripPlan, World
from tiny_lantern.bench.strips.solve import solved
from tiny_lantern.electrical.newton import supply_current_a
from tiny_lantern.model.quantities import amps, volts

LOW, LIMIT = (0.70, 0.98), (0.30, 0.98)
POINTS, READ, CURVE = 16, 96, 48
LEAST_SHARE = 0.05


def _between(shares: tuple[float, float], whole: float) -> Sizes:
    return Sizes(shares[0] * whole, shares[1] * whole, POINTS, READ)


def _low(plan: StripPlan) -> Iterator[Sweep]:
    def world(place: Place, size: Size) -> World:
        return World(with_supply(plan.network, int(place["supply"]), float(size["open_circuit_V"])))

    for number, supply in enumerate(plan.network.supplies):
        sizes = _between(LOW, supply.open_v)
        yield Sweep("supply_low", ({"supply": number},), world, "open_circuit_V", sizes)


def _limited(plan: StripPlan) -> Iterator[Sweep]:
    """At its limit a supply's voltage falls until the strips take no more: found on the curve of what they take."""

    @cache
    def curve(number: int) -> tuple[np.ndarray, np.ndarray]:
        open_v = np.linspace(LEAST_SHARE, 1.0, CURVE) * plan.network.supplies[number].open_v
        return open_v, np.array([_taken_a(plan, number, each) for each in open_v.tolist()])

    def world(place: Place, size: Size) -> World:
        number = int(place["supply"])
        open_v, taken_a = curve(number)
        limited_v = float(np.interp(float(size["limit_A"]), np.maximum.accumulate(taken_a), open_v))
        return World(plan.network, test_network=with_supply(plan.network, number, limited_v))

    for number in range(len(plan.network.supplies)):
        demand_a = float(curve(number)[1][-1])
        if demand_a > 0:
            yield Sweep("supply_limited", ({"supply": number},), world, "limit_A", _between(LIMIT, demand_a))


def _taken_a(plan: StripPlan, number: int, open_v: float) -> float:
    network = with_supply(plan.network, number, open_v)
    return float(supply_current_a(network, solved(World(network), plan, plan.sent).node_v)[number])


def _name(plan: StripPlan, fault: StripFault) -> str:
    return f"“{plan.build.supplies[int(fault.place['supply'])].name}”"


KINDS = (
    StripFaultKind(
        "supply_low",
        lambda plan, fault: f"{_name(plan, fault)} is set to {volts(float(fault.size['open_circuit_V']))}", _low,
    ),
    StripFaultKind(
        "supply_limited",
        lambda plan, fault: f"{_name(plan, fault)} delivers {amps(float(fault.size['limit_A']))} and no more", _limited,
    ),
)  # fmt: skip
