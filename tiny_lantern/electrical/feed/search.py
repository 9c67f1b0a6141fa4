"""The fewest feeds, of those the highest worst voltage, and of plans alike in that the tidiest.

Short lines are searched whole. On long ones the search begins from a few spacings, evens them out and moves single
feeds; the answer stands beside a bound that no plan can beat, and only where both are equal are fewer ruled out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from itertools import combinations, islice, product
from math import comb

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.feed.bound import Bound
from tiny_lantern.electrical.feed.judge import HAIR, Judged, Task, judge
from tiny_lantern.electrical.feed.local import BEYOND, best_score, evened, moved_while_it_helps, snapped
from tiny_lantern.electrical.feed.tidy import ALIKE_V, RoundPlaces
from tiny_lantern.model.errors import CancelledError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
WHOLE_NODES = 72
WHOLE_PLANS = 700_000
FEW_PLANS = 6_000
CHUNK_PLANS = 20_000
MOST_FEEDS = 400
MANY_FEEDS = 64
NEAR_ROUND = 3
NEAR_STRIDE, FAR_STRIDE = 12, 8
MOST_TIDY_PLANS = 4_000
TIDY_NODES = 20_000_000


@dataclass(frozen=True)
class Level:
    """All plans of one number of feeds, tried whole: how many there are, and the feasible ones with their worst
    voltages and wire, (n_feasible, n_feeds), (n_feasible,). [V] [m]"""

    feeds: int
    tried: int
    plans: Ints
    worst_v: Floats
    wire_m: Floats


@dataclass(frozen=True)
class Found:
    """What a search found. ``plan`` is None where there is none, and ``why`` says which limit forbids it. ``levels``
    are the numbers of feeds that were tried whole; ``alike`` the plans within 20 mV of the best, the tidiest first,
    with their worst voltages, where the last level was tried whole."""

    bound: Bound
    plan: Ints | None
    why: str = ""
    levels: tuple[Level, ...] = ()
    best_worst_v: float = float("nan")
    alike: Ints = field(default_factory=lambda: np.zeros((0, 0), np.int64))
    alike_v: Floats = field(default_factory=lambda: np.zeros(0))
    alike_m: Floats = field(default_factory=lambda: np.zeros(0))

    @property
    def proven(self) -> bool:
        """Whether the bound rules out fewer feeds."""
        return self.plan is not None and len(self.plan) == self.bound.fewest

    @property
    def tried_whole(self) -> bool:
        """Whether every smaller number of feeds was tried whole."""
        return self.plan is not None and {level.feeds for level in self.levels} >= set(range(1, len(self.plan)))


NOT_EVEN_CURRENT = "supply: the least current that meets the limits is over what the supplies may give for long"
NOT_EVEN_RELAXED = "voltage: not even relaxed feeds at every candidate meet the limits"
NONE_MEETS = "every choice of places was tried and none meets the limits"
NOT_FOUND = "no plan was found; not every choice of places was tried"


def search(
    task: Task,
    bound: Bound,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
    at_least: int = 1,
    most_feeds: int = MOST_FEEDS,
    tidy: bool = True,
) -> Found:
    """Search a line.

    Args:
        task: what is asked.
        bound: its lower bounds.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.
        at_least: begin with this many feeds. [-]
        most_feeds: the largest number of feeds to try. [-]
        tidy: of plans alike, look for the tidiest on a line too long to be tried whole.

    Raises:
        CancelledError: asked to stop.
    """
    if bound.least_a > float(task.limits.supply_a.sum()) + HAIR:
        return Found(bound, None, NOT_EVEN_CURRENT)
    if bound.fewest is None:
        return Found(bound, None, NOT_EVEN_RELAXED)
    return _Search(task, bound, progress, cancelled, tidy).run(at_least, min(most_feeds, len(task.candidates)))


class _Search:
    def __init__(
        self, task: Task, bound: Bound, progress: Callable[[float], None], cancelled: Callable[[], bool], tidy: bool
    ) -> None:
        self.tidy = tidy
        self.task, self.bound, self.progress, self.cancelled = task, bound, progress, cancelled
        self.round = RoundPlaces(task.ladder)
        self.levels: list[Level] = []

    def run(self, at_least: int, most: int) -> Found:
        fewest = self.bound.fewest
        assert fewest is not None
        small = self.task.ladder.size <= WHOLE_NODES
        count = at_least if small else max(fewest, at_least)
        failed = count - 1
        while count <= most:
            self.check()
            stride = 1
            if self._tried_whole(count):
                level = self._level(count)
                self.levels.append(level)
                if len(level.plans):
                    return self._of_level(level)
            elif count >= fewest:
                found, near = self._local(count)
                if found is not None:
                    return self._of_local(self._fewer(found, failed))
                stride = max(1, count // (NEAR_STRIDE if near else FAR_STRIDE))
            failed, count = count, min(count + stride, most) if count < most else most + 1
        tried = {level.feeds for level in self.levels} >= set(range(max(1, at_least), len(self.task.candidates) + 1))
        return Found(self.bound, None, NONE_MEETS if tried else NOT_FOUND, tuple(self.levels))

    def _fewer(self, found: Ints, failed: int) -> Ints:
        """The plan of fewest feeds between a number that failed and a plan that does, by halving; of very many
        feeds to one in sixty-four."""
        while len(found) - failed > max(1, len(found) // MANY_FEEDS):
            middle = (len(found) + failed) // 2
            plan, _ = self._local(middle)
            if plan is None:
                failed = middle
            else:
                found = plan
        return found

    def check(self) -> None:
        if self.cancelled():
            raise CancelledError

    def _tried_whole(self, count: int) -> bool:
        plans = comb(len(self.task.candidates), count)
        return plans <= (WHOLE_PLANS if self.task.ladder.size <= WHOLE_NODES else FEW_PLANS)

    def _level(self, count: int) -> Level:
        total, done = comb(len(self.task.candidates), count), 0
        kept: list[tuple[Ints, Judged]] = []
        for chunk in _chunks(self.task.candidates, count):
            self.check()
            judged = judge(self.task, chunk)
            inside = judged.feasible
            kept.append((chunk[inside], Judged(judged.beyond[inside], judged.worst_v[inside], judged.wire_m[inside])))
            done += len(chunk)
            self.progress(done / total)
        plans = np.concatenate([plans for plans, _ in kept])
        worst, wire = (np.concatenate([getattr(j, name) for _, j in kept]) for name in ("worst_v", "wire_m"))
        return Level(count, total, plans, worst, wire)

    def _of_level(self, level: Level) -> Found:
        best = float(level.worst_v.max())
        alike = np.flatnonzero(level.worst_v >= best - ALIKE_V)
        order = alike[self.round.order(level.plans[alike], level.wire_m[alike])]
        return Found(
            self.bound, level.plans[order[0]], "", tuple(self.levels), best, level.plans[order], level.worst_v[order],
            level.wire_m[order],
        )  # fmt: skip

    def _local(self, count: int) -> tuple[Ints | None, bool]:
        """The plan of highest worst voltage that single moves reach, and whether one was near when there is none."""
        tried: list[tuple[float, Ints]] = []
        for start in self._starts(count):
            plan = evened(self.task, start, self.check)
            tried.append((best_score(self.task, plan), plan))
            if tried[0][0] > HOPELESS or count > MANY_FEEDS:
                break
        self.progress(min(0.9, count / (count + 4)))
        tried.sort(key=lambda each: (each[0], each[1].tolist()))
        best: tuple[float, Ints] | None = None
        for score, plan in tried[:2]:
            if score > FAR_BEYOND:
                continue
            plan, score = moved_while_it_helps(self.task, plan, self.check)
            if best is None or score < best[0]:
                best = (score, plan)
        if best is None:
            return None, bool(tried) and tried[0][0] <= HOPELESS
        return (best[1] if best[0] < BEYOND else None), True

    def _starts(self, count: int) -> Iterator[Ints]:
        """Even spacings: centred, with both ends, with either end; shared among pieces by their need."""
        ladder = self.task.ladder
        shares = self._shares(count)
        if shares is None:
            return
        for kind in range(4):
            wished = []
            for piece, own in enumerate(shares):
                nodes = np.flatnonzero(ladder.piece == piece)
                first, last = float(nodes[0]), float(nodes[-1])
                wished.append(first + (last - first) * _spacing(kind, own))
            plan = snapped(self.task, np.concatenate(wished))
            if plan is not None and ladder.feeds_every_piece(plan[None])[0]:
                yield plan

    def _shares(self, count: int) -> list[int] | None:
        """Feeds of each piece: at least what its bound says, the rest where the lowest voltage would be lowest."""
        pieces = self.task.ladder.pieces
        if count < pieces:
            return None
        greedy = np.bincount(self.task.ladder.piece[np.array(self.bound.greedy)], minlength=pieces)
        need = np.maximum(1, np.maximum(greedy, np.ceil(np.array(self.bound.pieces_a) / self.bound.one_feed_a - HAIR)))
        own = need.astype(int)
        length = np.array(self.bound.pieces_a) + 1e-9
        while own.sum() > count:
            own[int(np.argmax(np.where(own > 1, own / length, -1.0)))] -= 1
        while own.sum() < count:
            own[int(np.argmax(length / own))] += 1
        return [int(node) for node in own]

    def _of_local(self, plan: Ints) -> Found:
        """The tidiest plan that rounding the places of a good one reaches without losing 20 mV."""
        judged = judge(self.task, plan[None])
        best = float(judged.worst_v[0])
        floor = best - ALIKE_V
        spent = 0
        while self.tidy and spent < TIDY_NODES:
            self.check()
            trials = self._tidier(plan)
            spent += len(trials) * self.task.ladder.size
            kept = self._kept(trials, floor)
            together = self._kept(_all_at_once(plan, kept, self.round), floor)
            first = max((kept, together), key=lambda plans: int(self.round.any[plans].sum(axis=1).max(initial=-1)))
            best_kept = first[self.round.order(first, 2 * self.task.wire_m[first].sum(axis=1))[0]]
            if np.array_equal(best_kept, plan):
                break
            plan = best_kept
        return Found(self.bound, plan, "", tuple(self.levels), best)

    def _kept(self, trials: Ints, floor: float) -> Ints:
        """Those of some plans that stay within the limits and lose no more than what counts as alike."""
        judged = judge(self.task, trials)
        return trials[judged.feasible & (judged.worst_v >= floor - HAIR)]

    def _tidier(self, plan: Ints) -> Ints:
        """The plan itself and those with feeds at round candidates near their places."""
        candidates = self.task.candidates
        rounds = candidates[self.round.any[candidates]]
        options = []
        for node in plan:
            at = int(np.searchsorted(rounds, node))
            near = rounds[max(0, at - NEAR_ROUND) : at + NEAR_ROUND]
            options.append(np.unique(np.append(near, node)))
        total = float(np.prod([float(len(own)) for own in options]))
        if total <= MOST_TIDY_PLANS:
            trials = np.array(list(product(*options)), np.int64)
        else:
            trials = np.repeat(plan[None], 1 + sum(len(own) for own in options), axis=0)
            row = 1
            for number, own in enumerate(options):
                trials[row : row + len(own), number] = own
                row += len(own)
        rising = (np.diff(trials, axis=1) > 0).all(axis=1)
        return trials[rising]


FAR_BEYOND = BEYOND * 1.06
HOPELESS = BEYOND * 1.25


def _all_at_once(plan: Ints, kept: Ints, rounds: RoundPlaces) -> Ints:
    """Plans that make several of the kept moves to round places together: all of them, the first half, the second.
    (n_plans, n_feeds)"""
    whole = plan.copy()
    for number in range(len(plan)):
        options = kept[:, number]
        better = options[rounds.any[options] & ~rounds.any[plan[number]]]
        if len(better):
            whole[number] = better[np.abs(better - plan[number]).argmin()]
    half = len(plan) // 2
    trials = np.array([whole, [*whole[:half], *plan[half:]], [*plan[:half], *whole[half:]]], np.int64)
    return trials[(np.diff(trials, axis=1) > 0).all(axis=1)]


def _spacing(kind: int, count: int) -> Floats:
    """Shares of a length for feeds evenly spaced: centred, both ends, the first end, the last end."""
    at = np.arange(count)
    if kind == 1 and count > 1:
        return at / (count - 1)
    if kind == 2:
        return at / count
    if kind == 3:
        return (at + 1) / count
    return (at + 0.5) / count


def _chunks(candidates: Ints, count: int) -> Iterator[Ints]:
    choices = combinations(candidates.tolist(), count)
    while chunk := list(islice(choices, CHUNK_PLANS)):
        yield np.array(chunk, np.int64)
