"""How many feeds no plan can do without: by voltage, by fuse, by pieces of copper.

With every feed's resistance taken away voltages only rise, and intervals between feeds no longer feel each other; so
going as far as possible each time gives the fewest feeds that such ideal ones would need. The least current that still
meets the light limits, over what one feed may carry, is the other bound.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.feed.judge import HAIR, Task
from tiny_lantern.electrical.feed.ladder import Draw, Ladder

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Bound:
    """Lower bounds on feeds. ``voltage`` is None where not even ideal feeds at every candidate meet the limits;
    ``greedy`` are the nodes it came by. ``fuse`` divides all current, ``fuse_by_pieces`` each piece's own. [A]"""

    voltage: int | None
    greedy: tuple[int, ...]
    least_a: float
    one_feed_a: float
    fuse: int
    pieces_a: tuple[float, ...]
    fuse_by_pieces: int
    pieces: int

    @property
    def fewest(self) -> int | None:
        """The highest of the bounds; None where nothing can do."""
        if self.voltage is None:
            return None
        return max(self.voltage, self.fuse, self.fuse_by_pieces, self.pieces)


def bound_of(task: Task, least_a: Floats) -> Bound:
    """The bounds of a task.

    Args:
        task: what is asked.
        least_a: what each node's pixel draws at full white at the lowest voltage that is accepted, (n_nodes,). [A]
    """
    greedy, reached = _greedy(task)
    pieces = tuple(float(least_a[task.ladder.piece == number].sum()) for number in range(task.ladder.pieces))
    one = task.limits.out_a
    return Bound(
        len(greedy) if reached else None, tuple(greedy), float(least_a.sum()), one, _feeds(least_a.sum(), one), pieces,
        sum(_feeds(current, one) for current in pieces), task.ladder.pieces,
    )  # fmt: skip


def _feeds(current_a: float, one_a: float) -> int:
    return int(np.ceil(current_a / one_a - HAIR))


def _greedy(task: Task) -> tuple[list[int], bool]:
    """Ideal feeds, each as far as the one before allows, and whether they reach the end."""
    candidates, last = task.candidates, task.ladder.size - 1
    places: list[int] = []
    at = -1
    while True:
        if places and _passes(task, places[-1], None):
            return places, True
        furthest = _furthest(
            at + 1, len(candidates) - 1, lambda to: _passes(task, places[-1] if places else None, int(candidates[to]))
        )
        if furthest is None:
            return places, False
        at = furthest
        places.append(int(candidates[at]))
        if places[-1] == last:
            return places, True


def _furthest(low: int, high: int, holds: Callable[[int], bool]) -> int | None:
    """The last number for which a condition holds that turns false once; None when it never holds."""
    if low > high or not holds(low):
        return None
    step = 1
    while low + step <= high and holds(low + step):
        low += step
        step *= 2
    high = min(high, low + step - 1)
    while low < high:
        middle = (low + high + 1) // 2
        low, high = (middle, high) if holds(middle) else (low, middle - 1)
    return low


def _passes(task: Task, start: int | None, stop: int | None) -> bool:
    """Whether the pixels between two ideal feeds, or from one to an end of the line, meet their limits."""
    ladder = task.ladder
    first, last = 0 if start is None else start, ladder.size - 1 if stop is None else stop
    cuts = ladder.piece[last] - ladder.piece[first]
    if cuts > (1 if start is not None and stop is not None else 0):
        return False
    v = _between(ladder, task.load, start, stop, first, last)
    inside = slice(first, last + 1)
    pixel = ladder.pixel[inside]
    return bool((v[pixel] >= task.limits.least_v[inside][pixel] - HAIR).all())


def _between(ladder: Ladder, draw: Draw, start: int | None, stop: int | None, first: int, last: int) -> Floats:
    """Voltage at each node of an interval whose ideal feeds hold supply voltage and zero. (n_inside,) [V]

    Ideal feeds are taken as so small a resistance that nothing in the interval sees it.
    """
    inside, elements = slice(first, last + 1), slice(first, last)
    ends = [end - first for end in (start, stop) if end is not None]
    size = last - first + 1
    if size == 1:
        return ladder.open_v[ladder.supply[inside]]
    part = Ladder(
        ladder.run[inside], ladder.node[inside], ladder.place_m[inside], ladder.pixel[inside],
        ladder.pos_ohm[elements], ladder.neg_ohm[elements], np.full(size, IDEAL_OHM), np.full(size, IDEAL_OHM),
        ladder.supply[inside], ladder.open_v, np.zeros_like(ladder.output_ohm),
    )  # fmt: skip
    pos, neg, _ = part.solve(np.array([ends]), Draw(draw.slope_s[inside], draw.fixed_a[inside]))
    return np.asarray(pos[0] - neg[0])


IDEAL_OHM = 1e-9
