"""Every copper of a build that a current may overload, in one order, and what each may carry."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import Network, part_of
from tiny_lantern.electrical.ohms import connector_of, wire_of
from tiny_lantern.model.build import Build

Floats = NDArray[np.float64]
FEED_COPPERS = ("out wire", "out connector", "back wire", "back connector")
SIDES = ("positive", "return")


@dataclass(frozen=True)
class Copper:
    """One copper: what it is (``feed``, ``run``, ``joint``, ``bus`` or ``tap``), which one by its number in the build,
    and which of its parts."""

    kind: str
    number: int
    part: str


@dataclass(frozen=True)
class Coppers:
    """All coppers: feeds, then runs, joints, buses and taps; what each may carry, (n_coppers,), and where each kind
    begins. [A]"""

    limit_a: Floats
    first_run: int
    first_joint: int
    first_bus: int
    first_tap: int

    def at(self, place: int) -> Copper:
        """The copper at a place in the order."""
        if place < self.first_run:
            return Copper("feed", place // 4, FEED_COPPERS[place % 4])
        starts = (
            ("run", self.first_run),
            ("joint", self.first_joint),
            ("bus", self.first_bus),
            ("tap", self.first_tap),
        )
        kind, first = next((kind, first) for kind, first in reversed(starts) if place >= first)
        return Copper(kind, (place - first) // 2, SIDES[(place - first) % 2])


def coppers_of(build: Build, network: Network) -> Coppers:
    """The coppers of a build; a run's number is its place among the network's runs."""
    limits: list[float] = []
    for feed in build.feeds:
        for side in (feed.positive, feed.negative):
            connector = connector_of(build, side)
            limits += [wire_of(build, side).limit_a, connector.limit_a if connector else np.inf]
    first_run = len(limits)
    for run in network.runs:
        part = part_of(build, run.strip)
        limits += [part.rail_limit_a, part.return_limit_a or part.rail_limit_a]
    first_joint = len(limits)
    limits += [joint.limit_a for joint in build.joints for _ in SIDES]
    first_bus = len(limits)
    limits += [bus.limit_a for bus in build.buses for _ in SIDES]
    first_tap = len(limits)
    limits += [bus.tap_limit_a for bus in build.buses for _ in SIDES]
    return Coppers(np.array(limits, float), first_run, first_joint, first_bus, first_tap)
