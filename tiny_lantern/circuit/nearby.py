"""Circuits that differ from a solved one in few elements, solved through the inverse of its matrix.

Where a change touches few rows of a matrix J, ``(J + U)⁻¹`` follows from ``J⁻¹`` by a system as small as those rows
(1); laws that change their piece on the way are such rows too.

Source: Woodbury's identity; any text on numerical linear algebra.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.element import At, Element
from tiny_lantern.circuit.equations import Equations, NotSolvedError, Slopes
from tiny_lantern.circuit.families import Ramps, Switches
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.netlist import Netlist, Solution

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
WHOLE_STEPS, MOST_STEPS, MOST_ROUNDS, MOST_HALVES = 8, 24, 30, 6
STILL_V, REST_A, STILL_A, FAR_V = 1e-7, 1e-10, 1e-6, 40.0
LEAST_SHARE, MOST_UNKNOWNS, WORST_CONDITION = 1e-4, 3000, 1e10


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
        """By whole steps, each solved for the pieces that hold where it starts; by such as leave less over once those
        have gone in circles."""
        begun = _Standing(self, without, own, unknown, drawn_a)
        here = begun
        for count in range(MOST_STEPS):
            here = begun if count == WHOLE_STEPS else here
            step = self._step(here.entries, own, here.unknown, here.left)
            whole = float(np.max(np.abs(step), initial=0.0))
            there = here.moved(step, min(1.0, FAR_V / max(whole, FAR_V)))
            for _ in range(MOST_HALVES if count >= WHOLE_STEPS else 0):
                if there.rest < here.rest * (1 - LEAST_SHARE * there.share):
                    break
                there = here.moved(step, there.share / 2)
            if (whole < STILL_V or there.most < REST_A) and np.array_equal(here.modes, there.modes):
                return there.unknown
            here = there
        raise NotSolvedError("the circuit's voltages do not settle")

    def _step(self, entries: Floats, own: _Own, unknown: Floats, left: Floats) -> Floats:
        """The step to where the equations hold if no law changes its piece. (n_unknowns - 1,)"""
        rows, columns, values = self._changed(entries, own, unknown)
        step = -(self.inverse @ left[1:])
        if not len(rows):
            return np.asarray(step)
        touched, place = np.unique(rows, return_inverse=True)
        change = np.zeros((len(touched), len(step)))
        np.add.at(change, (place, columns - 1), values)
        through = self.inverse[:, touched - 1]
        small = np.eye(len(touched)) + change @ through
        if np.linalg.cond(small) > WORST_CONDITION:
            raise NotSolvedError("what is left of the circuit hangs on its leaks")
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


class _Standing:
    """Where a search stands: its unknowns, what is left over there, and how the equations change."""

    def __init__(
        self, base: Nearby, without: Equations, own: _Own, unknown: Floats, drawn_a: Floats, share: float = 1.0
    ) -> None:
        self._given = base, without, own
        self.unknown, self.drawn_a, self.share = unknown, drawn_a, share
        self.left = without.left_over(unknown, drawn_a) + own.into(unknown, len(unknown))
        self.most = float(np.max(np.abs(self.left), initial=0.0))

    @cached_property
    def rest(self) -> float:
        """How much is left over in all rows. [A]"""
        return float(np.linalg.norm(self.left))

    @cached_property
    def _slopes(self) -> Slopes:
        return self._given[1].slopes(self.unknown)

    @property
    def entries(self) -> Floats:
        """The entries of the matrix. (n_entries,) [S]"""
        return self._slopes.entries

    @property
    def modes(self) -> Ints:
        """Which part of its law holds for each branch. (n_branches,)"""
        return self._slopes.modes

    def moved(self, step: Floats, share: float) -> _Standing:
        """Where a share of a step leads."""
        unknown = self.unknown.copy()
        unknown[1:] += share * step
        return _Standing(*self._given, unknown, self.drawn_a, share)


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

    def first_a(self, branches: Ints, names: Sequence[str]) -> Floats:
        """The current of the first branch of many elements, nothing where something else stands in their place. (n,)
        [A]

        Args:
            branches: the first branch of each in the solved circuit, (n,). [-]
            names: their ids. (n,)
        """
        found = self.branch_a[branches]
        for name, element in zip((each.id for each in self.change.instead), self.change.instead, strict=True):
            if name in names:
                kind = type(self.base.netlist.elements[self.base.number[name]])
                found[names.index(name)] = self.current_a(name) if isinstance(element, kind) else 0.0
        return np.asarray(found)

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
