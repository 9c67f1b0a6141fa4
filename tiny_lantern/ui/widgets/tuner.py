"""A slider beside a number: what it drags is seen at once, and kept as one step when it is let go."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QSignalBlocker, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QSlider, QWidget

from tiny_lantern.ui.guarded import guarded

STEPS, FAR = 200, 50.0


@guarded
class Tuner(QSlider):
    """Goes over a range of numbers, evenly, or by factors where the range spans many of them.

    Args:
        name: what it tunes, for screen readers.
        low: the lowest number.
        high: the highest number.
        whole: whether it knows whole numbers only.
    """

    tried = Signal(float)
    kept = Signal(float)
    given_up = Signal()

    def __init__(self, name: str, low: float, high: float, whole: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(Qt.Orientation.Horizontal, parent)
        self._whole = whole
        self.range_over(low, high)
        self.setFixedHeight(18)
        self.setAccessibleName(f"Tune {name}")
        self.setToolTip(f"Drag to see {name} change at once; Escape gives it up")
        self.sliderMoved.connect(self._try)
        self.sliderReleased.connect(self._keep)
        self.actionTriggered.connect(self._stepped)

    def range_over(self, low: float, high: float) -> None:
        """Go over another range, unless a hand holds it."""
        if self.isSliderDown():
            return
        self._forth, self._back = scales(low, high)
        steps = min(STEPS, int(high - low)) if self._whole else STEPS
        with QSignalBlocker(self):
            self.setRange(0, max(1, steps))

    def number(self, place: int) -> float:
        """The number at a place of the slider."""
        value = self._back(place / self.maximum())
        return float(round(value)) if self._whole else float(f"{value:.3g}")

    def show_value(self, value: float) -> None:
        """Stand at a number, unless a hand holds it."""
        if not self.isSliderDown():
            self.setValue(round(self._forth(value) * self.maximum()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape and self.isSliderDown():
            with QSignalBlocker(self):
                self.setSliderDown(False)
            self.given_up.emit()
            return
        super().keyPressEvent(event)

    def _try(self, place: int) -> None:
        self.tried.emit(self.number(place))

    def _keep(self) -> None:
        self.kept.emit(self.number(self.sliderPosition()))

    def _stepped(self, action: int) -> None:
        """A step by the keyboard or by a click beside the handle, which is kept at once."""
        if action != QSlider.SliderAction.SliderMove.value and not self.isSliderDown():
            self.kept.emit(self.number(self.sliderPosition()))


def scales(low: float, high: float) -> tuple[Callable[[float], float], Callable[[float], float]]:
    """From a number of a range to the share of the way through it, and back: by factors where it spans many."""
    if low > 0 and high / low > FAR:
        span = math.log(high / low)
        return (
            lambda value: math.log(min(max(value, low), high) / low) / span,
            lambda share: low * math.exp(share * span),
        )
    if low < 0 < high and high > FAR:
        return (
            lambda value: 0.5 + 0.5 * math.copysign(math.sqrt(min(1.0, abs(value) / high)), value),
            lambda share: math.copysign((2 * share - 1) ** 2, 2 * share - 1) * high,
        )
    return (
        lambda value: (min(max(value, low), high) - low) / (high - low),
        lambda share: low + share * (high - low),
    )
