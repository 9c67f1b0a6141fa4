"""Room for what is behind the lights: passages that wires go through, boxes that supplies and boards sit in."""

from __future__ import annotations

import math
from collections.abc import Collection
from typing import Annotated

from pydantic import Field

from tiny_lantern.model.base import Coordinate, Frozen, Id, Name, revise
from tiny_lantern.model.refers import Refers

Size = Annotated[float, Field(gt=0, le=10)]


class Room(Frozen):
    """What passages and boxes have in common: a name, and a place in the picture."""

    id: Id
    name: Name
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0


class Passage(Room):
    """A hole that wires go through. A feed whose way in the picture leads through it is counted by itself; ``others``
    are further conductors, each so thick outside."""

    diameter_m: Size = 0.008
    others: Annotated[int, Field(ge=0, le=500)] = 0
    other_outer_m: Size = 0.0015

    def holds_point(self, x_m: float, y_m: float) -> bool:
        """Whether a point of the picture lies in it.

        Args:
            x_m: from the left. [m]
            y_m: up. [m]
        """
        return math.hypot(x_m - self.x_m, y_m - self.y_m) <= self.diameter_m / 2 + 1e-9


class Content(Frozen):
    """Something else that sits in a box, such as a board or a battery, by its outer sizes."""

    name: Name
    sizes_m: tuple[Size, Size, Size]


class Box(Room):
    """A box by its inner sizes: as wide and high as in the picture, and so deep. It holds supplies and other things."""

    width_m: Size = 0.12
    height_m: Size = 0.08
    depth_m: Size = 0.05
    supply_ids: Annotated[tuple[Annotated[Id, Refers("supplies")], ...], Field(max_length=50)] = ()
    contents: Annotated[tuple[Content, ...], Field(max_length=50)] = ()

    @property
    def sizes_m(self) -> tuple[float, float, float]:
        """Inner width, height and depth. [m]"""
        return self.width_m, self.height_m, self.depth_m

    def without(self, ids: Collection[str]) -> Box:
        """What it still holds when some supplies are gone."""
        return revise(self, supply_ids=tuple(each for each in self.supply_ids if each not in ids))
