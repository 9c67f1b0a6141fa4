"""The equations of a circuit: what leaves each node, and how it changes with the voltages.

The unknowns are the voltages of all nodes but ground, then the current of each collector. Row by row: what leaves a
node is nothing (Kirchhoff), and each collector is off, saturated or carries its gain.
"""

from __future__ import annotations

from collections.abc import Callable
from copy import copy
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.families import Collectors, Family, Ramps, Regulators, Switches
from tiny_lantern.circuit.laws import Laws

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
NONE = np.zeros(0, np.int64)


class NotSolvedError(ArithmeticError):
    """No voltages were found at which every law holds."""


@dataclass(frozen=True, eq=False)
class Slopes:
    """How the equations change at a point: the values of the matrix's entries, (n_entries,), and which part of its law
    holds for each branch, (n_branches,)."""

    entries: Floats
    modes: Ints


class Equations:
    """A circuit's equations.

    Args:
        laws: its branches.
        leak_s: conductance of each named node to ground. [S]
    """

    def __init__(self, laws: Laws, leak_s: float) -> None:
        self.laws = laws
        self.nodes = laws.count
        self.size = laws.count + len(laws.collected)
        self.ramps = Ramps(laws)
        self.collectors = Collectors(laws.collected, self.nodes)
        self.regulators = Regulators(laws.regulated)
        every: tuple[Family, ...] = (self.ramps, Switches(laws.switched), self.collectors, self.regulators)
        self.families = tuple(family for family in every if len(family.start))
        self.leak_s = np.zeros(self.nodes)
        self.leak_s[list(laws.names.values())] = leak_s
        self.leak_s[0] = 0.0
        self.draw_start = np.array([laws.regulated[c.regulated].entry for c in laws.converted], np.int64)
        self.draw_end = np.array([laws.regulated[c.regulated].zero for c in laws.converted], np.int64)
        self.start = np.concatenate([NONE, *(family.start for family in self.families), self.draw_start])
        self.end = np.concatenate([NONE, *(family.end for family in self.families), self.draw_end])
        self._lay_out()

    def _lay_out(self) -> None:
        """Where each entry of the matrix comes from; ground's row and column are left out."""
        diagonal = np.arange(self.nodes)
        rows = np.concatenate([*(family.rows for family in self.families), diagonal])
        columns = np.concatenate([*(family.columns for family in self.families), diagonal])
        self._kept = np.flatnonzero((rows > 0) & (columns > 0))
        place = (columns[self._kept] - 1) * self.size + rows[self._kept] - 1
        unique, self._entry = np.unique(place, return_inverse=True)
        self._row = (unique % self.size).astype(np.int32)
        column = unique // self.size
        self._first = np.searchsorted(column, np.arange(self.size)).astype(np.int32)

    def softened(self, edge_v: float) -> Equations:
        """The same circuit with channels that begin to conduct that much earlier, little by little.

        Args:
            edge_v: below the first point of a table. [V]
        """
        other = copy(self)
        soft = Switches(self.laws.switched, edge_v)
        other.families = tuple(soft if isinstance(each, Switches) else each for each in self.families)
        return other

    def without_ramps(self, gone: Ints) -> Equations:
        """The same circuit with some ramps that carry nothing.

        Args:
            gone: their numbers, (n,). [-]
        """
        other = copy(self)
        other.ramps = copy(self.ramps)
        other.ramps.siemens = self.ramps.siemens.copy()
        other.ramps.siemens[gone] = 0.0
        other.families = tuple(other.ramps if each is self.ramps else each for each in self.families)
        return other

    @property
    def places(self) -> tuple[Ints, Ints]:
        """Row and column of each entry of the matrix, ground's being 0. (n_entries,) each"""
        columns = np.repeat(np.arange(self.size - 1), np.diff(self._first)) if self.size > 1 else NONE
        return self._row.astype(np.int64) + 1, columns + 1

    def leaking(self, siemens: float) -> Equations:
        """The same circuit with more leak from each node to ground.

        Args:
            siemens: how much more. [S]
        """
        other = copy(self)
        other.leak_s = self.leak_s + siemens
        return other

    def currents_a(self, unknown: Floats, drawn_a: Floats) -> Floats:
        """The current of each branch. (n_branches,) [A]

        Args:
            unknown: voltages of all nodes and currents of the collectors, (n_unknowns,). [V], [A]
            drawn_a: what each converter draws at its entry, (n_converters,). [A]
        """
        return np.concatenate([*(family.currents_a(unknown) for family in self.families), drawn_a])

    def left_over(self, unknown: Floats, drawn_a: Floats) -> Floats:
        """What is left over in each row, nothing where the equations hold. (n_unknowns,) [A]

        Args:
            unknown: voltages of all nodes and currents of the collectors, (n_unknowns,). [V], [A]
            drawn_a: what each converter draws at its entry, (n_converters,). [A]
        """
        current_a = self.currents_a(unknown, drawn_a)
        found = self._sums(self.start, current_a, self.size) - self._sums(self.end, current_a, self.size)
        found[: self.nodes] += self.leak_s * unknown[: self.nodes]
        found[0] = 0.0
        if len(self.collectors.own):
            found[self.nodes :] = self.collectors.left_over(unknown)
        return found

    def slopes(self, unknown: Floats) -> Slopes:
        """How the equations change at a point.

        Args:
            unknown: voltages of all nodes and currents of the collectors, (n_unknowns,). [V], [A]
        """
        values = np.concatenate([*(family.entries(unknown) for family in self.families), self.leak_s])
        entries = self._sums(self._entry, values[self._kept], len(self._row))
        return Slopes(entries, np.concatenate([NONE, *(family.modes(unknown) for family in self.families)]))

    @staticmethod
    def _sums(place: Ints, values: Floats, count: int) -> Floats:
        return np.asarray(np.bincount(place, values, count), np.float64)

    def factored(self, entries: Floats) -> Callable[[Floats], Floats]:
        """A solver of the matrix with these entries, for right sides of (n_unknowns,) without ground's row.

        Args:
            entries: their values, (n_entries,). [S]

        Raises:
            NotSolvedError: the matrix is singular.
        """
        from scipy.sparse import csc_array  # loaded by the first solve, not before the window is there
        from scipy.sparse.linalg import splu

        count = self.size - 1
        matrix = csc_array((entries, self._row, self._first), shape=(count, count))
        try:
            return splu(matrix, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.1).solve  # type: ignore[no-any-return]
        except RuntimeError as error:  # what the library raises where the matrix is singular
            raise NotSolvedError("nothing holds some voltage of the circuit") from error

    def draws_a(self, unknown: Floats) -> Floats:
        """What each converter draws at its entry for what it delivers: ``v_out · I / (η · max(v_in, 1 V))``  (1).
        (n_converters,) [A]

        Args:
            unknown: voltages of all nodes and currents of the collectors, (n_nodes + n_collectors,). [V], [A]
        """
        delivered_a = self.regulators.currents_a(unknown)
        found = []
        for converter in self.laws.converted:
            stage = self.laws.regulated[converter.regulated]
            in_v = max(float(unknown[stage.entry] - unknown[stage.zero]), 1.0)
            out_v = float(unknown[stage.out] - unknown[stage.zero])
            found.append(out_v * float(delivered_a[converter.regulated]) / (converter.efficiency * in_v))  # (1)
        return np.array(found)
