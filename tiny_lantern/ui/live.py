"""The simulated board kept in step with what the window shows: every change of light goes over the wire at once."""

from __future__ import annotations

import time

from PySide6.QtCore import QObject, QSocketNotifier, QTimer, Signal

from tiny_lantern.live.output import Output
from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.live.wire import WireRun
from tiny_lantern.live.wiring import wire_runs
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session


class LiveBoard(QObject):
    """Sends the frame in hand, at most as often as the show has frames, and hears what the board made of it; until it
    is switched off, and again once it is switched on. What a board cannot take is told once for each build.

    Raises:
        OSError: this machine has no pseudo-terminal to give.
    """

    changed = Signal()

    def __init__(self, session: Session, frames: FrameSource, parent: QObject) -> None:
        super().__init__(parent)
        self._session, self._frames = session, frames
        self._runs: tuple[Build, tuple[WireRun, ...]] | None = None
        self._refused: Build | None = None
        self._arrived: list[float] = []
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._send)
        self._begin()
        for signal in (session.build_changed, session.time_changed, session.held_changed):
            signal.connect(self._ask)
        self._ask()

    @property
    def rate_hz(self) -> float:
        """Frames that arrived in the last second. [Hz]"""
        now = time.monotonic()
        self._arrived = [moment for moment in self._arrived if now - moment < 1.0]
        return float(len(self._arrived))

    @property
    def on(self) -> bool:
        """Whether the board is switched on."""
        return self.board.handle >= 0

    def switch_on(self) -> None:
        """A board again, where it was switched off."""
        if not self.on:
            self._begin()
            self._ask()

    def _begin(self) -> None:
        self.board = SimulatedBoard()
        self.output = Output(self.board.port)
        self._ear = QSocketNotifier(self.board.handle, QSocketNotifier.Type.Read, self)
        self._ear.activated.connect(self._hear)

    def close(self) -> None:
        """Make the lamps dark, let go of the wire, and switch the board off."""
        if not self.on:
            return
        self._soon.stop()
        self._ear.setEnabled(False)
        self._ear.deleteLater()
        self.output.close()
        self.board.listen()
        self.board.close()

    def _ask(self) -> None:
        """Send soon: changes that come faster than frames do are sent as one."""
        if self.on and not self._soon.isActive():
            self._soon.start(round(1000 / self._session.build.tick_hz))

    def _send(self) -> None:
        build = self._session.build
        if build is self._refused:
            return
        if self._runs is None or self._runs[0] is not build:
            self._runs = build, wire_runs(build)
        try:
            self.output.send(self._frames.frame(), self._runs[1])
        except LanternError as error:
            self._refused = build
            self._session.refused.emit(error)

    def _hear(self) -> None:
        before = self.board.frames
        if self.board.listen():
            self._arrived += [time.monotonic()] * (self.board.frames - before)
            self.changed.emit()
