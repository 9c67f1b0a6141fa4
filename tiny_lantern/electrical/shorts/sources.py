"""Supplies in a fault: a voltage behind a resistance until the limit, and never a taker of current unless built for
it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import IntEnum
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from tiny_lantern.electrical.shorts.flow import Flow

Ints = NDArray[np.int64]
Answers = NDArray[np.int8]
Bools = NDArray[np.bool_]
HAIR = 1e-9
MANY_ROUNDS = 12
MOST_ROUNDS = 400


class Answer(IntEnum):
    """How a supply answers a load: as a voltage behind its resistance, at its limit, cut off by a higher voltage
    outside, or shut down for good."""

    NORMAL = 0
    HOLDING = 1
    BLOCKED = 2
    STOPPED = 3

    @property
    def label(self) -> str:
        """The word people read."""
        return ("normal", "holding", "blocked", "shut down")[self]


@dataclass(frozen=True)
class Source:
    """A supply: open voltage [V], output resistance [ohm], how it is limited, at what current [A], and whether it
    takes current back."""

    open_v: float
    output_ohm: float
    limit_kind: str
    limit_a: float
    sinks: bool


def consistent_states(
    sources: list[Source], stopped: Bools, limited: Bools, answers: Answers,
    solve: Callable[[Ints, Answers], Flow],
) -> Flow:  # fmt: skip
    """The one set of answers at each place whose conditions all hold, with what then flows.

    A supply that would take current is blocked, one past its limit holds it, one whose terminal falls within its
    reach again is normal. All that disagree are changed at once; after some rounds only the first one, which ends in
    any monotone network.

    Args:
        sources: the supplies.
        stopped: which have shut down, (n_supplies,). [-]
        limited: which keep their limit, (n_supplies,). [-]
        answers: answers to begin from, (n_places, n_supplies).
        solve: from numbers of places and their common answers to what flows there.

    Raises:
        ArithmeticError: the answers never agree, which is a defect of this program.
    """
    chosen = np.where(stopped, np.int8(Answer.STOPPED), np.where(answers == Answer.STOPPED, Answer.NORMAL, answers))
    chosen = chosen.astype(np.int8)
    rows = np.arange(len(chosen))
    flows: list[tuple[Ints, Flow]] = []
    for count in range(MOST_ROUNDS):
        unsettled = []
        for group in (rows[members] for members in alike_rows(chosen[rows])):
            flow = solve(group, chosen[group[0]])
            wanted = _wanted(sources, limited, chosen[group], flow)
            differs = wanted != chosen[group]
            if count >= MANY_ROUNDS:
                differs &= np.cumsum(differs, axis=1) == 1
            moving = differs.any(axis=1)
            if not moving.all():
                flows.append((group[~moving], _rows(flow, ~moving)))
            chosen[group] = np.where(differs, wanted, chosen[group])
            unsettled.append(group[moving])
        rows = np.concatenate(unsettled)
        if not len(rows):
            return _together(flows, len(chosen))
    raise ArithmeticError("the supplies' answers to a short do not agree")


def _wanted(sources: list[Source], limited: Bools, now: Answers, flow: Flow) -> Answers:
    wanted = now.copy()
    for number, source in enumerate(sources):
        current, terminal, answer = flow.supply_a[:, number], flow.terminal_v[:, number], now[:, number]
        normal = answer == Answer.NORMAL
        if not source.sinks:
            wanted[normal & (current < -HAIR), number] = Answer.BLOCKED
        if limited[number]:
            past = normal & (current > source.limit_a * (1 + HAIR))
            wanted[past, number] = Answer.HOLDING
            reachable = source.open_v - source.output_ohm * source.limit_a + HAIR
            wanted[(answer == Answer.HOLDING) & (terminal > reachable), number] = Answer.NORMAL
        wanted[(answer == Answer.BLOCKED) & (terminal < source.open_v - HAIR), number] = Answer.NORMAL
    return wanted


def alike_rows(states: NDArray[np.generic]) -> list[Ints]:
    """Numbers of the rows in groups of equal rows, (n_rows, n_columns).

    Args:
        states: the rows, (n_rows, n_columns). [-]
    """
    if len(states) == 1 or (states == states[:1]).all():
        return [np.arange(len(states))] if len(states) else []
    _, group = np.unique(states, axis=0, return_inverse=True)
    order = np.argsort(group.ravel(), kind="stable")
    return np.split(order, np.flatnonzero(np.diff(group.ravel()[order])) + 1)


def _rows(flow: Flow, kept: Bools) -> Flow:
    return type(flow)(**{name: value[kept] for name, value in vars(flow).items()})


def _together(flows: list[tuple[Ints, Flow]], count: int) -> Flow:
    first = flows[0][1]
    fields = {}
    for name in vars(first):
        whole = np.empty((count, *getattr(first, name).shape[1:]), getattr(first, name).dtype)
        for rows, flow in flows:
            whole[rows] = getattr(flow, name)
        fields[name] = whole
    return type(first)(**fields)
