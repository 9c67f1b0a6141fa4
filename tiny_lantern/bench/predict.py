"""What a circuit with a fault would show: what each probe reads and what passes through each lamp."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.bench.ohms import Edge, ohms_between, passive
from tiny_lantern.bench.plan import Plan
from tiny_lantern.bench.readings import Probe
from tiny_lantern.circuit.changes import Change
from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Coil, CoilReading, Contact
from tiny_lantern.circuit.elements.diodes import Led
from tiny_lantern.circuit.equations import NotSolvedError
from tiny_lantern.circuit.nearby import Beside, Nearby
from tiny_lantern.circuit.netlist import Netlist, Solution, solve_netlist

Floats = NDArray[np.float64]
MOST_ROUNDS, FEW_ELEMENTS = 8, 100


def settled(
    netlist: Netlist, near: Solution | None = None, most_undecided: int | None = None, patient: bool = True
) -> Solution:
    """A circuit solved, each contact that follows a coil closed where that pulls in.

    Args:
        netlist: the circuit.
        near: a solution of much the same circuit to start from.
        most_undecided: how many channels may sit where their tables begin, as many as want to when None. [-]
        patient: whether everything is tried, however long that takes.

    Raises:
        NotSolvedError: it has no still state: a contact chatters, or more channels sit where their tables begin.
    """
    for _ in range(MOST_ROUNDS):
        solution = solve_netlist(netlist, near, patient)
        if most_undecided is not None and solution.undecided > most_undecided:
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


class _Point(Protocol):
    """A circuit that is solved, in whatever way."""

    @property
    def elements(self) -> tuple[Element, ...]: ...

    @property
    def undecided(self) -> int: ...

    def volts(self, node: str) -> float: ...

    def current_a(self, name: str) -> float: ...


@dataclass(frozen=True, eq=False)
class _Whole:
    """One that is solved from its beginning."""

    solution: Solution

    @property
    def elements(self) -> tuple[Element, ...]:
        """Its elements."""
        return self.solution.netlist.elements

    @property
    def undecided(self) -> int:
        """See ``Solution``."""
        return self.solution.undecided

    @cached_property
    def _number(self) -> dict[str, int]:
        return {element.id: at for at, element in enumerate(self.elements)}

    def volts(self, node: str) -> float:
        """Voltage of a node. [V]"""
        return self.solution.volts(node)

    def current_a(self, name: str) -> float:
        """Current of an element. [A]"""
        return self.solution.reading(self._number[name]).current_a


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
        self._ohms = cache(ohms_between)
        self._moved_by = [each for each in plan.every(Contact) if each.follows]
        try:
            self._nearby: Nearby | None = Nearby(self.planned)
        except NotSolvedError:
            self._nearby = None

    def shown(self, change: Change) -> Shown:
        """What the circuit shows with a change laid over it.

        Args:
            change: the change.

        Raises:
            NotSolvedError: it has no still state then.
        """
        return self._of(self._point(change))

    @property
    def as_planned(self) -> Shown:
        """What it shows as planned."""
        return self._of(_Whole(self.planned))

    def _point(self, change: Change) -> _Point:
        """Solved beside the plan where that is possible, from the beginning where it is not."""
        beside = self._beside(change) if self._nearby is not None else None
        if beside is None:
            changed = change.over(self.plan.netlist)
            patient = len(changed.elements) <= FEW_ELEMENTS
            return _Whole(settled(changed, self.planned, self.planned.undecided, patient))
        if beside.undecided > self.planned.undecided:
            raise NotSolvedError("a channel sits just where it begins to conduct")
        return beside

    def _beside(self, change: Change) -> Beside | None:
        """Contacts follow their coils; None where it cannot be told."""
        assert self._nearby is not None
        for _ in range(MOST_ROUNDS):
            found = self._nearby.with_change(change)
            if found is None:
                return None
            moved = self._contacts(change, found)
            if not moved:
                return found
            own = {element.id for element in moved}
            change = Change((*(each for each in change.instead if each.id not in own), *moved))
        raise NotSolvedError("a relay's contact chatters")

    def _contacts(self, change: Change, found: Beside) -> tuple[Contact, ...]:
        """Contacts that stand otherwise than their coils make them."""
        now = {element.id: element for element in change.instead}
        moved = []
        for planned in self._moved_by:
            contact, coil = now.get(planned.id, planned), self.plan.by_id[planned.follows]
            coil = now.get(coil.id, coil)
            if isinstance(contact, Contact) and contact.follows and isinstance(coil, Coil):
                pulls = abs(found.volts(coil.a) - found.volts(coil.b)) >= coil.must_operate_v
                if pulls != contact.closed:
                    moved.append(replace(contact, closed=pulls))
        return tuple(moved)

    def _of(self, point: _Point) -> Shown:
        edges = passive(point.elements) if any(each.kind == "ohm" for each in self.probes) else ()
        read = [self._read(point, edges, probe) for probe in self.probes]
        return Shown(np.array(read, float), self._lamps_a(point))

    def _lamps_a(self, point: _Point) -> Floats:
        """What lights each lamp: nothing where something else is in its place. (n_lamps,) [A]"""
        if isinstance(point, Beside):
            return point.first_a(self._lamp_branches, self.plan.lamps)
        lit = {each.id for each in point.elements if isinstance(each, Led)}
        return np.array([point.current_a(lamp) if lamp in lit else 0.0 for lamp in self.plan.lamps], float)

    @cached_property
    def _lamp_branches(self) -> NDArray[np.int64]:
        laid, number = self.plan.netlist.laid, {each.id: at for at, each in enumerate(self.plan.netlist.elements)}
        return np.array([laid.branches(number[lamp])[0] for lamp in self.plan.lamps], np.int64)

    def _read(self, point: _Point, edges: tuple[Edge, ...], probe: Probe) -> float:
        if probe.kind == "ohm":
            return self._ohms(edges, probe.plus, probe.minus)
        if probe.kind == "A":
            return point.current_a(probe.element)
        return point.volts(probe.plus) - point.volts(probe.minus)
