"""Sends frames to a board through a port: the newest frame goes, one that the wire has no room for is left out."""

from __future__ import annotations

import os
import termios
import tty
from collections.abc import Sequence
from contextlib import suppress

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.live.wire import (
    LONGEST,
    RUN_BYTES,
    Decoder,
    Message,
    WireRun,
    encoded,
    frame_message,
    heard_message,
    wired_message,
)
from tiny_lantern.model.errors import LanternError

Bytes = NDArray[np.uint8]
ANSWERS = 4096


class Output:
    """An open port that a board listens at.

    Args:
        port: its path.

    Raises:
        LanternError: it cannot be opened, or is no port.
    """

    def __init__(self, port: str) -> None:
        self._port = -1
        try:
            self._port = os.open(port, os.O_RDWR | os.O_NONBLOCK | os.O_NOCTTY)
            tty.setraw(self._port)
        except (OSError, termios.error) as error:
            self._shut()
            reason = getattr(error, "strerror", None) or str(error)
            raise LanternError(f"this port cannot be opened: {reason}", port, "the port of a board") from None
        self._runs: tuple[WireRun, ...] = ()
        self._wired: Message | None = None
        self._answers = Decoder()
        self._rest = b""
        self.sent = self.left_out = 0

    @property
    def open(self) -> bool:
        """Whether it still is."""
        return self._port >= 0

    def send(self, frame: Bytes, runs: Sequence[WireRun]) -> None:
        """Send a frame, and before it how the lights are wired until the board has answered that it knows.

        Args:
            frame: linear red, green and blue of every light, (n_lights, 3). [-]
            runs: how the lights are wired.

        Raises:
            LanternError: the board is gone, or has more lights than a message carries.
        """
        if not self.open:
            return
        if not self._emptied():
            self.left_out += 1
            return
        wanted = sum(run.count * len(run.order) for run in runs)
        if max(wanted, RUN_BYTES * len(runs)) > LONGEST:
            raise LanternError(f"{wanted} bytes a frame are too many for one board", "live", f"at most {LONGEST}")
        if tuple(runs) != self._runs:
            self._runs = tuple(runs)
            self._wired = wired_message(runs)
        if not self._knows():
            assert self._wired is not None
            self._put(self._wired)
        self._put(frame_message(frame, runs))
        self.sent += 1

    def close(self) -> None:
        """Make the lights dark and let go of the port."""
        if self.open and self._emptied():
            dark = sum(run.count for run in self._runs)
            with suppress(LanternError):  # the board may be gone, and its lights with it
                self._put(frame_message(np.zeros((dark, 3), np.uint8), self._runs))
        self._shut()

    def _knows(self) -> bool:
        """Whether the board has answered that it knows how its lights are wired."""
        if self._wired is None:
            return bool(self._runs)
        try:
            told = os.read(self._port, ANSWERS)
        except OSError:
            told = b""
        if heard_message(self._wired) in list(self._answers.feed(told)):
            self._wired = None
        return self._wired is None

    def _put(self, message: Message) -> None:
        self._rest += encoded(message)
        self._emptied()

    def _emptied(self) -> bool:
        """Whether all that was to be sent is on its way."""
        while self._rest:
            try:
                gone = os.write(self._port, self._rest)
            except BlockingIOError:
                return False
            except OSError as error:
                self._shut()
                raise LanternError(f"the board is gone: {error.strerror}", "live", "a board that listens") from None
            self._rest = self._rest[gone:]
        return True

    def _shut(self) -> None:
        if self._port >= 0:
            os.close(self._port)
            self._port = -1
