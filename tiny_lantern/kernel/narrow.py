"""Where programs are narrow, so that few numbers tell most of a frame: what time alone brings into them, and the one
number through which all of their results come."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.kernel.arrays import DTYPES, Ready, as_input, as_number, evaluate, shortcuts_of, work_out
from tiny_lantern.kernel.nodes import Node, Type
from tiny_lantern.kernel.program import MOST_PROGRAMS, Program

Ints = NDArray[Any]
TIME, PLACE = "tick", "slot"
FEW_OUTCOMES = 1 << 12
WHOLE, FEW_EACH = 1 << 15, 8
MOST_WAISTS = 4


@dataclass(frozen=True)
class Narrow:
    """Of a program the expressions by which time alone comes into it, of which frames that agree are alike, and those
    through each of which every result comes, the earliest first."""

    clock: tuple[Node, ...]
    waists: tuple[Node, ...]

    @property
    def comes_round(self) -> bool:
        """Whether frames may be alike that are not the same: time itself is not among what tells them apart."""
        return all(node.op != "given" for node in self.clock)


@lru_cache(maxsize=MOST_PROGRAMS)
def narrow(program: Program) -> Narrow:
    """Where a program is narrow."""
    timed, placed = _following(program, {TIME}), _following(program, {PLACE})
    read_with_place = {id(arg) for node in program.steps if id(node) in placed for arg in node.args}
    results = {id(node) for node in program.results}
    clock = tuple(
        node
        for node in program.steps
        if id(node) in timed and id(node) not in placed and id(node) in read_with_place | results
    )
    waists = (
        node
        for node in program.steps
        if id(node) in timed | placed
        and node.type is not Type.U32
        and not _following(program, {TIME, PLACE}, but_for=node) & results
    )
    return Narrow(clock, tuple(waists)[:MOST_WAISTS])


def _following(program: Program, names: set[str], but_for: Node | None = None) -> set[int]:
    """The expressions that some inputs come into, but for those that they reach through one of them only."""
    found: set[int] = set()
    for node in program.steps:
        if node is not but_for and (
            (node.op == "given" and node.name in names) or any(id(arg) in found for arg in node.args)
        ):
            found.add(id(node))
    return found


class Rows:
    """A program on some lights, with all that it is given but the frame.

    Args:
        program: the program.
        inputs: its numbers and lists by name, without place and time. [-]
        place: the place of each light, (n_places,). [-]

    Raises:
        KeyError: an input is missing.
        ValueError: an input is outside the range that the program was built for.
    """

    def __init__(self, program: Program, inputs: Mapping[str, Any], place: Ints) -> None:
        self._program = program
        self._inputs = {**inputs, PLACE: place[None, :]}
        self._ready: dict[tuple[tuple[Node, ...], bool], Ready] = {}
        self._tables: dict[Node, tuple[int, list[Ints]]] = {}
        self._single: dict[int, Any] = {}
        for node in program.steps:
            if node.op in ("given", "list") and node.name not in (TIME, PLACE):
                value = as_input(node, np.asarray(inputs[node.name]) if node.op == "list" else inputs[node.name])
                self._single[id(node)] = as_number(value, node.type) if isinstance(value, int) else value
            elif node.op == "given" and node.name == PLACE:
                as_input(node, place)

    @property
    def narrow(self) -> Narrow:
        """Where its program is narrow, found when it is first asked for."""
        return narrow(self._program)

    def keys(self, ticks: Ints) -> Ints:
        """Numbers by which frames are told apart: those that agree in all of them are alike. (n_ticks, n_numbers)

        Args:
            ticks: frames of the effect, (n_ticks,). [-]
        """
        found = self._at(self.narrow.clock, ticks)
        columns = [np.broadcast_to(np.ravel(value), len(ticks)) for value in found]
        return np.stack(columns, axis=1) if columns else np.zeros((len(ticks), 0), np.int64)

    def outcomes(self, ticks: Ints) -> tuple[Ints, int, list[Ints]] | None:
        """Of each light and frame the number of the outcome that it has, (n_ticks or 1, n_places or 1), the number of
        the first outcome, and of each result its value for every one, (n_outcomes,); None where they would be too many.

        Args:
            ticks: frames of the effect, (n_ticks,). [-]
        """
        for waist in self.narrow.waists:
            values = np.atleast_1d(np.asarray(self._at((waist,), ticks)[0]))
            whole = waist.high - waist.low < min(
                WHOLE, FEW_EACH * np.size(values)
            )  # a table once, for all there may be
            low, high = (waist.low, waist.high) if whole else (int(values.min()), int(values.max()))
            if whole or high - low < FEW_OUTCOMES or np.size(values) > waist.high - waist.low:
                first, table = self._table(waist, low, high)
                return values, first, table
        return None

    def results(self, ticks: Ints) -> list[Ints]:
        """The results, arrays that broadcast to (n_ticks, n_places).

        Args:
            ticks: frames of the effect, (n_ticks,). [-]
        """
        return evaluate(self._program, {**self._inputs, TIME: ticks[:, None]})

    def few(self, ticks: Ints) -> list[Ints]:
        """The results at a few frames, what is the same in all of them kept from one time to the next; arrays that
        broadcast to (n_ticks, n_places).

        Args:
            ticks: frames of the effect, (n_ticks,). [-]
        """
        return self._at(self._program.results, ticks)

    def _at(self, nodes: tuple[Node, ...], ticks: Ints) -> list[Any]:
        """Expressions of it at some frames, what no frame comes into being worked out once."""
        many = len(ticks) > 1
        ready = self._ready.get((nodes, many))
        if ready is None:
            ready = self._ready[nodes, many] = Ready(_part(self._program.name, nodes), self._inputs, {TIME: many})
        return ready({TIME: ticks[:, None] if many else int(ticks[0])})

    def _table(self, waist: Node, low: int, high: int) -> tuple[int, list[Ints]]:
        """The results for every value that the waist has had so far, and the lowest of those."""
        known = self._tables.get(waist)
        if known is None or low < known[0] or high >= known[0] + len(known[1][0]):
            if known is not None:
                size = len(known[1][0])
                low, high = (
                    max(waist.low, min(low, known[0]) - size),
                    min(waist.high, max(high, known[0] + size) + size),
                )
            found = {**self._single, id(waist): np.arange(low, high + 1).astype(DTYPES[waist.type])}
            work_out(self._program.results, found, shortcuts_of(self._program))
            values = [np.broadcast_to(found[id(node)], high - low + 1) for node in self._program.results]
            known = self._tables[waist] = (low, values)
        return known


@lru_cache(maxsize=MOST_PROGRAMS)
def _part(name: str, nodes: tuple[Node, ...]) -> Program:
    """Some expressions of a program by themselves."""
    return Program(name, nodes)
