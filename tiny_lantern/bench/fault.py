"""What may be wrong: kinds of faults, each with the places where it can be, and the change that it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.plan import Plan
from tiny_lantern.circuit.changes import Change

Floats = NDArray[np.float64]
Name = Callable[[str], str]


@dataclass(frozen=True)
class Fault:
    """One fault: its kind, the element that it is at, where needed which other one it leads ``to`` or at which
    ``terminal`` it is, and its ``size`` in the unit of its kind."""

    kind: str
    place: str = ""
    to: str = ""
    terminal: str = ""
    size: float | None = None


@dataclass(frozen=True)
class Sizes:
    """Sizes that a fault may have, from the least to the greatest: ``solved`` of them are worked out, ``read`` are
    compared with readings, by straight lines between those."""

    least: float
    most: float
    solved: int
    read: int
    by_ratio: bool = False

    @cached_property
    def points(self) -> Floats:
        """Those that are worked out. (solved,)"""
        return self._spread(self.solved)

    @cached_property
    def fine(self) -> Floats:
        """Those that are compared. (read,)"""
        return self._spread(self.read)

    def _spread(self, count: int) -> Floats:
        spread = np.geomspace if self.by_ratio else np.linspace
        return np.asarray(spread(self.least, self.most, count))

    def between(self, values: Floats) -> Floats:
        """What was worked out at the points, at the sizes compared. (read, n) [-]

        Args:
            values: at the points, (solved, n). [-]
        """
        at, to = (np.log(each) if self.by_ratio else each for each in (self.points, self.fine))
        found = np.empty((len(to), values.shape[1]))
        for column, own in enumerate(values.T):
            found[:, column] = np.interp(to, at, own)
        return found


@dataclass(frozen=True)
class Suspect:
    """A kind of fault at one place: the faults that it may be. (n_faults,)"""

    faults: tuple[Fault, ...]
    sizes: Sizes | None = None

    @property
    def kind(self) -> str:
        """The kind of all of them."""
        return self.faults[0].kind

    @property
    def place(self) -> str:
        """The place of all of them."""
        return self.faults[0].place


@dataclass(frozen=True)
class FaultKind:
    """A kind of fault: where it can be in a circuit, the change that one of them is, and what a person reads of it when
    told what elements are called."""

    kind: str
    words: Callable[[Fault, Name], str]
    suspects: Callable[[Plan], Iterator[Suspect]]
    change: Callable[[Plan, Fault], Change]


def sized(kind: str, place: str, sizes: Sizes, least: float = 1.0) -> Suspect:
    """A suspect of many sizes.

    Args:
        kind: the kind of fault.
        place: the element.
        sizes: its sizes, in parts of ``least``.
        least: what the sizes are parts of.
    """
    own = Sizes(sizes.least * least, sizes.most * least, sizes.solved, sizes.read, sizes.by_ratio)
    return Suspect(tuple(Fault(kind, place, size=float(size)) for size in own.points), own)


def single(kind: str, place: str, to: str = "", terminal: str = "") -> Suspect:
    """A suspect that is one fault.

    Args:
        kind: the kind of fault.
        place: the element.
        to: which other one it leads to.
        terminal: at which terminal it is.
    """
    return Suspect((Fault(kind, place, to, terminal),))
