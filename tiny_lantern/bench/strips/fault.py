"""Kinds of faults of strips: where each can be, in which sizes, and the strips as they would then be."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from tiny_lantern.bench.fault import Sizes
from tiny_lantern.bench.strips.plan import StripPlan, World

Place = dict[str, int | str]
Size = dict[str, float | str]


@dataclass(frozen=True, eq=False)
class StripFault:
    """One fault: its kind, its place and its size, each by their names. [-], [ohm], [V], [A], [mm²], [1/m]"""

    kind: str
    place: Place
    size: Size


@dataclass(frozen=True, eq=False)
class Sweep:
    """A kind of fault at places in a row, along which readings change smoothly but where a meter was put: places, and
    for each the sizes that it may have, a range of one number or a few ones told singly."""

    kind: str
    places: tuple[Place, ...]
    world: Callable[[Place, Size], World]
    size_name: str = ""
    sizes: Sizes | None = None
    singly: tuple[Size, ...] = ({},)
    along: str = ""

    def fault(self, place: Place, size: Size) -> StripFault:
        """One of its faults.

        Args:
            place: where.
            size: how much.
        """
        return StripFault(self.kind, place, size)

    @property
    def solved(self) -> tuple[Size, ...]:
        """The sizes that are worked out."""
        if self.sizes is None:
            return self.singly
        return tuple({self.size_name: float(value)} for value in self.sizes.points)

    @property
    def read(self) -> tuple[Size, ...]:
        """The sizes that are compared with readings."""
        if self.sizes is None:
            return self.singly
        return tuple({self.size_name: float(value)} for value in self.sizes.fine)


@dataclass(frozen=True)
class StripFaultKind:
    """A kind of fault of strips: where it can be, and what a person reads of it."""

    kind: str
    words: Callable[[StripPlan, StripFault], str]
    sweeps: Callable[[StripPlan], Iterator[Sweep]]
