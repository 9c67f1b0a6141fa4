"""What happens after a short, event by event: supplies shut down, fuses open one after another, until nothing more
does."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.shorts.circuit import Circuit
from tiny_lantern.electrical.shorts.flow import Flow
from tiny_lantern.electrical.shorts.sources import Answer, alike_rows

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
FAULT_RATIO = 2.0
ALIKE = 1e-6


@dataclass(frozen=True)
class FuseOpens:
    """The fuse of a feed opens, at so many times its rating."""

    feed: int
    times_rating: float


@dataclass(frozen=True)
class SuppliesShutDown:
    """Supplies past their limit shut down together, each at so many times its limit."""

    supplies: tuple[int, ...]
    times_limit: tuple[float, ...]


Event = FuseOpens | SuppliesShutDown


@dataclass
class Course:
    """The course of a short at n places: at the end what flows, which followed fuses are whole, (n, n_feeds), and which
    supplies have shut down, (n, n_supplies). ``events`` and ``steps`` tell the way there, of one place followed
    alone."""

    flow: Flow
    whole: Bools
    stopped: Bools
    events: list[Event] = field(default_factory=list)
    steps: list[Flow] = field(default_factory=list)


def course_of(circuit: Circuit, at: Ints, fuses_first: bool = False) -> Course:
    """Follow the short at some places of a circuit to its end.

    A supply past its limit stops before any fuse has time; of the fuses at twice their rating or more the one with
    the largest ratio opens, then all is solved again. ``fuses_first`` exchanges the two.

    Args:
        circuit: the piece of copper.
        at: numbers of the places, (n_places,). [-]
        fuses_first: let fuses open with supplies unlimited, and supplies stop only then.
    """
    feeds, supplies = len(circuit.columns), len(circuit.supplies)
    whole, stopped = np.ones((len(at), feeds), bool), np.zeros((len(at), supplies), bool)
    answers = np.full((len(at), supplies), Answer.NORMAL, np.int8)
    ended: Flow | None = None
    events: list[Event] = []
    steps: list[Flow] = []
    rows = np.arange(len(at))
    while len(rows):
        flow = _flow(circuit, at, rows, whole, stopped, answers)
        answers[rows] = flow.answers
        ended = _written(ended, flow, rows, len(at))
        stops, opens = _supplies_over(circuit, flow, stopped[rows]), _fuse_over(circuit, flow, whole[rows])
        by_supply = np.asarray(stops.any(axis=1) & ((opens < 0) | (not fuses_first)), bool)
        by_fuse = (opens >= 0) & ~by_supply
        if len(at) == 1:
            steps.append(flow)
            events += _told(circuit, flow, stops, opens, by_supply, by_fuse)
        stopped[rows[by_supply]] |= stops[by_supply]
        whole[rows[by_fuse], opens[by_fuse]] = False
        rows = rows[by_supply | by_fuse]
    assert ended is not None
    return Course(ended, whole, stopped, events, steps)


def _told(circuit: Circuit, flow: Flow, stops: Bools, opens: Ints, by_supply: Bools, by_fuse: Bools) -> list[Event]:
    """The event at the one place that is followed, if there is one."""
    if by_supply[0]:
        columns = np.flatnonzero(stops[0])
        names = tuple(int(circuit.supplies[column]) for column in columns)
        limits = [circuit.sources[name].limit_a for name in names]
        times = tuple(float(a / limit) for a, limit in zip(flow.supply_a[0, columns], limits, strict=True))
        return [SuppliesShutDown(names, times)]
    if by_fuse[0]:
        feed = int(circuit.columns[opens[0]])
        out = np.concatenate([flow.own_a[0], flow.far_a[0]])[opens[0]]
        return [FuseOpens(feed, float(abs(out) / circuit.wires.fuse_a[feed]))]
    return []


def _flow(circuit: Circuit, at: Ints, rows: Ints, whole: Bools, stopped: Bools, answers: NDArray[np.int8]) -> Flow:
    """What flows at some rows, solved together where fuses and stopped supplies are the same."""
    limited = np.array([circuit.sources[number].limit_kind == "holds" for number in circuit.supplies], bool)
    state = np.concatenate([whole[rows], stopped[rows]], axis=1)
    groups = [rows[members] for members in alike_rows(state)]
    found: Flow | None = None
    place = np.empty(whole.shape[0], np.int64)
    place[rows] = np.arange(len(rows))
    for group in groups:
        one = group[0]
        flow = circuit.flow(at[group], whole[one], stopped[one], limited, answers[group])
        found = flow if len(groups) == 1 else _written(found, flow, place[group], len(rows))
    assert found is not None
    return found


def _supplies_over(circuit: Circuit, flow: Flow, stopped: Bools) -> Bools:
    """Live supplies that shut down and are past their limit. (n, n_supplies)"""
    over = np.zeros_like(stopped)
    for column, number in enumerate(circuit.supplies):
        source = circuit.sources[number]
        if source.limit_kind == "shuts_down":
            over[:, column] = ~stopped[:, column] & (flow.supply_a[:, column] > source.limit_a)
    return over


def _fuse_over(circuit: Circuit, flow: Flow, whole: Bools) -> Ints:
    """The followed feed whose fuse opens next, -1 for none; of alike ones the first in the build. (n,)"""
    if not whole.shape[1]:
        return np.full(len(whole), -1)
    ratio = _ratios(circuit, flow, whole)
    largest = ratio.max(axis=1)
    alike = ratio >= largest[:, None] * (1 - ALIKE)
    first = np.where(alike, circuit.columns, np.iinfo(np.int64).max).argmin(axis=1)
    return np.where(largest >= FAULT_RATIO, first, -1)


def _ratios(circuit: Circuit, flow: Flow, whole: Bools) -> NDArray[np.float64]:
    out = np.abs(np.concatenate([flow.own_a, flow.far_a], axis=1))
    return np.where(whole, out / circuit.wires.fuse_a[circuit.columns], 0.0)


def _written(into: Flow | None, flow: Flow, rows: Ints, count: int) -> Flow:
    """A flow's rows written into those of a larger one, made when there is none yet."""
    if into is None:
        into = Flow(**{name: np.zeros((count, *value.shape[1:]), value.dtype) for name, value in vars(flow).items()})
    for name, value in vars(flow).items():
        getattr(into, name)[rows] = value
    return into
