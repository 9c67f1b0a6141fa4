"""Strips beside lamps on the same supplies: both are solved in turn, each by its own solver, until what either draws no
longer moves the other."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from tiny_lantern.circuit.netlist import Solution
from tiny_lantern.electrical.memo import memoised_on, read_only
from tiny_lantern.electrical.network import part_of, supply_part
from tiny_lantern.electrical.power import PowerSolution, solve_power
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError

SETTLED_A, MOST_ROUNDS = 1e-9, 30
Draws = Mapping[str, float]


class StripsBeside:
    """The strips of a build, fully white, with what they drew at the terminals of each supply when asked last."""

    def __init__(self, build: Build) -> None:
        self._build = build
        soft = [supply.id for supply in build.supplies if supply_part(build, supply.id).output_ohm > 0]
        self._strips = bool(build.feeds and build.strips)
        self._supplies = soft if self._strips else []
        self.power: PowerSolution | None = None
        self._drawn_a: Draws = {}

    def settled(self, solve: Callable[[Draws], Solution]) -> Solution:
        """A circuit's solution with the strips on the same supplies.

        Args:
            solve: solves the circuit when strips draw so much at the terminals of each supply, by its id. [A]
        """
        solution = solve(self._drawn_a)
        if self._strips and not self._supplies and self.power is None:
            self._solve({})
        for _ in range(MOST_ROUNDS if self._supplies else 0):
            numbers = {element.id: number for number, element in enumerate(solution.netlist.elements)}
            given_a = {each: solution.reading(numbers[each]).current_a for each in self._supplies if each in numbers}
            before = self._drawn_a
            self._solve({each: amps - before.get(each, 0.0) for each, amps in given_a.items()})
            if all(abs(amps - before.get(each, 0.0)) < SETTLED_A for each, amps in self._drawn_a.items()):
                return solution
            solution = solve(self._drawn_a)
        return solution

    def _solve(self, beside_a: Draws) -> None:
        """What strips draw beside what else does; nothing where they cannot be solved."""
        supplies = self._build.supplies
        beside = tuple(max(0.0, beside_a.get(supply.id, 0.0)) for supply in supplies)
        try:
            power = solve_power(self._build, _white(self._build), beside, near=self.power)
        except LanternError:
            self._drawn_a = {}
            return
        self.power = power
        self._drawn_a = {supply_id: solved.current_a for supply_id, solved in power.supplies.items()}


@memoised_on("strips", "parts")
def _white(build: Build) -> tuple[np.ndarray, ...]:
    counts = ((strip.pixel_count, len(part_of(build, strip).pixel.channels)) for strip in build.strips)
    return tuple(read_only(np.ones(count)) for count in counts)
