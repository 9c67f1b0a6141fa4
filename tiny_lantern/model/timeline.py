"""The one place where times become frames: ticks are whole numbers, and everything counts them alike."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
HAIR = 1e-6
HALF = 0.5 + 1e-9


@dataclass(frozen=True)
class Timeline:
    """The frames of a show: ``tick_hz`` a second, for ``show_s``."""

    tick_hz: float
    show_s: float

    @property
    def count(self) -> int:
        """Frames in the whole show, one at least. [-]"""
        return max(1, round(self.show_s * self.tick_hz))

    def on_show(self, time_s: float) -> int:
        """The frame that is seen at a time, kept inside the show. [-]

        Args:
            time_s: the time. [s]
        """
        return int(self.all_on_show(np.array([time_s]))[0])

    def all_on_show(self, times_s: Floats) -> Ints:
        """The same for many times, (n,) to (n,). [-]

        Args:
            times_s: the times, (n,). [s]
        """
        ticks = np.floor(np.asarray(times_s) * self.tick_hz + HAIR).astype(np.int64)
        return np.clip(ticks, 0, self.count - 1)

    def nearest(self, times_s: Floats) -> Ints:
        """The frames whose beginnings are nearest to some times, a half upward, (n,) to (n,). [-]

        Args:
            times_s: the times, (n,). [s]
        """
        return np.floor(np.asarray(times_s) * self.tick_hz + HALF).astype(np.int64)

    def covered(self, starts_s: Floats, lengths_s: Floats) -> tuple[Ints, Ints]:
        """The first frame of some effects and the one after their last, one frame at least, each (n,). [-]

        Args:
            starts_s: when they begin, (n,). [s]
            lengths_s: how long they last, (n,). [s]
        """
        begin = self.nearest(starts_s)
        return begin, np.maximum(begin + 1, self.nearest(np.asarray(starts_s) + np.asarray(lengths_s)))

    def begins_s(self, tick: int) -> float:
        """When a frame begins. [s]

        Args:
            tick: the frame. [-]
        """
        return tick / self.tick_hz
