"""Groups: lights named together, in an order of their own that is apart from wiring."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Id, Name
from tiny_lantern.model.effects import SlotRef

MAX_IN_GROUP = 20_000
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


class Group(Frozen):
    """Lights in the order in which an effect that follows the group takes them."""

    id: Id
    name: Name
    slots: Annotated[tuple[SlotRef, ...], Field(min_length=1, max_length=MAX_IN_GROUP)]

    @model_validator(mode="after")
    def _each_once(self) -> Group:
        if len({(ref.piece_id, ref.index) for ref in self.slots}) < len(self.slots):
            raise ValueError("a light is in the group twice")
        return self

    def without(self, piece_ids: Collection[str]) -> Group | None:
        """The group without the lights of some pieces; None when none is left."""
        left = tuple(ref for ref in self.slots if ref.piece_id not in piece_ids)
        return Group(id=self.id, name=self.name, slots=left) if left else None


def _along(x: float, y: float) -> Callable[[Floats], Ints]:
    """In a direction; lights side by side in it keep the order of their wire."""
    return lambda places: np.argsort(np.round(places @ np.array([x, y]), 6), kind="stable")


def inward(places: Floats) -> Ints:
    """Ring by ring from the outermost, each clockwise from the top. (n,)

    Lights whose distances from the middle differ by less than half of what lies between neighbours are one ring.

    Args:
        places: where the lights are, (n, 2), y up. [m]
    """
    off = places - places.mean(axis=0)
    far = np.hypot(off[:, 0], off[:, 1])
    clockwise = np.round(np.arctan2(off[:, 0], off[:, 1]) % (2 * np.pi), 6)
    width = _between_neighbours(places) / 2
    by_distance = np.argsort(-far, kind="stable")
    ring = np.zeros(len(places), np.int64)
    steps = -np.diff(far[by_distance]) > width
    ring[by_distance[1:]] = np.cumsum(steps)
    return np.lexsort((clockwise, ring))


def round_the_middle(places: Floats) -> Ints:
    """Clockwise from the top. (n,)

    Args:
        places: where the lights are, (n, 2), y up. [m]
    """
    off = places - places.mean(axis=0)
    return np.argsort(np.round(np.arctan2(off[:, 0], off[:, 1]) % (2 * np.pi), 6), kind="stable")


def _between_neighbours(places: Floats) -> float:
    """From a light to the nearest other, in the middle of all. [m]"""
    if len(places) < 2:
        return 0.0
    some = places[:: max(1, len(places) // 500)]
    apart = np.hypot(*(some[:, None, side] - places[None, :, side] for side in (0, 1)))
    apart[apart < 1e-9] = np.inf
    return float(np.median(apart.min(axis=1)))


ORDERS: dict[str, Callable[[Floats], Ints]] = {
    "as wired": lambda places: np.arange(len(places)),
    "left to right": _along(1, 0),
    "right to left": _along(-1, 0),
    "top to bottom": _along(0, -1),
    "bottom to top": _along(0, 1),
    "inward rings": inward,
    "outward rings": lambda places: inward(places)[::-1],
    "round the middle": round_the_middle,
}
