"""Circuits that differ from a solved one in few elements, solved through the inverse of its matrix.

Where a change touches few rows of a matrix J, ``(J + U)⁻¹`` follows from ``J⁻¹`` by a system as small as those rows
(1); laws that change their piece on the way are such rows too.

Source: Woodbury's identity; any text on numerical linear algebra.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.element import At, Element
from tiny_lantern.circuit.equations import Equations, NotSolvedError
from tiny_lantern.circuit.families import Ramps, Switches
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.netlist import Netlist, Solution

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
MOST_STEPS, MOST_ROUNDS = 25, 60
STILL_V, STILL_A, FAR_V = 1e-7, 1e-8, 40.0
MOST_UNKNOWNS = 3000


class Nearby:
    """A solved circuit beside which others are solved that differ in elements made of ramps.

    Args:
        solution: the solved circuit.

    Raises:
        NotSolvedError: its matrix has no inverse, or it is too large for one.
    """

    def __init__(self, solution: Solution) -> None:
        self.netlist: Netlist = solution.netlist
        self.equations: Equations = solution.netlist.laid.equations
        self.unknown, self.drawn_a = solution.solved.unknown, solution.solved.drawn_a
        self.number = {element.id: at for at, element in enumerate(self.netlist.elements)}
        self.slopes = self.equations.slopes(self.unknown)
        self.row, self.column = self.equations.places
        if self.equations.size > MOST_UNKNOWNS:
            raise NotSolvedError("the circuit is too large to be inverted")
        matrix = np.zeros((self.equations.size, self.equations.size))
        matrix[self.row, self.column] = self.slopes.entries
        try:
            self.inverse = np.linalg.inv(matrix[1:, 1:])
        except np.linalg.LinAlgError as error:
            raise NotSolvedError("nothing holds some voltage of the circuit") from error

    def with_change(self, change: Change) -> Beside | None:
        """The circuit with a change laid over it, solved; None where that is no matter of ramps, or does not settle.

        Args:
            change: the change.

        Raises:
            KeyError: the circuit has none of an element's id.
        """
        numbers = [self.number[element.id] for element in change.instead]
        taken = [self.netlist.laid.branches(number) for number in numbers]
        gone = np.concatenate([np.zeros(0, np.int64), *taken])
        own = self._laid(change)
        if own is None or (gone >= len(self.equations.ramps.start)).any():
            return None
        without = self.equations.without_ramps(gone)
        try:
            unknown, drawn_a = self._settled(without, own)
        except (NotSolvedError, np.linalg.LinAlgError):
            return None
        return Beside(self, change, without, own, unknown, drawn_a)

    def _laid(self, change: Change) -> _Own | None:
        """The ramps of a change's elements; None where they are more than ramps, or have nodes of their own."""
        laws = Laws(self.netlist.ground, dict(self.equations.laws.names), self.equations.laws.count)
        firsts = []
        for element in change.instead:
            firsts.append(len(laws.start))
            element.lay(laws)
        more = laws.switched or laws.collected or laws.regulated or laws.converted
        if more or laws.count != self.equations.laws.count:
            return None
        return _Own(Ramps(laws), tuple(firsts))

    def _settled(self, without: Equations, own: _Own) -> tuple[Floats, Floats]:
        """Unknowns and what converters draw."""
        unknown, drawn_a = self.unknown, self.drawn_a
        for _ in range(MOST_ROUNDS):
            unknown = self._leapt(without, own, unknown, drawn_a)
            found_a = without.draws_a(unknown)
            if np.max(np.abs(found_a - drawn_a), initial=0.0) < STILL_A:
                return unknown, drawn_a
            drawn_a = found_a
        raise NotSolvedError("a converter and its source find no point at which both stay")

    def _leapt(self, without: Equations, own: _Own, unknown: Floats, drawn_a: Floats) -> Floats:
        """By whole steps, each solved for the pieces that hold where it starts."""
        for _ in range(MOST_STEPS):
            slopes = without.slopes(unknown)
            step = self._step(slopes.entries, own, unknown, without.left_over(unknown, drawn_a))
            whole = float(np.max(np.abs(step), initial=0.0))
            after = unknown.copy()
            after[1:] += min(1.0, FAR_V / max(whole, FAR_V)) * step
            same = np.array_equal(slopes.modes, without.slopes(after).modes)
            unknown = after
            if whole < STILL_V and same:
                return unknown
        raise NotSolvedError("the circuit's voltages do not settle")

    def _step(self, entries: Floats, own: _Own, unknown: Floats, left_over: Floats) -> Floats:
        """The step to where the equations hold if no law changes its piece. (n_unknowns - 1,)"""
        left = left_over + own.into(unknown, len(left_over))
        rows, columns, values = self._changed(entries, own, unknown)
        step = -(self.inverse @ left[1:])
        if not len(rows):
            return np.asarray(step)
        touched, place = np.unique(rows, return_inverse=True)
        change = np.zeros((len(touched), len(step)))
        np.add.at(change, (place, columns - 1), values)
        through = self.inverse[:, touched - 1]
        small = np.eye(len(touched)) + change @ through
        return np.asarray(step - through @ np.linalg.solve(small, change @ step))  # (1)

    def _changed(self, entries: Floats, own: _Own, unknown: Floats) -> tuple[Ints, Ints, Floats]:
        """Where the matrix is another one than that of the solved circuit, ground left out."""
        more = entries - self.slopes.entries
        at = np.flatnonzero(more)
        rows, columns = (np.concatenate(pair) for pair in ((self.row[at], own.ramps.rows),
                                                           (self.column[at], own.ramps.columns)))  # fmt: skip
        values = np.concatenate([more[at], own.ramps.entries(unknown)])
        kept = (rows > 0) & (columns > 0)
        return rows[kept], columns[kept], values[kept]


