"""What strips really are: rails, pixel current, feeds and set-points fitted to readings by least squares."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from tiny_lantern.bench.strips.alter import SIDES, with_feed, with_supply
from tiny_lantern.bench.strips.plan import TEST, StripPlan, World
from tiny_lantern.bench.strips.probes import Reader, StripReading
from tiny_lantern.bench.strips.solve import solved
from tiny_lantern.electrical.network import Network

Floats = NDArray[np.float64]
INSEPARABLE = 0.98
STEP, WEAK_PRIOR = 1e-4, 1.0
SCALES = {"rail_scale": ("pos", "neg"), "rail_pos_scale": ("pos",), "rail_neg_scale": ("neg",)}
CURRENT, FEED, SUPPLY = "pixel_current_scale", "feed", "supply"


@dataclass(frozen=True)
class StripFit:
    """What was fitted: each parameter, its standard deviation, pairs that the readings cannot tell apart, and how well
    it fits, ``Σ ((read − predicted) / σ)²``."""

    estimate: Mapping[str, float]
    sigma: Mapping[str, float]
    inseparable: tuple[tuple[str, str], ...]
    chi2: float


def fit_names(plan: StripPlan) -> tuple[str, ...]:
    """Everything that may be fitted.

    Args:
        plan: the strips.
    """
    feeds = (f"{FEED}{at}_extra_ohm" for at in range(len(plan.network.feeds)))
    supplies = (f"{SUPPLY}{at}_V" for at in range(len(plan.network.supplies)))
    return (*SCALES, CURRENT, *feeds, *supplies)


def planned_value(plan: StripPlan, name: str) -> float:
    """What a parameter is as planned: 1 of a scale, nothing more of a feed, the set-point of a supply. [-], [ohm], [V]

    Args:
        plan: the strips.
        name: the parameter.

    Raises:
        KeyError: there is no such parameter.
    """
    if name not in fit_names(plan):
        raise KeyError(name)
    if name.startswith(SUPPLY):
        return plan.network.supplies[number_of(name)].open_v
    return 0.0 if name.startswith(FEED) else 1.0


def number_of(name: str) -> int:
    """Which feed or supply a parameter is of. [-]

    Args:
        name: the parameter.

    Raises:
        ValueError: it is of none.
    """
    return int(name.removeprefix(FEED).removeprefix(SUPPLY).split("_")[0])


def world_with(plan: StripPlan, values: Mapping[str, float]) -> World:
    """The strips with other values.

    Args:
        plan: the strips.
        values: parameters by their names.
    """
    network = plan.network
    for name, value in values.items():
        if name.startswith(FEED):
            at = number_of(name)
            feed = network.feeds[at]
            more = replace(feed, pos_ohm=feed.pos_ohm + value / 2, neg_ohm=feed.neg_ohm + value / 2)
            network = with_feed(network, at, more)
    for name, value in values.items():
        if name in SCALES:
            network = _scaled(network, SCALES[name], value)
        elif name.startswith(SUPPLY):
            network = with_supply(network, number_of(name), value)
    return World(network, current_scale=values.get(CURRENT, 1.0))


def _scaled(network: Network, rails: tuple[str, ...], scale: float) -> Network:
    rail_s = network.rail_s.copy()
    for run in network.runs:
        for rail in rails:
            rail_s[run.rails[SIDES[rail]].start] /= scale
    return replace(network, rail_s=rail_s)


def _read(plan: StripPlan, world: World, readings: Sequence[StripReading]) -> Floats:
    """What readings would be. (n_readings,) [V] or [A]"""
    patterns = dict.fromkeys(reading.probe.pattern for reading in readings)
    readers = {
        name: Reader(
            plan, world, world.network, solved(world, plan, plan.pattern(name), None, name == TEST).node_v
        )
        for name in patterns
    }  # fmt: skip
    return np.array([readers[reading.probe.pattern].read(reading.probe) for reading in readings])


def fit_strips(plan: StripPlan, readings: Sequence[StripReading], free: Sequence[str]) -> StripFit:
    """Parameters by weighted least squares, everything else as planned.

    Two are inseparable where their correlation is 0.98 or more while each is held by a weak prior of its own size, 1,
    1 ohm or 1 V  (1).

    Args:
        plan: the strips.
        readings: what was read. (n_readings,)
        free: what to fit. (n_free,)

    Raises:
        KeyError: there is no such parameter.

    Source: Gauss-Newton with the covariance ``(JᵀJ)⁻¹``; any text on regression.
    """
    value = np.array([reading.value for reading in readings])
    sigma = np.array([reading.sigma for reading in readings])

    def off(point: Floats) -> Floats:
        world = world_with(plan, dict(zip(free, point.tolist(), strict=True)))
        return np.asarray((_read(plan, world, readings) - value) / sigma)

    start = np.array([planned_value(plan, name) for name in free])
    found = least_squares(off, start, diff_step=STEP, x_scale=np.maximum(np.abs(start), 0.1))
    jacobian = found.jac
    information = jacobian.T @ jacobian
    held = np.linalg.inv(information + np.eye(len(free)) / WEAK_PRIOR**2)
    spread = np.sqrt(np.diag(held))
    correlation = held / np.outer(spread, spread)
    pairs = tuple(
        (free[one], free[other])
        for one, other in combinations(range(len(free)), 2)
        if abs(correlation[one, other]) >= INSEPARABLE  # (1)
    )
    own = np.sqrt(np.diag(np.linalg.pinv(information)))
    return StripFit(
        dict(zip(free, found.x.tolist(), strict=True)), dict(zip(free, own.tolist(), strict=True)), pairs,
        float(2 * found.cost),
    )  # fmt: skip
