"""What to do first in a station that has nothing to show yet: one sentence and the button that does it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtWidgets import QFrame, QHBoxLayout

from tiny_lantern.model.build import Build
from tiny_lantern.ui.widgets.fields import PlainLabel, button


@dataclass(frozen=True)
class FirstStep:
    """A sentence, what the button says, and what it does."""

    sentence: str
    label: str
    act: str


ADD_STRIP, FEED_ALL, LAY_EFFECT = "add-strip", "feed-all", "lay-effect"
NO_STRIPS = {
    "Pieces": "Nothing is here yet: add the first strip, then say where it lies and how long it is.",
    "Power": "Power begins with something to light: add a strip.",
    "Weave": "A show needs lights to play on: add a strip.",
    "Sheets": "A sheet prints what was planned: begin with a strip.",
}


def first_step(build: Build, station: str) -> FirstStep | None:
    """What a station asks for first; None once it has something to work on."""
    if not build.pieces:
        return FirstStep(NO_STRIPS[station], "Add a strip", ADD_STRIP)
    if station == "Power" and build.strips and not build.feeds:
        return FirstStep("Nothing feeds these strips yet, so they are dark.", "Add a supply and feed them", FEED_ALL)
    if station == "Weave" and not build.effects:
        return FirstStep("Nothing happens yet: lay a first light over everything, then draw others on it.",
                         "Lay a breathing light", LAY_EFFECT)  # fmt: skip
    return None


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
