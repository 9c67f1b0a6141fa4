"""Where to feed one run: the fewest feeds, then the least wire, then the highest worst voltage.

While every lit channel conducts, the run is linear: its pixels are constant currents (or currents with one slope),
and feeds are a handful of resistances on it. So one factorisation of the bare run serves every choice of places,
and thousands of choices are tried at once. Short runs are searched whole; long ones by moving one feed at a time
from even spacings, and the answer stands beside a lower bound that no choice of places can beat.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import combinations, islice
from math import comb

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.bare_run import BareRun
from tiny_lantern.electrical.cover import ideal_feeds
from tiny_lantern.model.errors import CancelledError, LanternError

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
WHOLE_SEARCH = 60_000
CHUNK_VALUES = 4_000_000
MOST_FEEDS = 64
MOST_SWEEPS = 12
COARSE_PLACES = 120
NOT_EVEN_CURRENTS = 1e3


@dataclass(frozen=True)
class FeedLimits:
    """What a placement must meet: current in a feed, current in the strip's rails, and each pixel's least voltage.

    ``least_v`` has shape (n_pixels,) and must not be below the voltage from which the run is linear. With ``short_a``
    above zero a short at the far end of what each feed guards must draw at least that much.
    """

    feed_a: float
    rail_a: float
    least_v: Floats
    short_a: float = 0.0


@dataclass(frozen=True)
class Placement:
    """Rail nodes to feed, in rising order, with what they cost and give."""

    nodes: tuple[int, ...]
    wire_m: float
    worst_v: float


@dataclass(frozen=True)
class SearchResult:
    """The best placement, whether it is proven to have the fewest feeds, and the lower bound."""

    placement: Placement
    proven: bool
    lower_bound: int


def find_feeds(
    run: BareRun,
    limits: FeedLimits,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
    most_feeds: int = MOST_FEEDS,
) -> SearchResult:
    """Search the places of feeds on one run.

    Args:
        run: the run without feeds, with the candidate nodes and what a feed at each would be.
        limits: what must be met.
        progress: told the share done, 0 to 1.
        cancelled: asked now and then whether to stop.
        most_feeds: give up beyond this many.

    Raises:
        LanternError: even a feed at every candidate place does not meet the limits.
        CancelledError: asked to stop.
    """
    search = _Search(run, limits, progress, cancelled)
    search.require_possible()
    lower = lower_bound(run, limits)
    whole_so_far = True
    for count in range(lower, most_feeds + 1):
        whole = comb(len(run.candidates), count) <= WHOLE_SEARCH
        best = search.whole(count) if whole else search.by_moves(count)
        if best is not None:
            return SearchResult(best, count == lower or whole_so_far, lower)
        whole_so_far = whole_so_far and whole
    raise LanternError(
        f"no more than {most_feeds} feeds were tried, and that is not enough", "Find feeds",
        "a thicker feed wire, zone cuts, or a load below full white",
    )  # fmt: skip


def lower_bound(run: BareRun, limits: FeedLimits) -> int:
    """Feeds that any placement needs: for its current, for its zones, and even if every wire were ideal. [-]

    Args:
        run: the bare run.
        limits: what must be met.
    """
    at_most = min(limits.feed_a, 2 * limits.rail_a + run.largest_pixel_a)
    by_current = int(np.ceil(run.drawn_a / at_most - 1e-9))
    by_drop = ideal_feeds(run, float(limits.least_v.min()))
    return max(1, run.zone_count, by_current, by_drop)


class _Search:
    def __init__(
        self, run: BareRun, limits: FeedLimits, progress: Callable[[float], None], cancelled: Callable[[], bool]
    ) -> None:
        self.run, self.limits, self.progress, self.cancelled = run, limits, progress, cancelled

    def require_possible(self) -> None:
        """Refuse early when a feed at every candidate is not enough."""
        every = np.arange(len(self.run.candidates))[None, :: max(1, len(self.run.candidates) // 120)]
        solved = self.run.solve(every)
        if (solved.pixel_v < self.limits.least_v).any():
            raise LanternError(
                "even with a feed at every place some pixels stay outside the limits", "Find feeds",
                "a higher supply voltage, a thicker or shorter lead, or wider limits",
            )  # fmt: skip

    def whole(self, count: int) -> Placement | None:
        """Every choice of ``count`` candidates."""
        total = comb(len(self.run.candidates), count)
        size = self._chunk(count)
        choices = combinations(range(len(self.run.candidates)), count)
        best: Placement | None = None
        for done, chunk in enumerate(_chunks(choices, size)):
            self._check(min(1.0, done * size / total))
            best = self._better(best, self._best_of(chunk))
        return best

    def by_moves(self, count: int) -> Placement | None:
        """From several even spacings, move one feed at a time while that helps."""
        best: Placement | None = None
        starts = self._starts(count)
        for done, start in enumerate(starts):
            self._check(done / len(starts))
            found = self._settle(start)
            best = self._better(best, found)
        return best

    def _starts(self, count: int) -> list[Ints]:
        last = len(self.run.candidates) - 1
        grid = np.arange(count)
        spacings = [
            np.linspace(0, last, count) if count > 1 else np.array([last / 2]),
            (grid + 0.5) * last / count,
            (grid + 1) * last / (count + 1),
            grid * last / count,
            (grid + 1) * last / count,
        ]
        return [np.unique(np.round(spacing).astype(np.int64)) for spacing in spacings]

    def _settle(self, choice: Ints) -> Placement | None:
        """Lower the violation by single moves, far ones first; once inside the limits, lower the wire."""
        stride = max(1, len(self.run.candidates) // COARSE_PLACES)
        choice = self._move_while_it_helps(choice, stride, len(self.run.candidates))
        if stride > 1:
            choice = self._move_while_it_helps(choice, 1, stride)
        return self._best_of(choice[None])

    def _move_while_it_helps(self, choice: Ints, stride: int, span: int) -> Ints:
        score = self._scores(choice[None])[0]
        for _ in range(MOST_SWEEPS):
            before = score
            for at in range(len(choice)):
                self._check(None)
                moved = self._moves(choice, at, stride, span)
                scores = self._scores(moved)
                first = scores.index(min(scores))
                if scores[first] < score:
                    choice, score = moved[first], scores[first]
            if score == before:
                break
        return choice

    def _moves(self, choice: Ints, at: int, stride: int, span: int) -> Ints:
        low = choice[at - 1] + 1 if at else 0
        high = choice[at + 1] if at + 1 < len(choice) else len(self.run.candidates)
        places = np.arange(max(low, choice[at] - span), min(high, choice[at] + span + 1), stride)
        moved = np.repeat(choice[None], len(places), axis=0)
        moved[:, at] = places
        return moved

    def _scores(self, choices: Ints) -> list[tuple[float, float, float]]:
        outside, wire, worst = self._judge(choices)
        return [(max(0.0, float(o)), float(w), -float(v)) for o, w, v in zip(outside, wire, worst, strict=True)]

    def _judge(self, choices: Ints) -> tuple[Floats, Floats, Floats]:
        """How far outside the limits, metres of wire to the millimetre, and worst voltage of each choice."""
        parts = [
            self._judge_chunk(choices[at : at + self._chunk(choices.shape[1])])
            for at in range(0, len(choices), self._chunk(choices.shape[1]))
        ]
        outside, wire, worst = (np.concatenate(side) for side in zip(*parts, strict=True))
        return outside, wire, worst

    def _judge_chunk(self, choices: Ints) -> tuple[Floats, Floats, Floats]:
        """Currents first, which cost little; voltages only where the currents are allowed."""
        wire = np.round(self.run.wire_m[choices].sum(axis=1), 3)
        outside, worst = np.full(len(choices), np.inf), np.full(len(choices), -np.inf)
        live = np.flatnonzero(self.run.reaches_every_zone(choices))
        if not len(live):
            return outside, wire, worst
        currents = self.run.feed_currents(choices[live])
        carried = np.abs(currents[:, : 2 * choices.shape[1]]).max(axis=1)
        over = np.maximum(0, carried / self.limits.feed_a - 1 - 1e-9)
        over += np.maximum(0, self.limits.short_a - self.run.short_a(choices[live]).min(axis=1) - 1e-9)
        outside[live] = np.where(over > 0, NOT_EVEN_CURRENTS + over, 0)
        allowed = over <= 0
        if allowed.any():
            solved = self.run.solve(choices[live[allowed]], currents[allowed])
            over_rail = solved.rail_a / self.limits.rail_a - 1 - 1e-9
            lacking = (self.limits.least_v - solved.pixel_v).max(axis=1) - 1e-9
            outside[live[allowed]] = np.maximum(0, over_rail) + np.maximum(0, lacking)
            worst[live[allowed]] = solved.pixel_v.min(axis=1)
        return outside, wire, worst

    def _best_of(self, choices: Ints) -> Placement | None:
        outside, wire, worst = self._judge(choices)
        inside = np.flatnonzero(outside <= 0)
        if not len(inside):
            return None
        first = inside[np.lexsort((-np.round(worst[inside], 9), wire[inside]))[0]]
        nodes = tuple(int(node) for node in self.run.candidates[choices[first]])
        return Placement(nodes, float(wire[first]), float(worst[first]))

    @staticmethod
    def _better(first: Placement | None, second: Placement | None) -> Placement | None:
        if first is None or second is None:
            return first or second
        return min(first, second, key=lambda place: (place.wire_m, -round(place.worst_v, 9)))

    def _chunk(self, count: int) -> int:
        return max(1, CHUNK_VALUES // ((count + 2) * 2 * self.run.node_count))

    def _check(self, share: float | None) -> None:
        if self.cancelled():
            raise CancelledError
        if share is not None:
            self.progress(share)


def _chunks(choices: Iterator[tuple[int, ...]], size: int) -> Iterator[Ints]:
    while chunk := list(islice(choices, size)):
        yield np.array(chunk, np.int64)
