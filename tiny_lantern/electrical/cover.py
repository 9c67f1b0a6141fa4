"""A lower bound on feeds: how many a run needs even if supplies and wires had no resistance."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.bare_run import BareRun

Floats = NDArray[np.float64]


def ideal_feeds(run: BareRun, floor_v: float) -> int:
    """Fewest ideal feeds that keep every pixel above a voltage. [-]

    Ideal feeds separate the run into stretches that do not touch each other, so reaching as far as possible each
    time is optimal; real feeds can only be worse. Where zones are cut the shared return is taken as ideal.

    Args:
        run: the bare run.
        floor_v: lowest voltage a pixel may have. [V]
    """
    headroom = run.headroom_v(floor_v)
    current = run.least_pixel_a(floor_v)
    step_ohm = sum(run.step_ohm) if run.zone_count == 1 else run.step_ohm[0]
    return sum(_cover(current[first:stop] * step_ohm, headroom) for first, stop in run.zones)


def _cover(drop: Floats, headroom: float) -> int:
    """Feeds for one stretch; ``drop`` is each pixel's current times the loop resistance of one pitch. [V]"""
    if headroom <= 0:
        return 1
    last = len(drop) - 1
    feed = _furthest(0, last, lambda at: _dead_end(drop[: at + 1][::-1]) <= headroom)
    count = 1
    while _dead_end(drop[feed:]) > headroom:
        feed = _next_feed(drop, feed, headroom)
        count += 1
    return count


def _next_feed(drop: Floats, feed: int, headroom: float) -> int:
    return _furthest(feed + 1, len(drop) - 1, lambda at: _between(drop[feed : at + 1]) <= headroom)


def _furthest(low: int, high: int, holds: Callable[[int], bool]) -> int:
    """The last place for which a condition holds that turns false once; ``low`` is taken as holding."""
    while low < high:
        middle = (low + high + 1) // 2
        if holds(middle):
            low = middle
        else:
            high = middle - 1
    return low


def _dead_end(drop: Floats) -> float:
    """Voltage lost from the first pixel of a stretch, fed there, to its last."""
    return float(drop @ np.arange(len(drop)))


def _between(drop: Floats) -> float:
    """Largest voltage lost between two ideal feeds at the first and the last pixel of a stretch.

    ``U_m = (L−m)/L · Σ_{k≤m} k·d_k + m/L · Σ_{k>m} (L−k)·d_k``  (1).
    """
    length = len(drop) - 1
    place = np.arange(len(drop))
    left = np.cumsum(place * drop)
    far = (length - place) * drop
    right = far.sum() - np.cumsum(far)
    return float((((length - place) * left + place * right) / length).max())  # (1)
