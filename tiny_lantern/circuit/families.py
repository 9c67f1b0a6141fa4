"""The families of branches: currents, slopes and modes of many at once.

A slope belongs to a branch and to a control voltage: the current from ``start`` to ``end`` changes with the voltage of
``plus`` above ``minus``, which puts four entries into the matrix.
"""

from __future__ import annotations

from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.laws import Collected, Laws, Regulated, Switched

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
CORNER_S, EDGE_V = 1.0, 1e-3


class Family(Protocol):
    """Branches of one law."""

    start: Ints
    end: Ints
    rows: Ints
    columns: Ints

    def currents_a(self, unknown: Floats) -> Floats:
        """The current of each branch. (n,) [A]

        Args:
            unknown: voltages of all nodes, then currents of the collectors, (n_unknowns,). [V], [A]
        """
        ...

    def entries(self, unknown: Floats) -> Floats:
        """The values of its entries in the matrix, in the order of ``rows``. (n_entries,)

        Args:
            unknown: voltages of all nodes, then currents of the collectors, (n_unknowns,). [V], [A]
        """
        ...

    def modes(self, unknown: Floats) -> Ints:
        """Which part of its law holds for each branch. (n,)

        Args:
            unknown: voltages of all nodes, then currents of the collectors, (n_unknowns,). [V], [A]
        """
        ...


def _four(start: Ints, end: Ints, plus: Ints, minus: Ints) -> tuple[Ints, Ints]:
    """Rows and columns of the four entries of each slope, each (4 n,)."""
    return np.concatenate([start, start, end, end]), np.concatenate([plus, minus, plus, minus])


def _signed(slope: Floats) -> Floats:
    """The values of the four entries of each slope. (4 n,)"""
    return np.concatenate([slope, -slope, -slope, slope])


