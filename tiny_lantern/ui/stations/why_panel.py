"""Why it reads otherwise: causes with their probabilities, what to read next, and what it was in the end."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget
from shiboken6 import isValid

from tiny_lantern.bench.told import Why
from tiny_lantern.bench.why import why_task
from tiny_lantern.model.bench import EntryKind
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_bench import log
from tiny_lantern.model.errors import told_plainly
from tiny_lantern.ui import theme
from tiny_lantern.ui.clock import now
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.widgets.cause_bars import CauseBars
from tiny_lantern.ui.widgets.fields import button, faint, scrolled, side_by_side

NOTHING = "Enter a reading or what a lamp does, then ask."
STALE = "Something was read since: ask again."
WORKING, STOP = "Every fault that may be is solved and compared …", "Stop"


class WhyPanel(QWidget):
    """Asks for the diagnosis, and shows it."""

    read_there = Signal(object)
    guessed = Signal(str, str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.found: Why | None = None
        self.practising = False
        self._of: object = None
        self.bars = CauseBars()
        self.told = faint(NOTHING)
        self.next_words = faint()
        self.ask = button("Why?", self._ask_or_stop, "primary", "Compares what was read and seen with every fault")
        self.there = button("Put the probes there", self._go, "small", "The reading that tells the first two apart")
        self.cured = button("It was this one", partial(self.outcome, "cured"), "small", "Into the log, one step")
        self.unknown = button("Cured, cause unknown", partial(self.outcome, "cured, cause unknown"), "small")
        self.left = button("Left open", partial(self.outcome, "left open"), "small")
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(5)
        column.addWidget(self.told)
        column.addWidget(self.bars)
        column.addWidget(self.next_words)
        column.addLayout(side_by_side(self.there, self.cured))
        column.addLayout(side_by_side(self.unknown, self.left))
        column.addStretch(1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolled(inside), 1)
        whole.addWidget(self.ask)
        session.build_changed.connect(self.refresh)
        session.background.progressed.connect(self._progress)
        self.refresh()

    def dress(self, palette: theme.Palette) -> None:
        """Take the colours of a theme."""
        self.bars.palette_in_use = palette
        self.bars.update()

    def _evidence(self, build: Build) -> tuple[object, ...]:
        return build.bench.readings, build.bench.looks

    def refresh(self) -> None:
        """What was found is of the readings in hand, or it is said to be of older ones."""
        build = self._session.build
        any_read = bool(build.bench.readings or build.bench.looks)
        running = self._session.background.running("why")
        stale = self.found is not None and self._of != self._evidence(build)
        if not any_read:
            self.found = None
            self.bars.show_causes((), 0.0)
        if not running:
            self.told.setText(NOTHING if not any_read else STALE if stale else self._headline())
        self.ask.setEnabled(any_read or running)
        self.ask.setText(STOP if running else "Why?")
        shown = self.found is not None
        self.cured.setVisible(shown)
        for widget in (self.unknown, self.left):
            widget.setVisible(shown and not self.practising)
        self.there.setVisible(self.found is not None and self.found.next is not None and not stale)
        self.next_words.setText(self._next_words() if not stale else "")

    def _headline(self) -> str:
        if self.found is None:
            return "Ask why: every fault that may be is compared with what was read and seen."
        return f"From {_count(self.found.readings, 'reading')} and {_count(self.found.looks, 'look')}."

    def _next_words(self) -> str:
        following = self.found.next if self.found is not None else None
        if following is None:
            return "" if self.found is None else "No reading tells the first two apart."
        lead = "Only to be sure" if following.decided else "Read next"
        return f"{lead}, {following.where}. {following.leader}; {following.other}."

    def _ask_or_stop(self) -> None:
        if self._session.background.running("why"):
            self._session.background.cancel("why")
            self.refresh()
            return
        build = self._session.build
        self._session.background.start_task("why", why_task, (build,), True, partial(self._take, build), self._fail)
        self.told.setText(WORKING)
        self.ask.setText(STOP)

    def _progress(self, kind: str, share: float) -> None:
        if kind == "why" and isValid(self):
            self.told.setText(f"{WORKING} {share:.0%}")

    def _take(self, build: Build, found: Why) -> None:
        if not isValid(self):
            return
        self.found, self._of = found, self._evidence(build)
        self.bars.show_causes(found.causes, found.others)
        self.refresh()
        self.read_there.emit(None)

    def _fail(self, error: Exception) -> None:
        if isValid(self):
            self.refresh()
            self._session.refused.emit(told_plainly(error))

    def _go(self) -> None:
        if self.found is not None and self.found.next is not None:
            self.read_there.emit(self.found.next.asked)

    def outcome(self, kind: EntryKind) -> None:
        """Write into the log what it was, or that nobody knows."""
        if self.found is None:
            return
        cause = self.found.causes[self.bars.chosen]
        if self.practising:
            self.guessed.emit(cause.kind, cause.place)
            return
        words = {"cured": f"Cured, because: {cause.words}.", "left open": f"Left open; most probable: {cause.words}."}
        text = words.get(kind, "Cured, cause unknown.")
        self._session.apply("Wrote it into the log", partial(log, kind=kind, text=text, at=now()))


def _count(number: int, word: str) -> str:
    return f"{number} {word}{'' if number == 1 else 's'}"
