"""How far a reading may lie from what is expected though nothing is wrong: what parts may differ, carried through.

The solved circuit is taken as straight about its solution: a part that gives dI more moves the unknowns by ``J⁻¹·dI``,
and what parts do independently adds up as squares  (1).

Source: linear propagation of uncertainty (JCGM 100:2008, 5.1.2).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Coil, Conducting
from tiny_lantern.circuit.elements.diodes import Diode, Led
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.elements.sources import Battery, Supply
from tiny_lantern.circuit.elements.stages import Converter, Regulator
from tiny_lantern.circuit.nearby import Nearby

Floats = NDArray[np.float64]
REGULATED = 3
LED_V, RESISTOR, WIRE, SET_POINT, LOAD = 0.2, 0.05, 0.10, 0.01, 0.15


class Spread:
    """How far volts and amperes of a solved circuit may lie off.

    Args:
        nearby: the solved circuit.
    """

    def __init__(self, nearby: Nearby) -> None:
        self._nearby = nearby
        base = nearby.equations
        self._slope = base.ramps.entries(nearby.unknown)[: len(base.ramps.start)]
        self._ramp_a = base.ramps.currents_a(nearby.unknown)
        self._holds = base.regulators.modes(nearby.unknown) == 1
        rows = {number: self._of(number, element) for number, element in enumerate(nearby.netlist.elements)}
        self._own = {number: at for at, number in enumerate(number for number, row in rows.items() if row)}
        given = np.zeros((base.size, max(len(self._own), 1)))
        for number, at in self._own.items():
            start, end, more_a = rows[number] or (0, 0, 0.0)
            given[start, at] -= more_a
            given[end, at] += more_a
        self._moved = np.zeros_like(given)
        self._moved[1:] = nearby.inverse @ given[1:]

    def _of(self, number: int, element: Element) -> tuple[int, int, float] | None:
        """What an element may give more, from one node to another; None where that is nothing. [A]"""
        base = self._nearby.equations
        if isinstance(element, (Regulator, Converter)):
            if not self._holds[self._nearby.netlist.laid.shares[number].families[REGULATED]]:
                return None
            source = element.entry if isinstance(element, Regulator) else element.zero
            out, entry = (base.laws.names.get(node, 0) for node in (element.out, source))
            return entry, out, SET_POINT * element.set_v / element.output_ohm
        own = self._nearby.netlist.laid.branches(number)
        if not len(own) or own[0] >= len(base.ramps.start):
            return None
        more_a = self._more_a(element, int(own[0]))
        return (int(base.ramps.start[own[0]]), int(base.ramps.end[own[0]]), more_a) if more_a else None

    def _more_a(self, element: Element, ramp: int) -> float:
        """How much more passes an element at the same volts than is told. [A]"""
        slope, through_a = float(self._slope[ramp]), float(self._ramp_a[ramp])
        if isinstance(element, Conducting):
            return through_a * (RESISTOR if element.what == "resistor" else WIRE)
        if isinstance(element, Coil):
            return through_a * RESISTOR
        if isinstance(element, Led):
            return slope * LED_V * element.count
        if isinstance(element, Diode):
            return slope * LED_V / 2
        if isinstance(element, (Supply, Battery)):
            return slope * SET_POINT * (element.set_v if isinstance(element, Supply) else element.emf_v)
        return through_a * LOAD if isinstance(element, Load) else 0.0

    def volts(self, one: str, other: str) -> float:
        """How far the volts between two nodes may lie off: the root of the sum of squares  (1). [V]

        Args:
            one: a node.
            other: another one.
        """
        moved = self._row(one) - self._row(other)
        return float(np.sqrt((moved**2).sum()))

    def amperes(self, element_id: str) -> float:
        """How far the current of an element made of one ramp may lie off. [A]

        Args:
            element_id: the element.

        Raises:
            KeyError: there is none of that id.
        """
        number = self._nearby.number[element_id]
        own = self._nearby.netlist.laid.branches(number)
        ramp = int(own[0])
        base = self._nearby.equations
        if ramp >= len(base.ramps.start):
            return 0.0
        start, end = int(base.ramps.start[ramp]), int(base.ramps.end[ramp])
        moved = float(self._slope[ramp]) * (self._moved[start] - self._moved[end])
        if number in self._own:
            element = self._nearby.netlist.elements[number]
            moved = moved.copy()
            moved[self._own[number]] += self._more_a(element, ramp)
        return float(np.sqrt((moved**2).sum()))

    def _row(self, node: str) -> Floats:
        if node == self._nearby.netlist.ground:
            return np.zeros(self._moved.shape[1])
        return np.asarray(self._moved[self._nearby.equations.laws.names[node]])
