"""Solving a circuit's equations: damped Newton on laws that are straight in pieces, converters from outside.

A step solves the equations as they are where it starts; once no law changes its piece, the solution is exact.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.equations import Equations, NotSolvedError, Slopes

Floats = NDArray[np.float64]
SOON_STEPS, FEW_STEPS, MOST_STEPS = 12, 30, 200
EDGES_V = (1.0, 0.1, 0.01)
LEAKS_S = tuple(10.0**-step for step in range(-1, 9))
MOST_ROUNDS, FEW_ROUNDS = 500, 20
LEAST_SHARE = 1e-4
SMALL_A = 1e-9
STILL_V, FAR_V, LEAST_V = 1e-9, 40.0, 1e-7
STILL_A = 1e-12


@dataclass(frozen=True, eq=False)
class Solved:
    """The unknowns of a circuit, (n_nodes + n_collectors,), and what each converter draws, (n_converters,). [V], [A]"""

    unknown: Floats
    drawn_a: Floats


class _Factored:
    """The matrix of the equations, factored anew only where its entries have changed."""

    def __init__(self, equations: Equations) -> None:
        self._equations = equations
        self._entries: Floats | None = None
        self._solve: Callable[[Floats], Floats] | None = None

    def step(self, slopes: Slopes, left_over: Floats) -> Floats:
        """The step to where the equations hold if no law changes its piece, ground's first. (n_unknowns,)"""
        if self._solve is None or self._entries is None or not np.array_equal(self._entries, slopes.entries):
            self._solve, self._entries = self._equations.factored(slopes.entries), slopes.entries
        step = np.zeros(len(left_over))
        step[1:] = self._solve(-left_over[1:])
        return step


def solve(equations: Equations, near: Solved | None = None, patient: bool = True) -> Solved:
    """The voltages at which every law holds.

    Converters draw nothing at first, or what they drew in a solution near by; then what the solution says, again and
    again until that moves no more: of several solutions this is the one with the highest input volts.

    Args:
        equations: the circuit's.
        near: a solution of much the same circuit to start from.
        patient: whether everything is tried, however long that takes.

    Raises:
        NotSolvedError: there is none, or it was not found.
    """
    factored = _Factored(equations)
    drawn_a = np.zeros(len(equations.laws.converted))
    if near is not None and len(near.drawn_a) == len(drawn_a):
        drawn_a = near.drawn_a.copy()
    unknown = _begin(equations, drawn_a) if near is None else _close_by(equations, factored, near.unknown, drawn_a)
    for _ in range(MOST_ROUNDS if patient else FEW_ROUNDS):
        try:
            unknown = _newton(equations, factored, unknown, drawn_a)
        except NotSolvedError:
            if not patient:
                raise
            unknown = _from_elsewhere(equations, drawn_a)
        found_a = equations.draws_a(unknown)
        if np.max(np.abs(found_a - drawn_a), initial=0.0) < STILL_A:
            return Solved(unknown, drawn_a)
        drawn_a = found_a
    raise NotSolvedError("a converter and its source find no point at which both stay")


def _begin(equations: Equations, drawn_a: Floats) -> Floats:
    """Where to begin: at ground, or where channels that begin to conduct early, little by little, lead to."""
    unknown = np.zeros(equations.size)
    for edge_v in EDGES_V if equations.laws.switched else ():
        softened = equations.softened(edge_v)
        with suppress(NotSolvedError):
            unknown = _newton(softened, _Factored(softened), unknown, drawn_a)
    return unknown


def _from_elsewhere(equations: Equations, drawn_a: Floats) -> Floats:
    with suppress(NotSolvedError):
        return _newton(equations, _Factored(equations), _begin(equations, drawn_a), drawn_a)
    return _from_afar(equations, drawn_a)


def _from_afar(equations: Equations, drawn_a: Floats) -> Floats:
    """From a circuit whose every node leaks so much that it lies near ground, in steps to the one that is meant."""
    unknown = np.zeros(equations.size)
    for leak_s in LEAKS_S:
        leaking = equations.leaking(leak_s)
        with suppress(NotSolvedError):
            unknown = _newton(leaking, _Factored(leaking), unknown, drawn_a)
    with suppress(NotSolvedError):
        return _newton(equations, _Factored(equations), unknown, drawn_a, patient=True)
    return _leaping(equations, _Factored(equations), _begin(equations, drawn_a), drawn_a, MOST_STEPS)


def _close_by(equations: Equations, factored: _Factored, unknown: Floats, drawn_a: Floats) -> Floats:
    """Where a few whole steps lead from a solution of much the same circuit; that solution where they do not settle."""
    with suppress(NotSolvedError):
        return _leaping(equations, factored, unknown, drawn_a, SOON_STEPS)
    return unknown.copy()


def _leaping(equations: Equations, factored: _Factored, unknown: Floats, drawn_a: Floats, most_steps: int) -> Floats:
    """By whole steps, whatever is left over after them: past the edge of a channel that begins to conduct with a jump,
    where every way to less leads back to that edge."""
    slopes = equations.slopes(unknown)
    for _ in range(most_steps):
        step = factored.step(slopes, equations.left_over(unknown, drawn_a))
        whole = float(np.max(np.abs(step), initial=0.0))
        unknown = unknown + min(1.0, FAR_V / max(whole, FAR_V)) * step
        before, slopes = slopes, equations.slopes(unknown)
        if whole < STILL_V and np.array_equal(before.modes, slopes.modes):
            return unknown
    raise NotSolvedError("the circuit's voltages do not settle")


def _newton(
    equations: Equations, factored: _Factored, unknown: Floats, drawn_a: Floats, patient: bool = False
) -> Floats:
    slopes, left_over = equations.slopes(unknown), equations.left_over(unknown, drawn_a)
    for _ in range(MOST_STEPS if patient else FEW_STEPS):
        step = factored.step(slopes, left_over)
        share, left_over = _damped(equations, unknown, drawn_a, left_over, step)
        unknown = unknown + share * step
        before, slopes = slopes, equations.slopes(unknown)
        still = share == 1.0 and np.max(np.abs(step), initial=0.0) < STILL_V
        if still and np.array_equal(before.modes, slopes.modes):
            return unknown
    raise NotSolvedError("the circuit's voltages do not settle")


def _damped(
    equations: Equations, unknown: Floats, drawn_a: Floats, left_over: Floats, step: Floats
) -> tuple[float, Floats]:
    """The largest half of a half of the step after which less is left over, and what is."""
    before, whole = float(np.linalg.norm(left_over)), float(np.max(np.abs(step), initial=0.0))
    share = min(1.0, FAR_V / max(whole, FAR_V))
    while True:
        there = equations.left_over(unknown + share * step, drawn_a)
        better = float(np.linalg.norm(there)) <= (1 - LEAST_SHARE * share) * before + SMALL_A
        if better or share * whole < LEAST_V:
            return share, there
        share /= 2
