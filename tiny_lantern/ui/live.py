"""A board kept in step with what the window shows: the simulated one, or a real one at a port of this machine.

Nothing goes to a real board but what a button was pressed for: a question, a blink, one light, or all of it.
"""

from __future__ import annotations

import time
from typing import Literal

import numpy as np
from PySide6.QtCore import QObject, QSocketNotifier, QTimer, Signal

from tiny_lantern.live.link import BoardLink, refuse_other
from tiny_lantern.live.loaded import Bytes, Loaded, loaded_on, whole
from tiny_lantern.live.ports import SerialWire
from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.ui.frames import FrameSource
from tiny_lantern.ui.session import Session

Doing = Literal["nothing", "ask", "blink", "one", "all"]
TURN_MS = 50
BLINK_S, BLINKS, BLINK_LEVEL, ONE_LEVEL = 0.4, 5, 90, 255


class LiveBoard(QObject):
    """Has the frame in hand shown, the newest as soon as the one before is answered. ``doing`` says what was asked for;
    ``said`` is what there is to tell of the board, ``fault`` why it stopped. What a board cannot take is told once for
    each build.

    Raises:
        OSError: this machine has no pseudo-terminal to give.
    """

    changed = Signal()

    def __init__(self, session: Session, frames: FrameSource, parent: QObject) -> None:
        super().__init__(parent)
        self._session, self._frames = session, frames
        self._loaded: tuple[Build, Loaded] | None = None
        self._refused: Build | None = None
        self._arrived: list[float] = []
        self._began_s = 0.0
        self._checked = False
        self._ears: list[QSocketNotifier] = []
        self.board: SimulatedBoard | None = None
        self.link: BoardLink | None = None
        self.port, self.board_id = "", ""
        self.doing: Doing = "nothing"
        self.said = ""
        self._sent: Bytes = np.zeros((0, 3), np.uint8)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._send)
        self._clock = QTimer(self)
        self._clock.timeout.connect(self.turn)
        for signal in (session.build_changed, session.time_changed, session.held_changed, session.selection_changed):
            signal.connect(self._ask)
        self.switch_on()

    @property
    def rate_hz(self) -> float:
        """Frames that were shown in the last second. [Hz]"""
        now = time.monotonic()
        self._arrived = [moment for moment in self._arrived if now - moment < 1.0]
        return float(len(self._arrived))

    @property
    def on(self) -> bool:
        """Whether a wire is open."""
        return self.link is not None

    @property
    def simulated(self) -> bool:
        """Whether the board is the simulated one."""
        return not self.port

    @property
    def lamps(self) -> Bytes:
        """The board's lamps: as the simulated one has decoded them, as they were sent to a real one. (n_lights, 3)"""
        return self.board.lamps if self.board is not None else self._sent

    @property
    def loaded(self) -> Loaded:
        """What the build in hand makes of the board.

        Raises:
            LanternError: it does not listen, or has no lights.
        """
        build = self._session.build
        if self._loaded is None or self._loaded[0] is not build:
            made = loaded_on(build, self.board_id) if self.board_id else whole(build)
            self._loaded = build, made
        return self._loaded[1]

    def choose(self, port: str, board_id: str) -> None:
        """Another board: the simulated one is switched on at once, with a real one nothing happens yet.

        Args:
            port: the path of its port, empty for the simulated one.
            board_id: which board of the build it is, empty for all lights as one.
        """
        self.close()
        self.board = None
        self.port, self.board_id, self._loaded, self.said = port, board_id, None, ""
        self.switch_on()

    def switch_on(self) -> None:
        """The simulated board again, where it was switched off."""
        if self.on or not self.simulated:
            return
        self.board = SimulatedBoard(self.loaded)
        self._listen_to(self.board.handle)
        self._open(self.board.port)
        self.doing, self._checked = "all", True
        self._ask()

    def ask_for(self, doing: Doing) -> None:
        """Have a real board asked what it plays, and then do what was asked for; a blink ends by itself.

        Args:
            doing: what.

        Raises:
            LanternError: the port cannot be opened, or the board does not listen.
        """
        if self.simulated:
            return
        if doing == "nothing":
            self.close()
            return
        self.loaded  # noqa: B018 - refuses a board that does not listen, before a port is opened
        if self.link is None:
            self._checked = False
            self._open(self.port)
            assert self.link is not None
            self.link.ask(time.monotonic())
            self.said = "asked what it plays …"
        self.doing, self._began_s = doing, time.monotonic()
        self._ask()
        self.changed.emit()

    def turn(self) -> None:
        """Hear and send what there is."""
        link = self.link
        if link is None:
            return
        answered = link.answered
        if self.board is not None and self.board.listen(time.monotonic()):
            self.changed.emit()
        try:
            came = link.turn(time.monotonic())
            self._check(link)
            if came and not self.simulated:
                self._hear(link)
        except LanternError as error:
            self._fail(error)
            return
        self._arrived += [time.monotonic()] * (link.answered - answered)
        if came and not self.simulated:
            self.changed.emit()
        if self.doing == "blink":
            self._send()

    def close(self) -> None:
        """End: the board is on its own, the simulated one is switched off."""
        self._soon.stop()
        self._clock.stop()
        for ear in self._ears:
            ear.setEnabled(False)
            ear.deleteLater()
        self._ears = []
        if self.link is not None:
            self.link.end()
        if self.board is not None:
            self.board.listen(time.monotonic())
            self.board.close()
        self.link = None
        self._sent = np.zeros((0, 3), np.uint8)
        self.doing = "nothing"

    def _open(self, port: str) -> None:
        wire = SerialWire(port, self.loaded.listens.bits_per_s)
        self.link = BoardLink(wire, self.loaded.listens)
        self._listen_to(wire.fileno())
        self._clock.start(TURN_MS)

    def _listen_to(self, number: int) -> None:
        ear = QSocketNotifier(number, QSocketNotifier.Type.Read, self)
        ear.activated.connect(self.turn)
        self._ears.append(ear)

    def _check(self, link: BoardLink) -> None:
        """Once a board has said what it plays, see whether it is this build."""
        if self._checked:
            return
        if link.silent:
            raise LanternError("nothing answers at this port", self.port, "a board with the code of this build on it")
        if link.known is not None:
            older = refuse_other(link.known, self.loaded.identity)
            self._checked = True
            self.said = f"it plays “{link.known.title}”, stamp {link.known.stamp}" + (f"; {older}" if older else "")
            self._began_s = time.monotonic()
            self._ask()
            self.changed.emit()

    def _fail(self, error: LanternError) -> None:
        self.close()
        self.said = error.what
        self._session.refused.emit(error)
        self.changed.emit()

    def _ask(self) -> None:
        """Send soon: changes that come faster than frames do are sent as one."""
        if self.on and not self._soon.isActive():
            self._soon.start(round(1000 / self._session.build.tick_hz))

    def _send(self) -> None:
        build, link = self._session.build, self.link
        if link is None or not self._checked or self.doing in ("nothing", "ask") or build is self._refused:
            return
        try:
            loaded = self.loaded
            if self.board is not None and loaded != self.board.loaded:
                self.board.load(loaded)
            light = self._light(build)
            if light is None:
                self.close()
                self.said = "blinked"
                self.changed.emit()
                return
            link.show(loaded.frame(light))
            self._sent = light[loaded.order]
            self.turn_soon()
        except LanternError as error:
            self._refused = build
            if not self.simulated:
                self._fail(error)
            else:
                self._session.refused.emit(error)

    def turn_soon(self) -> None:
        """Send without waiting for the clock."""
        QTimer.singleShot(0, self, self.turn)

    def _light(self, build: Build) -> Bytes | None:
        """What is to be seen, (n_slots, 3); None once a blink is over."""
        if self.doing == "all":
            return self._frames.frame()
        light = np.zeros((build.line.slot_count, 3), np.uint8)
        if self.doing == "one":
            selected = self._session.slot
            light[selected if selected is not None else self.loaded.slots[0]] = ONE_LEVEL
            return light
        times = int((time.monotonic() - self._began_s) / BLINK_S)
        if times >= 2 * BLINKS:
            return None
        light[:] = BLINK_LEVEL * (1 - times % 2)
        return light

    def _hear(self, link: BoardLink) -> None:
        """What the board's inputs read is read here too."""
        for input_id, reading in zip(self.loaded.input_ids, link.readings, strict=False):
            self._session.answerer.hear(input_id, reading)
