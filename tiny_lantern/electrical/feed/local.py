"""Improving one plan of many feeds: evening out its intervals, then moving one feed at a time.

On a long line every choice of places cannot be tried. But the lowest voltage of each interval depends nearly only on
the feeds beside it, so a few Newton steps on the places make all those minima equal, which is near the best; single
moves of ever smaller stride do the rest.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lstsq

from tiny_lantern.electrical.feed.judge import Judged, Task, judge

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
EVENING_STEPS = 8
MOST_ROUNDS = 60
BEYOND = 1e6
AROUND = 2
ALIKE_EVERY = 6
Check = Callable[[], None]


def score_of(judged: Judged) -> Floats:
    """One number a plan, the less the better: beyond the limits first, then the worst voltage. (n_plans,)"""
    return np.where(judged.beyond > 0, BEYOND * (1 + np.minimum(judged.beyond, 1e6)), -judged.worst_v)


def best_score(task: Task, plan: Ints) -> float:
    """The score of one plan, (n_feeds,).

    Args:
        task: the line and what is asked of it.
        plan: nodes of the ladder, (n_feeds,). [-]
    """
    return float(score_of(judge(task, plan[None]))[0])


def snapped(task: Task, places: Floats) -> Ints | None:
    """Candidates nearest to wished-for nodes, each used once; None when there are too few. (n_feeds,)

    Args:
        task: the line and what is asked of it.
        places: wished-for nodes, not whole, (n_feeds,). [-]
    """
    candidates, count = task.candidates, len(places)
    if len(candidates) < count:
        return None
    at = np.searchsorted(candidates, places)
    at = np.clip(at, 1, len(candidates) - 1) if len(candidates) > 1 else np.zeros(count, np.int64)
    if len(candidates) > 1:
        at = np.where(places - candidates[at - 1] <= candidates[at] - places, at - 1, at)
    at = np.maximum.accumulate(at - np.arange(count)) + np.arange(count)
    over = at - (len(candidates) - count + np.arange(count))
    at = np.where(over > 0, at - over, at)
    return candidates[at]


def evened(task: Task, plan: Ints, check: Check) -> Ints:
    """The plan with the lowest voltages of its intervals made as equal as whole nodes allow. (n_feeds,)

    Args:
        task: the line and what is asked of it.
        plan: nodes of the ladder, (n_feeds,). [-]
        check: called now and then, to stop.
    """
    best, best_at = best_score(task, plan), plan
    for _ in range(EVENING_STEPS):
        check()
        lows = interval_lows(task, plan[None])[0]
        step = _even_step(task, plan, lows)
        if step is None:
            break
        moved = next((m for m in (_stepped(task, plan, share * step) for share in (1.0, 0.5)) if m is not None), None)
        if moved is None or np.array_equal(moved, plan):
            break
        plan = moved
        score = best_score(task, plan)
        if score < best:
            best, best_at = score, plan
    return best_at


def _stepped(task: Task, plan: Ints, step: Floats) -> Ints | None:
    room = np.diff(np.concatenate([[-1], plan, [task.ladder.size]]))
    most = 0.45 * np.minimum(room[:-1], room[1:])
    moved = snapped(task, np.asarray(plan + np.clip(step, -most, most), np.float64))
    if moved is None or not task.ladder.feeds_every_piece(moved[None])[0]:
        return None
    return moved


def interval_lows(task: Task, plans: Ints) -> Floats:
    """Lowest pixel voltage before, between and after the feeds of each plan. (n_plans, n_feeds + 1) [V]

    Args:
        task: the line and what is asked of it.
        plans: nodes of the ladder, (n_plans, n_feeds). [-]
    """
    ladder = task.ladder
    pos, neg, _ = ladder.solve(plans, task.load)
    v = np.where(ladder.pixel, pos - neg, np.inf)
    edges = np.concatenate([np.zeros((len(plans), 1), np.int64), plans], axis=1)
    flat = v.ravel()
    starts = (edges + np.arange(len(plans))[:, None] * ladder.size).ravel()
    return np.minimum.reduceat(flat, starts).reshape(edges.shape)


def _even_step(task: Task, plan: Ints, lows: Floats) -> Floats | None:
    """How far each feed should move so that all intervals' lows become one: Newton with sensitivities by trial.

    Every sixth feed is tried at once, since an interval's low depends nearly only on the feeds beside it. Tails without
    a pixel ask for nothing. Unknowns are the moves and the common low; the system is solved in the sense
    of least squares since intervals across a cut are not one.
    """
    count, size = len(plan), task.ladder.size
    room = np.diff(np.concatenate([[0], plan, [size - 1]]))
    nudge = np.maximum(1, np.minimum(room[:-1], room[1:]) // 10)
    nudge = np.where(plan + nudge < size - (count - np.arange(count)) + 1, nudge, -nudge)
    groups = min(count, ALIKE_EVERY)
    moved = np.arange(count) % groups == np.arange(groups)[:, None]
    trials = np.clip(plan + np.where(moved, nudge, 0), 0, size - 1)
    rising = (np.diff(trials, axis=1) > 0).all(axis=1) & task.ladder.feeds_every_piece(trials)
    if not rising.any():
        return None
    tried = np.repeat(lows[None], groups, axis=0)
    tried[rising] = interval_lows(task, trials[rising])
    both = np.isfinite(lows) & np.isfinite(tried).all(axis=0)
    slopes = np.zeros((count, count + 1))
    for feed in range(count):
        beside = (
            np.flatnonzero(both) if groups == count else np.array([n for n in (feed, feed + 1) if both[n]], np.int64)
        )
        slopes[feed, beside] = (tried[feed % groups, beside] - lows[beside]) / nudge[feed]
    matrix = np.concatenate([slopes.T, -np.ones((count + 1, 1))], axis=1)[both]
    wanted = -lows[both]
    weight = np.ptp(lows[both]) if both.any() else 0.0
    if weight < 1e-4:
        return None
    found = lstsq(matrix, wanted, cond=1e-9, lapack_driver="gelsy", check_finite=False)[0]
    return np.asarray(found[:count])


def moved_while_it_helps(task: Task, plan: Ints, check: Check, rounds: int = MOST_ROUNDS) -> tuple[Ints, float]:
    """The plan improved by moving one feed at a time, far moves first, and its score.

    Args:
        task: the line and what is asked of it.
        plan: nodes of the ladder, (n_feeds,). [-]
        check: called now and then, to stop.
        rounds: how often at most every feed is moved. [-]
    """
    best = best_score(task, plan)
    stride = max(1, int(np.diff(np.concatenate([[0], plan, [task.ladder.size - 1]])).max()) // 4)
    for _ in range(rounds):
        check()
        trials = _single_moves(task, plan, stride, _near_the_worst(task, plan))
        if len(trials):
            scores = score_of(judge(task, trials))
            first = int(scores.argmin())
            if scores[first] < best - 1e-12:
                plan, best = trials[first], float(scores[first])
                continue
        if stride == 1:
            break
        stride = max(1, stride // 2)
    return plan, best


def _near_the_worst(task: Task, plan: Ints) -> range:
    """Feeds around the interval with the lowest voltage, which alone can raise it; all where something else is
    short."""
    lows = interval_lows(task, plan[None])[0]
    if lows.min() >= task.limits.least_v.max() and best_score(task, plan) > 0:
        return range(len(plan))
    at = int(lows.argmin())
    return range(max(0, at - AROUND), min(len(plan), at + AROUND))


def _single_moves(task: Task, plan: Ints, stride: int, feeds: range) -> Ints:
    """Every plan with one of some feeds, or two neighbours together, moved by a stride and by half of it, on
    candidates."""
    found = []
    at = np.searchsorted(task.candidates, plan)
    last = len(task.candidates) - 1
    for step in {stride, -stride, max(1, stride // 2), -max(1, stride // 2)}:
        for width in (1, 2):
            for number in range(feeds.start, min(feeds.stop, len(plan) - width + 1)):
                moved = at.copy()
                moved[number : number + width] += step
                if moved[0] >= 0 and moved[-1] <= last and (np.diff(moved) > 0).all():
                    found.append(task.candidates[moved])
    if not found:
        return np.zeros((0, len(plan)), np.int64)
    trials = np.array(found)
    return trials[task.ladder.feeds_every_piece(trials)]
