"""Slow drawing that waits for a pause in a row of changes, though never long."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PySide6.QtCore import QObject, QTimer

SLOW_S = 0.03
LATEST_S = 0.3


class Calm(QObject):
    """Asks for drawing once changes pause for about as long as the drawing took, and at the latest after a moment.

    So a row of undos on a large build does not draw each of them, and a long drag is still seen.

    Args:
        parent: what it lives with.
        draw: asks for the drawing.
    """

    def __init__(self, parent: QObject, draw: Callable[[], None]) -> None:
        super().__init__(parent)
        self._cost_s = 0.0
        self._first = 0.0
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.timeout.connect(draw)

    @property
    def waiting(self) -> bool:
        """Whether drawing is put off."""
        return self._due.isActive()

    def ask(self) -> None:
        """Something changed."""
        if self._cost_s < SLOW_S:
            return
        now = time.perf_counter()
        if not self._due.isActive():
            self._first = now
        if now - self._first < LATEST_S:
            self._due.start(round(1000 * min(self._cost_s, LATEST_S)))

    @contextmanager
    def measured(self) -> Iterator[None]:
        """Measures the drawing done inside."""
        began = time.perf_counter()
        yield
        self._cost_s = time.perf_counter() - began