@dataclass(frozen=True, eq=False)
class _Own:
    """The ramps of elements that stand in place of others, and the first of each element."""

    ramps: Ramps
    firsts: tuple[int, ...]

    def into(self, unknown: Floats, count: int) -> Floats:
        """What they take from each node. (n_unknowns,) [A]"""
        current_a = self.ramps.currents_a(unknown)
        found = np.bincount(self.ramps.start, current_a, count) - np.bincount(self.ramps.end, current_a, count)
        found[0] = 0.0
        return np.asarray(found)


@dataclass(frozen=True, eq=False)
class Beside:
    """A circuit that differs from a solved one, solved."""

    base: Nearby
    change: Change
    equations: Equations
    own: _Own
    unknown: Floats
    drawn_a: Floats

    @cached_property
    def elements(self) -> tuple[Element, ...]:
        """Its elements."""
        return self.change.over(self.base.netlist).elements

    def volts(self, node: str) -> float:
        """Voltage of a node against ground. [V]

        Args:
            node: its name.

        Raises:
            KeyError: there is none of that name.
        """
        return 0.0 if node == self.base.netlist.ground else float(self.unknown[self.equations.laws.names[node]])

    @cached_property
    def branch_a(self) -> Floats:
        """The current of each branch of the solved circuit's, nothing in those that are gone. (n_branches,) [A]"""
        return self.equations.currents_a(self.unknown, self.drawn_a)

    @cached_property
    def _changed(self) -> Mapping[str, int]:
        return {element.id: at for at, element in enumerate(self.change.instead)}

    def current_a(self, name: str) -> float:
        """The current of an element, by the sign of its kind. [A]

        Args:
            name: its id.
        """
        at = self._changed.get(name)
        if at is None:
            number = self.base.number[name]
            own_a = self.branch_a[self.base.netlist.laid.branches(number)]
            element = self.base.netlist.elements[number]
        else:
            ends = (*self.own.firsts, len(self.own.ramps.start))
            own_a = self.own.ramps.currents_a(self.unknown)[ends[at] : ends[at + 1]]
            element = self.change.instead[at]
        return element.read(At(self.volts, own_a, 0.0, np.zeros(len(own_a)))).current_a

    @property
    def undecided(self) -> int:
        """How many channels sit on the slope just below the first point of their tables. [-]"""
        edges = (each for each in self.equations.families if isinstance(each, Switches))
        return sum(int((each.modes(self.unknown) < 0).sum()) for each in edges)
