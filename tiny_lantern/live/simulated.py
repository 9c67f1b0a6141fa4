"""A board that is none: a pseudo-terminal that decodes what is sent to it and knows what its lamps would show."""

from __future__ import annotations

import os
import pty
import tty
from contextlib import suppress

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.live.wire import (
    FRAME,
    WIRED,
    Decoder,
    Message,
    WireRun,
    encoded,
    frame_told,
    heard_message,
    runs_told,
)

Bytes = NDArray[np.uint8]
AT_ONCE = 1 << 16


class SimulatedBoard:
    """Listens at ``port``; ``lamps`` is the light of its lamps, (n_lights, 3), linear bytes, as it came last.

    Raises:
        OSError: this machine has no pseudo-terminal to give.
    """

    def __init__(self) -> None:
        self.handle, self._far = pty.openpty()
        tty.setraw(self._far)
        os.set_blocking(self.handle, False)
        self.port = os.ttyname(self._far)
        self.runs: tuple[WireRun, ...] = ()
        self.lamps: Bytes = np.zeros((0, 3), np.uint8)
        self.frames = self.refused = 0
        self._decoder = Decoder()

    @property
    def faults(self) -> int:
        """How much came that was no message, or none for its lights. [-]"""
        return self._decoder.faults + self.refused

    def listen(self) -> bool:
        """Take in what has come; whether its lamps may have changed."""
        before = self.frames
        while True:
            try:
                piece = os.read(self.handle, AT_ONCE)
            except BlockingIOError:
                break
            if not piece:
                break
            self._take(piece)
        return self.frames != before

    def _take(self, piece: bytes) -> None:
        for message in self._decoder.feed(piece):
            try:
                if message.sort == WIRED:
                    self.runs = runs_told(message)
                    self._answer(heard_message(message))
                elif message.sort == FRAME:
                    self.lamps = frame_told(message, self.runs)
                    self.frames += 1
                else:
                    self.refused += 1
            except ValueError:
                self.refused += 1

    def _answer(self, message: Message) -> None:
        """Say something back, where the wire has room for it."""
        with suppress(BlockingIOError):
            os.write(self.handle, encoded(message))

    def close(self) -> None:
        """Switch it off."""
        for handle in (self.handle, self._far):
            if handle >= 0:
                os.close(handle)
        self.handle = self._far = -1
