"""A build's circuit as the bench reads it: its terminals and conductors by name, and what a meter should say there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from tiny_lantern.bench.ohms import ohms_between, passive
from tiny_lantern.bench.patterns import Pattern
from tiny_lantern.bench.plan import CHIP_SUPPLY, ELSEWHERE, Plan
from tiny_lantern.bench.predict import settled
from tiny_lantern.bench.readings import Probe
from tiny_lantern.bench.spread import Spread
from tiny_lantern.bench.strips.of_build import StripsAtBench
from tiny_lantern.bench.strips.plan import OFF
from tiny_lantern.circuit.compiled import Circuit
from tiny_lantern.circuit.conductor import FEEDS, Conductor, End
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.circuit.nearby import Nearby
from tiny_lantern.circuit.netlist import LEAK_OHM, Solution
from tiny_lantern.circuit.wires.hookup import lamp_id
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError


@dataclass(frozen=True)
class Terminal:
    """A terminal where a probe can be put: its key, and what it is called."""

    key: str
    name: str


class AtBench:
    """A build whose circuit is read at the bench.

    Args:
        build: the build.
    """

    def __init__(self, build: Build) -> None:
        self.build = build
        self.circuit: Circuit = whole_circuit(build)

    @cached_property
    def rows(self) -> Mapping[str, Conductor]:
        """The conductors of lamps, chips and boards by their keys; those of strips are read where strips are."""
        return {row.key: row for row in self.circuit.conductors
                if not (row.licensed or row.blocks) and row.group != FEEDS}  # fmt: skip

    @cached_property
    def ends(self) -> Mapping[str, End]:
        """Every terminal that such a conductor ends at, and those that feeds begin at, by its key; nothing of the mains
        is among them."""
        fed = (row.start for row in self.circuit.conductors if row.group == FEEDS and row.key.startswith("feed/"))
        return {end.node: end for row in self.rows.values() for end in (row.start, row.end)} | {
            end.node: end for end in fed
        }

    @cached_property
    def terminals(self) -> tuple[Terminal, ...]:
        """Where a probe can be put, by what they are on."""
        return tuple(Terminal(key, end.words) for key, end in self.ends.items())

    @property
    def zero(self) -> str:
        """The key of the terminal that volts are read against."""
        return self.circuit.ground.node

    def node(self, key: str) -> str:
        """The node of the circuit that a terminal is on.

        Args:
            key: the terminal's key.

        Raises:
            KeyError: the build has no such terminal.
        """
        return self.circuit.node(self.circuit.ground if key == self.zero else self.ends[key])

    def plan(self, pattern: Pattern) -> Plan:
        """The circuit in a pattern, with a meter on it.

        Args:
            pattern: the pattern.
        """
        if pattern.key not in self._plans:
            netlist = self.circuit.netlist(pattern.still, leak_ohm=LEAK_OHM, strips_a=self.strips_dark_a)
            self._plans[pattern.key] = Plan(netlist, self._roles)
        return self._plans[pattern.key]

    @cached_property
    def strips_dark_a(self) -> Mapping[str, float]:
        """What strips draw from each supply while all their pixels are dark, by the supply's id. [A]"""
        if not (self.build.strips and self.build.feeds):
            return {}
        try:
            solved = solve_power(self.build, StripsAtBench(self.build).plan.pattern(OFF))
        except LanternError:
            return {}
        return {supply_id: each.current_a for supply_id, each in solved.supplies.items()}

    @cached_property
    def _plans(self) -> dict[str, Plan]:
        return {}

    @cached_property
    def _roles(self) -> dict[str, str]:
        found = {key: CHIP_SUPPLY for key, row in self.rows.items() if row.role == "logic supply"}
        return found | {row.key: ELSEWHERE for row in self.circuit.conductors if row.group == FEEDS}

    def solution(self, pattern: Pattern) -> Solution:
        """The circuit in a pattern, solved.

        Args:
            pattern: the pattern.

        Raises:
            NotSolvedError: it has no still state.
        """
        if pattern.key not in self._solved:
            self._solved[pattern.key] = settled(self.plan(pattern).netlist)
        return self._solved[pattern.key]

    @cached_property
    def _solved(self) -> dict[str, Solution]:
        return {}

    def probe(self, kind: str, plus: str = "", minus: str = "", conductor: str = "") -> Probe:
        """A probe by terminals and conductors, as one of the circuit's nodes and elements.

        Args:
            kind: ``V``, ``A`` or ``ohm``.
            plus: the key of the terminal that the red probe is put on.
            minus: of the black one.
            conductor: the key of the conductor that is opened for amperes.

        Raises:
            KeyError: the build has no such terminal or conductor.
        """
        if kind == "A":
            supplies = {supply.id for supply in self.build.supplies}
            return Probe("A", element=conductor if conductor in supplies else self.rows[conductor].key)
        return Probe("ohm" if kind == "ohm" else "V", self.node(plus), self.node(minus or self.zero))

    def expected(self, pattern: Pattern, probe: Probe) -> float:
        """What a meter should say, ohms that are open as 1e9. [V], [A] or [ohm]

        Args:
            pattern: the pattern that is shown.
            probe: where it is put.

        Raises:
            NotSolvedError: the circuit has no still state.
        """
        if probe.kind == "ohm":
            elements = self.plan(pattern).netlist.elements
            return ohms_between(passive(elements), probe.plus, probe.minus)
        solution = self.solution(pattern)
        if probe.kind == "A":
            number = next(at for at, each in enumerate(solution.netlist.elements) if each.id == probe.element)
            return solution.reading(number).current_a
        return solution.volts(probe.plus) - solution.volts(probe.minus)

    def off(self, pattern: Pattern, probe: Probe) -> float:
        """How far volts or amperes may lie off though nothing is wrong, by what parts may differ. [V] or [A]

        Args:
            pattern: the pattern that is shown.
            probe: where it is read.

        Raises:
            NotSolvedError: the circuit has no still state.
        """
        if pattern.key not in self._spreads:
            self._spreads[pattern.key] = Spread(Nearby(self.solution(pattern)))
        spread = self._spreads[pattern.key]
        return spread.amperes(probe.element) if probe.kind == "A" else spread.volts(probe.plus, probe.minus)

    @cached_property
    def _spreads(self) -> dict[str, Spread]:
        return {}

    @cached_property
    def _words(self) -> dict[str, str]:
        found = {row.key: f"wire {row.label.split(' / ')[0]} ({row.words})" for row in self.circuit.conductors}
        found |= {f"{board.id} logic": f"the regulator of {board.name}" for board in self.build.boards}
        found |= {rail.id: f"the regulator of “{rail.name}”" for rail in self.build.rails}
        for part in self.circuit.fitted:
            for end in part.ends:
                found.setdefault(end.node, end.words)
        found |= lamp_words(self.build)
        found |= {supply.id: f"“{supply.name}”" for supply in self.build.supplies}
        return found

    def words(self, name: str) -> str:
        """An element or terminal of the circuit in words.

        Args:
            name: its id.
        """
        return self._words.get(name, name.replace("|", ", "))


def lamp_words(build: Build) -> dict[str, str]:
    """What each lamp of the circuit is called, by its name there.

    Args:
        build: the build.
    """
    found = {}
    for channel in build.channels:
        for ref in channel.slots:
            name = build.line.piece(ref.piece_id).place_name(ref.index)
            found[lamp_id(ref, channel)] = f"{name} {channel.die or ''}".strip()
    return found
