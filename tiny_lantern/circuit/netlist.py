"""A circuit as it stands: elements between named nodes, and ground; solved for one still state."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.element import At, Element, Reading
from tiny_lantern.circuit.elements.stages import Converter
from tiny_lantern.circuit.equations import Equations
from tiny_lantern.circuit.families import Switches
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.newton import Solved, solve

Floats = NDArray[np.float64]
LEAK_OHM = 10e6


@dataclass(frozen=True, eq=False)
class Netlist:
    """Elements between nodes, which exist by being named; ``ground`` is the node at 0 V. Every other named node has a
    leak to it, about what a meter is."""

    elements: tuple[Element, ...]
    ground: str = "0"
    leak_ohm: float = LEAK_OHM

    @cached_property
    def laid(self) -> Laid:
        """Its branches and equations, made once."""
        laws, shares = Laws(self.ground), []
        for element in self.elements:
            shares.append(_Share.before(laws))
            element.lay(laws)
        shares.append(_Share.before(laws))
        return Laid(Equations(laws, 1 / self.leak_ohm), tuple(shares))


@dataclass(frozen=True)
class _Share:
    """How many nodes and branches of each family there were before an element."""

    nodes: int
    families: tuple[int, ...]

    @classmethod
    def before(cls, laws: Laws) -> _Share:
        return cls(laws.count, laws.counts())


@dataclass(frozen=True, eq=False)
class Laid:
    """Equations, and which branches are whose."""

    equations: Equations
    shares: tuple[_Share, ...]

    @cached_property
    def firsts(self) -> tuple[int, ...]:
        """Where each family begins among all branches. (n_families,)"""
        return tuple(np.concatenate([[0], np.cumsum(self.shares[-1].families)]).tolist())

    def branches(self, number: int) -> NDArray[np.int64]:
        """The branches of one element, family by family. (n,)

        Args:
            number: the element's number.
        """
        mine, after = self.shares[number].families, self.shares[number + 1].families
        return np.concatenate(
            [np.arange(first + low, first + high) for first, low, high in zip(self.firsts, mine, after, strict=False)]
        )


@dataclass(frozen=True, eq=False)
class Solution:
    """A circuit and the voltages at which all its laws hold."""

    netlist: Netlist
    solved: Solved

    @cached_property
    def branch_a(self) -> Floats:
        """The current of each branch. (n_branches,) [A]"""
        return self._equations.currents_a(self.solved.unknown, self.solved.drawn_a)

    @cached_property
    def branch_w(self) -> Floats:
        """What flows into each branch over its two nodes. (n_branches,) [W]"""
        unknown, equations = self.solved.unknown, self._equations
        return np.asarray(self.branch_a * (unknown[equations.start] - unknown[equations.end]))

    @property
    def _equations(self) -> Equations:
        return self.netlist.laid.equations

    def volts(self, node: str) -> float:
        """Voltage of a node against ground. [V]

        Args:
            node: its name.

        Raises:
            KeyError: there is none of that name.
        """
        return 0.0 if node == self.netlist.ground else float(self.solved.unknown[self._equations.laws.names[node]])

    @cached_property
    def node_v(self) -> dict[str, float]:
        """Voltage of every named node but ground, against it. [V]"""
        return {name: float(self.solved.unknown[number]) for name, number in self._equations.laws.names.items()}

    @property
    def undecided(self) -> int:
        """How many channels sit on the slope just below the first point of their tables, where nobody can say what the
        part does. [-]"""
        edges = (each for each in self._equations.families if isinstance(each, Switches))
        return sum(int((each.modes(self.solved.unknown) < 0).sum()) for each in edges)

    @property
    def leaks_w(self) -> float:
        """What the leaks take. [W]"""
        volts = self.solved.unknown[: self._equations.nodes]
        return float(self._equations.leak_s @ volts**2)

    @cached_property
    def first_a(self) -> Floats:
        """The current of the first ramp of each element, 0 of one without any. (n_elements,) [A]"""
        first = np.array([share.families[0] for share in self.netlist.laid.shares])
        own = np.append(self.branch_a, 0.0)[np.where(first[1:] > first[:-1], first[:-1], len(self.branch_a))]
        return np.asarray(own)

    def reading(self, number: int) -> Reading:
        """What the solution says of one element.

        Args:
            number: its number in the netlist.
        """
        return self.netlist.elements[number].read(self.at(number))

    def at(self, number: int) -> At:
        """The solution as one element sees it.

        Args:
            number: its number in the netlist.
        """
        laid = self.netlist.laid
        own = laid.branches(number)
        return At(self.volts, self.branch_a[own], float(self.branch_w[own].sum()), self._branch_v(own))

    def _branch_v(self, own: NDArray[np.int64]) -> Floats:
        unknown, equations = self.solved.unknown, self._equations
        return np.asarray(unknown[equations.start[own]] - unknown[equations.end[own]])

    @cached_property
    def readings(self) -> dict[str, Reading]:
        """What the solution says of every element, by its id."""
        return {element.id: self.reading(number) for number, element in enumerate(self.netlist.elements)}


def solve_netlist(netlist: Netlist, near: Solution | None = None, patient: bool = True) -> Solution:
    """The voltages at which every law of a circuit holds. A step-up whose input is too low is off for good, and
    everything is solved again without it.

    Args:
        netlist: the circuit.
        near: a solution of a circuit with the same nodes, to start from.
        patient: whether everything is tried, however long that takes.

    Raises:
        NotSolvedError: it was not found.
    """
    start = near.solved if near is not None and _alike(near.netlist, netlist) else None
    solution = Solution(netlist, solve(netlist.laid.equations, start, patient))
    starved = _starved(solution)
    if not starved:
        return solution
    elements = tuple(
        replace(element, off=True) if number in starved and isinstance(element, Converter) else element
        for number, element in enumerate(netlist.elements)
    )
    return solve_netlist(replace(netlist, elements=elements), None, patient)


def _alike(one: Netlist, other: Netlist) -> bool:
    return one.laid.equations.size == other.laid.equations.size


def _starved(solution: Solution) -> Sequence[int]:
    return [
        number
        for number, element in enumerate(solution.netlist.elements)
        if isinstance(element, Converter) and element.starved(solution.at(number))
    ]
