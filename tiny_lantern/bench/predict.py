"""What a circuit with a fault would show: what each probe reads and what passes through each lamp."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.ohms import Edge, ohms_between, passive
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.readings import Probe
from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.elements.conducting import Coil, CoilReading, Contact
from tiny_lantern.circuit.elements.diodes import LedReading
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.netlist import Netlist, Solution, solve_netlist

Floats = NDArray[np.float64]
MOST_ROUNDS = 8


def settled(netlist: Netlist, near: Solution | None = None) -> Solution:
    """A circuit solved, each contact that follows a coil closed where that pulls in.

    Args:
        netlist: the circuit.
        near: a solution of much the same circuit to start from.

    Raises:
        NotSolvedError: it has no still state: a contact chatters, or a channel sits where its table begins.
    """
    for _ in range(MOST_ROUNDS):
        solution = solve_netlist(netlist, near)
        if solution.undecided:
            raise NotSolvedError("a channel sits just where it begins to conduct")
        after = _followed(netlist, solution)
        if after is netlist:
            return solution
        netlist, near = after, solution
    raise NotSolvedError("a relay's contact chatters")


def _followed(netlist: Netlist, solution: Solution) -> Netlist:
    pulls = {
        element.id: reading.pulls_in
        for at, element in enumerate(netlist.elements)
        if isinstance(element, Coil) and isinstance(reading := solution.reading(at), CoilReading)
    }
    moved = [
        replace(each, closed=pulls[each.follows])
        for each in netlist.elements
        if isinstance(each, Contact) and each.follows in pulls and each.closed != pulls[each.follows]
    ]
    return Change(tuple(moved)).over(netlist) if moved else netlist


@dataclass(frozen=True, eq=False)
class Shown:
    """What a solved circuit shows at probes, and in lamps, an ``inf`` of ohms as 1e9. (n_probes,), (n_lamps,) [A]"""

    read: Floats
    lamp_a: Floats


class Foresight:
    """Tells what changed circuits show at the same probes, each starting from the circuit as planned.

    Args:
        plan: the circuit.
        probes: where it is read. (n_probes,)

    Raises:
        NotSolvedError: the circuit as planned has no still state.
    """

    def __init__(self, plan: Plan, probes: Sequence[Probe]) -> None:
        self.plan, self.probes = plan, tuple(probes)
        self.planned = settled(plan.netlist)
        self.number = {element.id: at for at, element in enumerate(plan.netlist.elements)}
        self._ohms = cache(ohms_between)

    def solution(self, change: Change) -> Solution:
        """The circuit with a change laid over it, solved.

        Args:
            change: the change.

        Raises:
            NotSolvedError: it has no still state then.
        """
        return settled(change.over(self.plan.netlist), self.planned)

    def shown(self, change: Change) -> Shown:
        """What the circuit shows with a change laid over it.

        Args:
            change: the change.

        Raises:
            NotSolvedError: it has no still state then.
        """
        return self.of(self.solution(change))

    def of(self, solution: Solution) -> Shown:
        """What a solution shows.

        Args:
            solution: of the circuit with some change.
        """
        edges = passive(solution.netlist.elements) if any(each.kind == "ohm" for each in self.probes) else ()
        read = [self._read(solution, edges, probe) for probe in self.probes]
        return Shown(np.array(read, float), np.array([self._lamp_a(solution, lamp) for lamp in self.plan.lamps]))

    def _read(self, solution: Solution, edges: tuple[Edge, ...], probe: Probe) -> float:
        if probe.kind == "ohm":
            return self._ohms(edges, probe.plus, probe.minus)
        if probe.kind == "A":
            return solution.reading(self.number[probe.element]).current_a
        return solution.volts(probe.plus) - solution.volts(probe.minus)

    def _lamp_a(self, solution: Solution, lamp: str) -> float:
        """What lights it: nothing where something else is in its place."""
        reading = solution.reading(self.number[lamp])
        return reading.current_a if isinstance(reading, LedReading) else 0.0
