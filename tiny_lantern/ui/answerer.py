"""What the show makes of its inputs: turned and pressed in the window, stepped as a board steps it."""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from typing import TYPE_CHECKING, Protocol

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from tiny_lantern.show.answering.machine import State, begin, ended, moved_to, shown_of, step, still
from tiny_lantern.show.answering.tables import Hears, Tables, tables_of

if TYPE_CHECKING:
    from PySide6.QtCore import SignalInstance

    from tiny_lantern.model.build import Build
    from tiny_lantern.show.weave import Show

Bytes = NDArray[np.uint8]
Readings = dict[str, int]
MOST_OWED, MOST_RECORDED = 40.0, 100_000


class Played(Protocol):
    """Whose show it is: a build in hand with a caret in its time."""

    time_changed: SignalInstance
    opened: SignalInstance
    time_s: float

    @property
    def build(self) -> Build:
        """The build in hand."""
        ...

    def set_time(self, time_s: float) -> None:
        """Move the caret.

        Args:
            time_s: where to. [s]
        """
        ...


class Answerer(QObject):
    """The state of the show in hand. ``changed`` says that another frame may be seen, ``read`` that an input reads
    something else, whoever changed it.

    Args:
        session: the build in hand.
        parent: what it goes with.
    """

    changed = Signal()
    read = Signal()

    def __init__(self, session: Played, parent: QObject) -> None:
        super().__init__(parent)
        self._session = session
        self._of: Tables | None = None
        self._state: State | None = None
        self._shown: Readings = {}
        self._heard: Readings = {}
        self._waiting: deque[tuple[str, int]] = deque()
        self._owed, self._set_s = 0.0, -1.0
        self._played: deque[Readings] = deque()
        self.runs = self.writing = False
        self.recorded: list[Readings] = []
        session.time_changed.connect(self._follow_time)
        session.opened.connect(self._forget)

    @property
    def on(self) -> bool:
        """Whether anything answers."""
        return bool(self._session.build.rules)

    @property
    def tables(self) -> Tables:
        """What the build in hand answers to."""
        return tables_of(self._session.build)

    @property
    def state(self) -> State:
        """The state of the show at the caret."""
        tables = self.tables
        if self._state is None or self._of is not tables:
            self._of = tables
            self._state = begin(tables, self._now(), self._frame_at_caret())
        return self._state

    def reading(self, one: Hears) -> int:
        """What an input is turned or pressed to: counts, or 0 and 1. [-]

        Args:
            one: the input.
        """
        return self._shown.get(one.input_id, one.rest)

    def move(self, one: Hears, way: float) -> None:
        """Turn, press or let go of an input.

        Args:
            one: the input.
            way: how far, 0 at rest and 1 fully moved. [-]
        """
        self._move_to(one, round(one.rest + (one.full - one.rest) * min(max(way, 0.0), 1.0)))

    def _move_to(self, one: Hears, reading: int) -> None:
        if reading == self.reading(one):
            return
        self._shown[one.input_id] = reading
        self._waiting.append((one.input_id, reading))
        self.read.emit()
        if not self.runs:
            self._settle()

    def hear(self, input_id: str, reading: int) -> None:
        """An input of a real board reads something.

        Args:
            input_id: the input.
            reading: counts, or 0 and 1. [-]
        """
        one = next((each for each in self.tables.hears if each.input_id == input_id), None)
        if one is not None:
            self._move_to(one, reading)

    def play(self, seconds: float) -> bool:
        """Let the show run on as it answers; whether there is more of it.

        Args:
            seconds: for how long. [s]
        """
        tables, state = self.tables, self.state
        self._owed = min(self._owed + seconds * self._session.build.tick_hz, MOST_OWED)
        while self._owed >= 1.0:
            self._owed -= 1.0
            self._take()
            self._write_down()
            state = step(tables, state, self._now())
        self._state = state
        self._show()
        return not ended(tables, state.frame)

    def write(self, on: bool) -> None:
        """Begin to write down what the inputs read, frame by frame; or end it, and what was written stays.

        Args:
            on: whether to begin.
        """
        self.writing = on
        if on:
            self.recorded = []
            self._played.clear()

    def replay(self, readings: Sequence[Readings]) -> None:
        """Let the inputs read what was written down, from now on frame by frame; nothing ends it.

        Args:
            readings: what each input read, by its id, frame after frame. [-]
        """
        self.writing = False
        self._played = deque(readings)

    @property
    def replaying(self) -> bool:
        """Whether inputs read what was written down."""
        return bool(self._played)

    def frame(self, show: Show) -> Bytes:
        """The frame of the state in hand, (n_slots, 3), linear red, green, blue, 0 to 255.

        Args:
            show: the show, compiled.
        """
        from tiny_lantern.show.answering.light import frame_of  # loaded with the show

        return frame_of(show, self.tables, self.state, self._session.build.after_end == "dark")

    def _take(self) -> None:
        """Let the board read the next frame: of each input one change at most, so that no short press is lost."""
        if self._played:
            known = {one.input_id for one in self.tables.hears}
            found = {key: value for key, value in self._played.popleft().items() if key in known}
            self._shown |= found
            self._heard |= found
            self._waiting.clear()
            self.read.emit()
        seen: set[str] = set()
        while self._waiting and self._waiting[0][0] not in seen:
            input_id, reading = self._waiting.popleft()
            seen.add(input_id)
            self._heard[input_id] = reading

    def _write_down(self) -> None:
        if self.writing and len(self.recorded) < MOST_RECORDED:
            self.recorded.append({one.input_id: self._heard.get(one.input_id, one.rest) for one in self.tables.hears})

    def _now(self) -> list[int]:
        """What the board reads. (n_inputs,) [-]"""
        return [self._heard.get(one.input_id, one.rest) for one in self.tables.hears]

    def _settle(self) -> None:
        """Take in what was turned and pressed while the show stands still."""
        state = self.state
        while self._waiting:
            self._take()
            state = still(self.tables, state, self._now())
        self._state = state
        self._show()
        self.changed.emit()

    def _show(self) -> None:
        """Bring the caret to the state's frame."""
        build = self._session.build
        shown = shown_of(self.tables, self.state.frame)
        self._set_s = build.show_s if ended(self.tables, self.state.frame) else build.timeline.begins_s(shown)
        self._session.set_time(self._set_s)

    def _frame_at_caret(self) -> int:
        build = self._session.build
        return build.timeline.on_show(self._session.time_s)

    def _follow_time(self) -> None:
        """Go where a person puts the caret."""
        if self._session.time_s != self._set_s and self._state is not None and self._of is self.tables:
            self._state = moved_to(self.tables, self._state, self._frame_at_caret())

    def _forget(self) -> None:
        """Another build: nothing is turned or pressed."""
        self._state = None
        self.writing = False
        for held in (self._shown, self._heard, self._waiting, self._played, self.recorded):
            held.clear()
