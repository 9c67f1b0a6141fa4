"""How long the window went without answering."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, Qt, QTimer


class Pauses(QObject):
    """Looks at the clock as often as the window comes round to it."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.longest_s = 0.0
        self._last_s = time.perf_counter()
        self._timer = QTimer(self, timerType=Qt.TimerType.PreciseTimer, interval=1)
        self._timer.timeout.connect(self._look)
        self._timer.start()

    def _look(self) -> None:
        now_s = time.perf_counter()
        self.longest_s = max(self.longest_s, now_s - self._last_s)
        self._last_s = now_s

    def stop(self) -> None:
        """Look no more."""
        self._timer.stop()
