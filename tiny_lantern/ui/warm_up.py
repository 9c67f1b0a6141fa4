"""Loading what the first paint does not need, while the window already answers.

Analyses load in a thread. pyqtgraph may not: it makes every Qt class that Python has not used yet, and classes made in
two threads at once bring the interpreter down. So they are made in the window's thread, a few at each turn of its
events, and pyqtgraph, which then has little left to do, is loaded there last.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from importlib import import_module

from PySide6 import QtCore, QtGui, QtWidgets
from PySide6.QtCore import QObject, QTimer

from tiny_lantern.ui.background import Background, Work

FOR_RESULTS = (
    "tiny_lantern.findings.check",
    "tiny_lantern.findings.mends",
    "tiny_lantern.plans.feeds",
    "tiny_lantern.show.glow",
)
FOR_CURVES = "pyqtgraph"
FOR_LATER = ("tiny_lantern.sheets.sheet", "tiny_lantern.sheets.moving")
TURN_S = 0.01


class WarmUp(QObject):
    """Loads once; ``ready`` is called when results can be worked out and drawn, ``failed`` with what went wrong."""

    def __init__(
        self, background: Background, ready: Callable[[], None], failed: Callable[[Exception], None], parent: QObject
    ) -> None:
        super().__init__(parent)
        self._background, self._ready, self._failed = background, ready, failed
        self._missing = {"results", "curves"}
        self._classes = qt_classes()

    def start(self) -> None:
        """Load both halves side by side."""
        self._background.start("warm-up", importing(FOR_RESULTS), lambda _: self._loaded("results"), self._failed)
        QTimer.singleShot(0, self, self._next_turn)

    def _next_turn(self) -> None:
        if made_in(self._classes, TURN_S):
            import_module(FOR_CURVES)
            self._loaded("curves")
        else:
            QTimer.singleShot(0, self, self._next_turn)

    def _loaded(self, half: str) -> None:
        self._missing.discard(half)
        if not self._missing:
            self._ready()
            self._background.start("warm-up", importing(FOR_LATER), lambda _: None, self._failed)


def qt_classes() -> Iterator[object]:
    """Every class of the Qt modules that pyqtgraph mirrors; asking for one makes it."""
    for module in (QtCore, QtGui, QtWidgets):
        for name in dir(module):
            yield getattr(module, name, None)


def made_in(classes: Iterator[object], seconds: float) -> bool:
    """Ask for classes for a time [s]; whether there are none left."""
    until = time.perf_counter() + seconds
    return all(time.perf_counter() < until for _ in classes)


def importing(names: tuple[str, ...]) -> Work:
    """Work that imports modules for the time it takes."""

    def work(progress: Callable[[float], None], cancelled: Callable[[], bool]) -> None:
        for name in names:
            import_module(name)

    return work