class Ramps:
    """Branches whose current climbs with their own voltage inside a range: ``I = g · (clip(v, low, high) − zero)``
    (1)."""

    def __init__(self, laws: Laws) -> None:
        self.start, self.end = np.array(laws.start, np.int64), np.array(laws.end, np.int64)
        self.siemens = np.array(laws.siemens)
        self.low_v, self.high_v, self.zero_v = np.array(laws.low_v), np.array(laws.high_v), np.array(laws.zero_v)
        self.rows, self.columns = _four(self.start, self.end, self.start, self.end)

    def _across(self, unknown: Floats) -> Floats:
        return unknown[self.start] - unknown[self.end]

    def currents_a(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        held = np.minimum(np.maximum(self._across(unknown), self.low_v), self.high_v)
        return np.asarray(self.siemens * (held - self.zero_v))  # (1)

    def entries(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        return _signed(np.where(self.modes(unknown) == 0, self.siemens, 0.0))

    def modes(self, unknown: Floats) -> Ints:
        """-1 below its range, 0 inside, 1 above. (n,)

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        across = self._across(unknown)
        return (across > self.high_v).astype(np.int64) - (across < self.low_v)


class Switches:
    """Channels with ``I = v(start, end) / R``, R from a table over a control voltage, linear between its points; the
    last value above them, off below the first  (1). A circuit that has to sit at that jump does so on a slope of a
    millivolt  (2), where nobody tells what the part really does."""

    def __init__(self, switched: list[Switched], edge_v: float = EDGE_V) -> None:
        self.edge_v = edge_v
        self.start = np.array([each.start for each in switched], np.int64)
        self.end = np.array([each.end for each in switched], np.int64)
        self.plus = np.array([each.plus for each in switched], np.int64)
        self.minus = np.array([each.minus for each in switched], np.int64)
        points = max((len(each.table_v) for each in switched), default=1)
        self.table_v = np.array([_padded(each.table_v, points, np.inf) for each in switched]).reshape(-1, points)
        last = [_padded(each.table_ohm, points, each.table_ohm[-1]) for each in switched]
        self.table_ohm = np.array(last).reshape(-1, points)
        self._each = np.arange(len(switched))
        self._lay_out_segments()
        own = _four(self.start, self.end, self.start, self.end)
        of_gate = _four(self.start, self.end, self.plus, self.minus)
        self.rows = np.concatenate([own[0], of_gate[0]])
        self.columns = np.concatenate([own[1], of_gate[1]])

    def _lay_out_segments(self) -> None:
        """The line of each piece of each table, by how many of its points are reached: none, the first, ..., all."""
        count, points = self.table_v.shape
        rising = np.isfinite(self.table_v)
        self._slope, self._first_v = np.zeros((count, points + 1)), np.zeros((count, points + 1))
        self._first_ohm, self._conducts = np.ones((count, points + 1)), np.ones((count, points + 1))
        self._conducts[:, 0] = 0.0
        self._first_ohm[:, 1:] = self.table_ohm
        self._first_v[:, 1:] = np.where(rising, self.table_v, 0.0)
        between = rising[:, 1:]
        step_v = np.where(between, np.diff(np.where(rising, self.table_v, 0.0), axis=1), 1.0)
        self._slope[:, 1:points] = np.where(between, np.diff(self.table_ohm, axis=1) / step_v, 0.0)

    def modes(self, unknown: Floats) -> Ints:
        """How many points of its table lie at or below the control voltage, -1 just below the first; 0 is off. (n,)

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        control = self._control(unknown)
        reached = (control[:, None] >= self.table_v).sum(axis=1)
        return np.where((reached == 0) & (control > self.table_v[:, 0] - self.edge_v), -1, reached)

    def _control(self, unknown: Floats) -> Floats:
        return np.asarray(unknown[self.plus] - unknown[self.minus])

    def siemens(self, unknown: Floats) -> tuple[Floats, Floats]:
        """Conductance of each, and its change with the control voltage. (n,) [S], [S/V]

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        segment, each, control = self.modes(unknown), self._each, self._control(unknown)
        slope = self._slope[each, segment]
        ohm = self._first_ohm[each, segment] + slope * (control - self._first_v[each, segment])
        found = self._conducts[each, segment] / ohm
        change = -slope * found / ohm
        edge = segment < 0
        if edge.any():
            edge_s = (control - self.table_v[:, 0] + self.edge_v) / self.edge_v / self.table_ohm[:, 0]  # (2)
            found = np.where(edge, edge_s, found)
            change = np.where(edge, 1 / self.edge_v / self.table_ohm[:, 0], change)
        return found, change

    def currents_a(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        return np.asarray((unknown[self.start] - unknown[self.end]) * self.siemens(unknown)[0])  # (1)

    def entries(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        found, change = self.siemens(unknown)
        across = unknown[self.start] - unknown[self.end]
        return np.concatenate([_signed(found), _signed(across * change)])


def _padded(values: tuple[float, ...], count: int, last: float) -> list[float]:
    return [*values, *(last for _ in range(count - len(values)))]


class Collectors:
    """Collector branches, each with a current of its own among the unknowns.

    Three states: off, ``I = 0``; saturated, ``v = v_sat``; active, ``I = β · I_b``. Which one holds is where
    ``I + g · (v − v_sat)`` lies against 0 and ``β · I_b``  (1), so all three are one equation.

    Source: the projection form of a complementarity; any text on it.
    """

    def __init__(self, collected: list[Collected], first: int) -> None:
        self.start = np.array([each.start for each in collected], np.int64)
        self.end = np.array([each.end for each in collected], np.int64)
        self.plus = np.array([each.base_plus for each in collected], np.int64)
        self.minus = np.array([each.base_minus for each in collected], np.int64)
        self.base_v = np.array([each.base_v for each in collected])
        self.base_ohm = np.array([each.base_ohm for each in collected])
        self.gain = np.array([each.gain for each in collected])
        self.saturation_v = np.array([each.saturation_v for each in collected])
        self.more_a = np.array([each.most_a for each in collected])
        self.own = first + np.arange(len(collected))
        own = self.own
        self.rows = np.concatenate([self.start, self.end, own, own, own, own, own])
        self.columns = np.concatenate([own, own, own, self.start, self.end, self.plus, self.minus])

    def currents_a(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        return np.asarray(unknown[self.own])

    def most_a(self, unknown: Floats) -> Floats:
        """The gain times the current of each base. (n,) [A]

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        base_v = unknown[self.plus] - unknown[self.minus]
        return np.asarray(self.more_a + self.gain * np.maximum(base_v - self.base_v, 0.0) / self.base_ohm)

    def _past_corner(self, unknown: Floats) -> Floats:
        return np.asarray(CORNER_S * (unknown[self.start] - unknown[self.end] - self.saturation_v))

    def modes(self, unknown: Floats) -> Ints:
        """0 off, 1 saturated, 2 active, 3 as much as no base current allows. (n,)

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        reached, most = unknown[self.own] + self._past_corner(unknown), self.most_a(unknown)
        return np.where(reached <= 0.0, 0, np.where(reached < most, 1, np.where(most > 0.0, 2, 3)))

    def left_over(self, unknown: Floats) -> Floats:
        """What is left over in the equation of each. (n,) [A]

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        reached = unknown[self.own] + self._past_corner(unknown)
        return np.asarray(unknown[self.own] - np.minimum(np.maximum(reached, 0.0), self.most_a(unknown)))  # (1)

    def entries(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        modes = self.modes(unknown)
        own = np.where(modes == 1, 0.0, 1.0)
        corner = np.where(modes == 1, CORNER_S, 0.0)
        base = np.where(modes == 2, self.gain / self.base_ohm, 0.0)
        one = np.ones(len(modes))
        return np.concatenate([one, -one, own, -corner, corner, -base, base])


class Regulators:
    """What holds its output behind a resistance: ``I = (min(set, v_in − headroom) − v_out)+ / R``  (1), all above its
    zero."""

    def __init__(self, regulated: list[Regulated]) -> None:
        self.start = np.array([each.source for each in regulated], np.int64)
        self.end = np.array([each.out for each in regulated], np.int64)
        self.entry = np.array([each.entry for each in regulated], np.int64)
        self.zero = np.array([each.zero for each in regulated], np.int64)
        self.set_v = np.array([each.set_v for each in regulated])
        self.headroom_v = np.array([each.headroom_v for each in regulated])
        self.ohm = np.array([each.ohm for each in regulated])
        of_out = _four(self.start, self.end, self.end, self.zero)
        of_in = _four(self.start, self.end, self.entry, self.zero)
        self.rows = np.concatenate([of_out[0], of_in[0]])
        self.columns = np.concatenate([of_out[1], of_in[1]])

    def _open_v(self, unknown: Floats) -> tuple[Floats, Floats]:
        """What its entry leaves, and how far that or what it is set to lies above its output. [V]"""
        left = unknown[self.entry] - unknown[self.zero] - self.headroom_v
        return left, np.minimum(self.set_v, left) - (unknown[self.end] - unknown[self.zero])

    def currents_a(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        return np.asarray(np.maximum(self._open_v(unknown)[1], 0.0) / self.ohm)  # (1)

    def modes(self, unknown: Floats) -> Ints:
        """0 delivers nothing, 1 holds what it is set to, 2 follows its entry. (n,)

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        left, above = self._open_v(unknown)
        return np.where(above <= 0.0, 0, np.where(left < self.set_v, 2, 1))

    def entries(self, unknown: Floats) -> Floats:
        """See ``Family``.

        Args:
            unknown: see ``Family``, (n_unknowns,). [V], [A]
        """
        modes = self.modes(unknown)
        out, entry = np.where(modes > 0, 1 / self.ohm, 0.0), np.where(modes == 2, 1 / self.ohm, 0.0)
        return np.concatenate([_signed(-out), _signed(entry)])
