"""What to do first in a station that has nothing to show yet: one sentence and the button that does it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QFrame, QHBoxLayout

from tiny_lantern.ui.declared.station import FirstStep
from tiny_lantern.ui.widgets.fields import PlainLabel, button


class FirstStepBar(QFrame):
    """Shows the first step of the station in view, and nothing once it is done."""

    def __init__(self, acts: dict[str, Callable[[], object]]) -> None:
        super().__init__()
        self.setObjectName("banner")
        self._acts = acts
        self._step: FirstStep | None = None
        self._sentence = PlainLabel()
        self._sentence.setWordWrap(True)
        self.button = button("", self._do, "primary")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 8)
        row.addWidget(self._sentence, 1)
        row.addWidget(self.button)
        self.hide()

    def show_step(self, step: FirstStep | None) -> None:
        """Show a step, or hide."""
        if step != self._step:
            self._step = step
            if step is not None:
                self._sentence.setText(step.sentence)
                self.button.setText(step.label)
        self.setVisible(step is not None)

    def _do(self) -> None:
        if self._step is not None:
            self._acts[self._step.act]()
