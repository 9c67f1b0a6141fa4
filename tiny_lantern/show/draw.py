"""What the show draws from the supplies at every tick."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
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


@dataclass(frozen=True, eq=False)
class ShowDraw:
    """Each tick: current of every supply (n_ticks, n_supplies) [A] and the lowest pixel voltage (n_ticks,) [V].

    Two of them are equal only when they are one: a later one was worked out of another show.
    """

    supply_a: Floats
    worst_v: Floats
    timeline: Timeline

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
    known: dict[bytes, int] = {}
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        ticks = first + np.arange(len(block))
        like = np.array([known.setdefault(_digest(frame), int(tick)) for frame, tick in zip(block, ticks, strict=True)])
        new = np.flatnonzero(like == ticks)
        if len(new):
            supply_a[ticks[new]], worst_v[ticks[new]] = solver.solve(frame_duties(build, block[new]))
        supply_a[ticks], worst_v[ticks] = supply_a[like], worst_v[like]
        progress(min(1.0, (first + len(block)) / total))
    return ShowDraw(supply_a, worst_v, build.timeline)


def _digest(frame: NDArray[np.uint8]) -> bytes:
    return blake2b(frame.tobytes(), digest_size=16).digest()
