"""What the show draws from the supplies at every tick."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.frames import FrameSolver
from tiny_lantern.electrical.power_tree import beside_strips_a
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.model.timeline import Timeline
from tiny_lantern.show.loads import frame_duties
from tiny_lantern.show.weave import blocks

Floats = NDArray[np.float64]
MOST_KEPT = 30_000_000


@dataclass(frozen=True, eq=False)
class ShowDraw:
    """Each tick: current of every supply (n_ticks, n_supplies) and out of every feed (n_ticks, n_feeds), the latter
    left out, (0, n_feeds), where it is too much to keep [A]; the lowest pixel voltage (n_ticks,) [V]; and the strip and
    the pixel that has the lowest of all.

    Two of them are equal only when they are one: a later one was worked out of another show.
    """

    supply_a: Floats
    worst_v: Floats
    timeline: Timeline
    feed_a: NDArray[np.float32] = field(default_factory=lambda: np.zeros((0, 0), np.float32))
    worst_pixel: tuple[str, int] | None = None

    @cached_property
    def total_a(self) -> Floats:
        """Current of all supplies together. (n_ticks,) [A]"""
        return np.asarray(self.supply_a.sum(axis=1))

    @cached_property
    def worst_tick(self) -> int:
        """The tick that draws most."""
        return int(self.total_a.argmax())


def show_draw(
    build: Build,
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> ShowDraw:
    """Solve every tick of the show; equal frames are solved once.

    Args:
        build: the build.
        progress: told the share done, 0 to 1.
        cancelled: asked between frames whether to stop.

    Raises:
        LanternError: the network cannot be solved.
        CancelledError: asked to stop.
    """
    total = build.timeline.count
    solver = FrameSolver(build, beside_strips_a(build))
    supply_a, worst_v = np.zeros((total, len(build.supplies))), np.zeros(total)
    kept = total if total * len(build.feeds) <= MOST_KEPT else 0
    feed_a = np.zeros((kept, len(build.feeds)), np.float32)
    worst = (np.inf, -1)
    known: dict[bytes, int] = {}
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        ticks = first + np.arange(len(block))
        like = np.array([known.setdefault(_digest(frame), int(tick)) for frame, tick in zip(block, ticks, strict=True)])
        new = np.flatnonzero(like == ticks)
        if len(new):
            solved = solver.solve(frame_duties(build, block[new]))
            supply_a[ticks[new]], worst_v[ticks[new]] = solved.supply_a, solved.lowest_v
            lowest = int(solved.lowest_v.argmin())
            worst = min(worst, (float(solved.lowest_v[lowest]), int(solved.lowest_pair[lowest])))
            if kept:
                feed_a[ticks[new]] = solved.feed_a
        supply_a[ticks], worst_v[ticks] = supply_a[like], worst_v[like]
        if kept:
            feed_a[ticks] = feed_a[like]
        progress(min(1.0, (first + len(block)) / total))
    return ShowDraw(supply_a, worst_v, build.timeline, feed_a, solver.pixel_of(worst[1]))


def _digest(frame: NDArray[np.uint8]) -> bytes:
    return blake2b(frame.tobytes(), digest_size=16).digest()
