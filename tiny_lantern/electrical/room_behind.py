"""What the room behind holds: the conductors through a passage and the hole they need, the contents of a box."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.ohms import wire_of
from tiny_lantern.model.edits_room import feeds_through
from tiny_lantern.model.room import Box, Passage

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

Sizes = tuple[float, float, float]
FILL = {1: 0.53, 2: 0.31}
FILL_OF_MORE = 0.40


def conductors_m(build: Build, hole: Passage) -> list[float]:
    """How thick each conductor through a passage is outside, two of each feed that leads through it. (n,) [m]"""
    own = [
        wire_of(build, side).outside_m for feed in feeds_through(build, hole) for side in (feed.positive, feed.negative)
    ]
    return [*own, *[hole.other_outer_m] * hole.others]


def fill_of(count: int) -> float:
    """How much of a hole so many conductors may fill. [-]

    One more than half, two least, since two lie badly beside each other.

    Args:
        count: conductors. [-]

    Source: the usual rule for wires in tubes, 53, 31 and 40 % of the area for one, two and more; any wiring handbook.
    """
    return FILL.get(count, FILL_OF_MORE)


def needed_diameter_m(outer_m: list[float]) -> float:
    """The hole that some conductors need: ``d = √(Σ dᵢ² / fill)``  (1). [m]

    Args:
        outer_m: how thick each is outside, (n,). [m]

    Source: areas of circles; see ``fill_of`` for the fill.
    """
    return math.sqrt(sum(each**2 for each in outer_m) / fill_of(len(outer_m))) if outer_m else 0.0  # (1)


def contents_of(build: Build, case: Box) -> list[tuple[str, Sizes]]:
    """What is in a box with its outer sizes; a supply whose sizes nobody gave is left out. [m]"""
    held = [(content.name, content.sizes_m) for content in case.contents]
    for supply in build.supplies:
        sizes = supply_part(build, supply.id).sizes_m
        if supply.id in case.supply_ids and sizes is not None:
            held.append((supply.name, sizes))
    return held
