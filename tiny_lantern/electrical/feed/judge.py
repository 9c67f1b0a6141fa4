"""Whether feeds at some places meet every limit, by how much, and what their plan costs in wire."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.feed.ladder import Draw, Ladder

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
HAIR = 1e-9
CHUNK_NODES = 250_000


@dataclass(frozen=True)
class Limits:
    """What a plan must meet: each node's least voltage (n_nodes,), minus infinity without a pixel; a feed's outgoing
    and return current; each element of each rail (n_nodes − 1,); each supply (n_supplies,). [V] [A]"""

    least_v: Floats
    out_a: float
    back_a: float
    pos_rail_a: Floats
    neg_rail_a: Floats
    supply_a: Floats


@dataclass(frozen=True)
class Task:
    """Where to feed a line: its ladder, the load whose voltages count, full white whose currents count, the load whose
    supply currents count, what must be met, the nodes that may be fed, and the wire of a feed at each node. [m]"""

    ladder: Ladder
    load: Draw
    white: Draw
    supplied: Draw
    limits: Limits
    candidates: Ints
    wire_m: Floats

    @property
    def headroom_v(self) -> float:
        """What copper may lose at most between the supplies and the least voltage that any pixel bears. [V]"""
        return max(1e-3, float(self.ladder.open_v.max()) - float(self.limits.least_v.max()))


@dataclass(frozen=True)
class Judged:
    """Plans judged: how far beyond the limits (0 within), lowest pixel voltage, and metres of conductor. (n_plans,)"""

    beyond: Floats
    worst_v: Floats
    wire_m: Floats

    @property
    def feasible(self) -> Bools:
        """Whether each plan is within every limit. (n_plans,)"""
        return self.beyond <= 0


@dataclass(frozen=True)
class Detail:
    """One plan in full: nodes, currents of each feed, supplies' currents, voltages of all pixels' nodes in the load,
    and the current of every element of both rails at full white. [A] [V]"""

    nodes: Ints
    out_a: Floats
    back_a: Floats
    supply_a: Floats
    pixel_v: Floats
    pos_rail_a: Floats
    neg_rail_a: Floats
    worst_v: float
    worst_node: int
    margin_v: float
    wire_m: float


def judge(task: Task, plans: Ints) -> Judged:
    """Judge many plans, (n_plans, n_feeds) nodes rising along each row.

    Args:
        task: the line and what is asked of it.
        plans: nodes of the ladder, rising along each row, (n_plans, n_feeds). [-]
    """
    parts = [_judge(task, plans[rows]) for rows in _chunks(len(plans), task.ladder.size)]
    if not parts:
        return Judged(np.zeros(0), np.zeros(0), np.zeros(0))
    return Judged(
        *(np.concatenate([getattr(part, name) for part in parts]) for name in ("beyond", "worst_v", "wire_m"))
    )


def _chunks(count: int, size: int) -> Iterator[slice]:
    step = max(1, CHUNK_NODES // size)
    return (slice(first, first + step) for first in range(0, count, step))


def _judge(task: Task, plans: Ints) -> Judged:
    wire = 2 * task.wire_m[plans].sum(axis=1)
    beyond, worst = np.full(len(plans), np.inf), np.full(len(plans), -np.inf)
    fed = np.flatnonzero(task.ladder.feeds_every_piece(plans))
    if len(fed):
        beyond[fed], worst[fed] = _beyond(task, plans[fed])
    return Judged(beyond, worst, wire)


def _beyond(task: Task, plans: Ints) -> tuple[Floats, Floats]:
    limits, ladder = task.limits, task.ladder
    solved = ladder.solve(plans, task.load)
    pixel_v = (solved[0] - solved[1])[:, ladder.pixel]
    lacking = (limits.least_v[ladder.pixel] - pixel_v).max(axis=1) - HAIR
    beyond = np.maximum(0.0, lacking / task.headroom_v)
    for draw, rails in ((task.white, True), (task.supplied, False)):
        if not rails and draw is task.white:
            continue
        pos_v, neg_v, terminal = solved if draw is task.load else ladder.solve(plans, draw)
        out, back = _feed_currents(ladder, plans, pos_v, neg_v, terminal)
        if rails:
            beyond = np.maximum(beyond, _over(np.abs(out).max(axis=1), limits.out_a))
            beyond = np.maximum(beyond, _over(np.abs(back).max(axis=1), limits.back_a))
            beyond = np.maximum(beyond, _rails_over(pos_v, ladder.pos_s, limits.pos_rail_a))
            beyond = np.maximum(beyond, _rails_over(neg_v, ladder.neg_s, limits.neg_rail_a))
        if draw is task.supplied:
            given = _supply_currents(ladder, plans, out)
            beyond = np.maximum(beyond, _over(given, limits.supply_a).max(axis=1))
    return beyond, pixel_v.min(axis=1)


def _over(current: Floats, limit: Floats | float) -> Floats:
    """By what share a current is over its limit, zero within. [-]"""
    return np.maximum(0.0, (current - limit - HAIR) / limit)


def _rails_over(v: Floats, siemens: Floats, limit_a: Floats) -> Floats:
    carried = np.abs(np.diff(v, axis=1)) * siemens
    return np.asarray(np.asarray(_over(carried, limit_a)).max(axis=1))


def _feed_currents(
    ladder: Ladder, plans: Ints, pos_v: Floats, neg_v: Floats, terminal: Floats
) -> tuple[Floats, Floats]:
    rows = np.arange(len(plans))[:, None]
    out = (terminal[rows, ladder.supply[plans]] - pos_v[rows, plans]) / ladder.out_ohm[plans]
    return out, neg_v[rows, plans] / ladder.back_ohm[plans]


def _supply_currents(ladder: Ladder, plans: Ints, out_a: Floats) -> Floats:
    supply = ladder.supply[plans]
    return np.stack([(out_a * (supply == number)).sum(axis=1) for number in range(len(ladder.open_v))], axis=1)


def detail_of(task: Task, nodes: Ints) -> Detail:
    """One plan in full.

    Args:
        task: the line and what is asked of it.
        nodes: nodes of the ladder, rising, (n_feeds,). [-]
    """
    ladder, plan = task.ladder, np.asarray(nodes, np.int64)[None]
    pos_v, neg_v, _ = ladder.solve(plan, task.load)
    v = (pos_v - neg_v)[0]
    pixels = np.flatnonzero(ladder.pixel)
    worst = float(v[pixels].min())
    first = int(pixels[np.flatnonzero(v[pixels] <= worst + 1e-6)[0]])
    white_pos, white_neg, terminal = ladder.solve(plan, task.white)
    out, back = _feed_currents(ladder, plan, white_pos, white_neg, terminal)
    supplied = out
    if task.supplied is not task.white:
        solved = ladder.solve(plan, task.supplied)
        supplied = _feed_currents(ladder, plan, *solved)[0]
    return Detail(
        plan[0], out[0], back[0], _supply_currents(ladder, plan, supplied)[0], v[pixels],
        -np.diff(white_pos[0]) * ladder.pos_s, np.diff(white_neg[0]) * ladder.neg_s, worst, first,
        float((v - task.limits.least_v)[pixels].min()), 2 * float(task.wire_m[plan[0]].sum()),
    )  # fmt: skip
