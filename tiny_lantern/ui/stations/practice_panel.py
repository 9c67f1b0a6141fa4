"""Practice: a fault is hidden, one reads and looks until one knows it, and the score is kept."""

from __future__ import annotations

import random
from functools import partial

from PySide6.QtCore import QSettings, Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.bench.order import Asked
from tiny_lantern.bench.patterns import pattern_of
from tiny_lantern.bench.practice import (
    Difficulty,
    Hidden,
    Judged,
    SimulatedMeter,
    hide,
    judge_guess,
    look_task,
    read_task,
)
from tiny_lantern.model.edits_bench import begin_anew
from tiny_lantern.model.errors import told_plainly
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.fields import PlainLabel, button, combo, faint, scrolled, side_by_side

LEVELS: tuple[tuple[str, Difficulty], ...] = (("easy", "easy"), ("middling", "middling"), ("hard", "hard"))
ABOUT = (
    "The program hides a fault in this build. Read with the simulated meter, look at the simulated lamps, ask Why?, "
    "and say which it was. Nothing real is touched; what was read before goes, and undo brings it back."
)
HIDDEN = "A fault is hidden. Put the probes anywhere and Read it; on Seen, Look. Then Why?, and say which it was."
HIDING, JUDGING = "Hiding one …", "Seeing how few readings would have done …"
SCORE = "bench practice"


class PracticePanel(QWidget):
    """Begins and ends a practice; the meter of it reads while one is on."""

    changed = Signal()
    looked = Signal(object)
    read = Signal(object, object)

    def __init__(self, session: Session, seed: int | None = None) -> None:
        super().__init__()
        self._session, self._seed = session, seed
        self.meter: SimulatedMeter | None = None
        self.level = combo(list(LEVELS), "How hard it is", lambda _: None)
        self.begin = button("Hide a fault", self.start, "primary", "Undo brings back what was read before")
        self.give_up = button("Give up", self.stop, "small", "Says what it was")
        self.told = PlainLabel(ABOUT)
        self.told.setWordWrap(True)
        self.score = faint()
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.addWidget(self.told)
        column.addWidget(self.score)
        column.addStretch(1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolled(inside), 1)
        whole.addLayout(side_by_side(self.level, self.begin, self.give_up))
        self.give_up.hide()
        session.build_changed.connect(self._keep)
        self._show_score()

    @property
    def on(self) -> bool:
        """Whether a fault is hidden."""
        return self.meter is not None

    def _keep(self) -> None:
        """A practice is of the circuit that it began on; another one ends it."""
        meter, build = self.meter, self._session.build
        fields = ("boards", "drivers", "channels", "supplies", "rails", "pieces", "parts", "wires", "feeds")
        if meter is not None and any(getattr(build, name) != getattr(meter.build, name) for name in fields):
            self._end(f"The circuit was changed: practice is over. It was this: {meter.hidden.words}.")

    def start(self) -> None:
        """Hide a fault in the build in hand."""
        build, level = self._session.build, self.level.currentData()
        seed = self._seed if self._seed is not None else random.randrange(1 << 30)
        self.told.setText(HIDING)
        self._session.background.start_task("hide", hide, (build, level, seed), True, self._began, self._failed)

    def _began(self, hidden: Hidden) -> None:
        if not isValid(self):
            return
        self._session.apply("Began a practice", partial(begin_anew, at=now()))
        self.meter = SimulatedMeter(self._session.build, hidden)
        self.told.setText(HIDDEN)
        self.begin.hide()
        self.level.hide()
        self.give_up.show()
        self.changed.emit()

    def _failed(self, error: Exception) -> None:
        if isValid(self):
            self.told.setText(ABOUT)
            self._session.refused.emit(told_plainly(error))

    def take(self, asked: Asked) -> None:
        """Read with the simulated meter; a refusal is told.

        Args:
            asked: where it is put.
        """
        if self.meter is not None:
            self._session.background.start_task(
                "meter", read_task, (self.meter, asked), False, self._took, self._session.refused.emit
            )

    def _took(self, taken: tuple[Asked, float | None]) -> None:
        if isValid(self) and self.meter is not None:
            self.read.emit(*taken)

    def look(self, key: str) -> None:
        """Look at the simulated lamps; a refusal is told.

        Args:
            key: the pattern that is shown.
        """
        pattern = pattern_of(self._session.build, key)
        if self.meter is not None and pattern is not None:
            self._session.background.start_task(
                "meter", look_task, (self.meter, pattern), False, self._saw, self._session.refused.emit
            )

    def _saw(self, seen: object) -> None:
        if isValid(self) and self.meter is not None:
            self.looked.emit(seen)

    def guess(self, kind: str, place: str) -> None:
        """Say which it was.

        Args:
            kind: the kind of the fault.
            place: the element that it is at.
        """
        if self.meter is None:
            return
        args = (self.meter.build, self.meter.hidden, (kind, place))
        self.told.setText(JUDGING)
        readings = len(self._session.build.bench.readings)
        self._session.background.start_task(
            "judge", judge_guess, args, True, partial(self._judged, readings), self._failed
        )

    def _judged(self, readings: int, judged: Judged) -> None:
        if not isValid(self) or self.meter is None:
            return
        well = judged.right or judged.alike
        verdict = (
            "Right" if judged.right else "As good as right: no reading tells it from what it was" if well else "No"
        )
        few = "" if judged.fewest is None else f" {judged.fewest} would have done after a look at all lamps."
        self._add_score(well)
        self._end(f"{verdict}. It was this: {judged.truth}. You took {readings} readings.{few}")

    def stop(self) -> None:
        """Give up: it is said what it was."""
        if self.meter is not None:
            self._add_score(False)
            self._end(f"It was this: {self.meter.hidden.words}.")

    def _end(self, text: str) -> None:
        self.meter = None
        self.told.setText(text)
        self.begin.show()
        self.level.show()
        self.give_up.hide()
        self.changed.emit()

    def _add_score(self, well: bool) -> None:
        found, tried = self._score()
        QSettings().setValue(SCORE, f"{found + well}/{tried + 1}")
        self._show_score()

    @staticmethod
    def _score() -> tuple[int, int]:
        stored = str(QSettings().value(SCORE, "0/0")).split("/")
        try:
            found, tried = map(int, stored)
        except ValueError:
            return 0, 0
        return found, tried

    def _show_score(self) -> None:
        found, tried = self._score()
        self.score.setText(f"Found so far: {found} of {tried}." if tried else "")
