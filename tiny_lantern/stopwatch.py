"""Telling how long each phase of the start took."""

from __future__ import annotations

import time


class Stopwatch:
    """Marks the phases of the start and prints them on request."""

    def __init__(self, wanted: bool) -> None:
        self._wanted = wanted
        self._last = self._first = time.perf_counter()

    def mark(self, phase: str) -> None:
        """Print the time since the last mark."""
        now = time.perf_counter()
        if self._wanted:
            print(f"{phase:<28}{(now - self._last) * 1000:8.0f} ms {(now - self._first) * 1000:8.0f} ms", flush=True)
        self._last = now

    def tell(self, what: str, time_s: float) -> None:
        """Print a time that something else measured.

        Args:
            what: what it is of.
            time_s: the time. [s]
        """
        if self._wanted:
            print(f"{what:<28}{time_s * 1000:8.0f} ms", flush=True)
