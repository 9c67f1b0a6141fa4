"""A board that is none: a pseudo-terminal that answers as a loaded board does and knows what its lamps would show."""

from __future__ import annotations

import os
import pty
import tty
from collections.abc import Sequence
from contextlib import suppress

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.live.loaded import Loaded
from tiny_lantern.live.wire import (
    ALIVE,
    ASK,
    END,
    FRAME,
    Decoder,
    Message,
    encoded,
    frame_told,
    identity_message,
    readings_message,
)

Bytes = NDArray[np.uint8]
AT_ONCE = 1 << 16


class SimulatedBoard:
    """Listens at ``port`` with a program loaded; ``lamps`` is the light of its lamps, (n_lights, 3), linear bytes. It
    is ``live`` while it hears a computer. On its own it is dark, or keeps its light where the build chose that: it has
    no show.

    Args:
        loaded: its program.

    Raises:
        OSError: this machine has no pseudo-terminal to give.
    """

    def __init__(self, loaded: Loaded) -> None:
        self.handle, self._far = pty.openpty()
        tty.setraw(self._far)
        os.set_blocking(self.handle, False)
        self.port = os.ttyname(self._far)
        self.readings: Sequence[int] = ()
        self.frames = self.refused = 0
        self._heard_s = 0.0
        self._decoder = Decoder()
        self.load(loaded)

    def load(self, loaded: Loaded) -> None:
        """Load another program; it begins anew, on its own.

        Args:
            loaded: the program.
        """
        self.loaded = loaded
        self.live = False
        self.readings = (0,) * len(loaded.input_ids)
        self.lamps: Bytes = np.zeros((len(loaded.slots), 3), np.uint8)

    @property
    def faults(self) -> int:
        """How much came that was no message, or none for its lights. [-]"""
        return self._decoder.faults + self.refused

    def listen(self, now_s: float = 0.0) -> bool:
        """Take in what has come; whether its lamps may have changed.

        Args:
            now_s: the time. [s]
        """
        before = self.frames
        while True:
            try:
                piece = os.read(self.handle, AT_ONCE)
            except BlockingIOError:
                break
            except OSError:  # nobody has the far end open
                break
            if not piece:
                break
            for message in self._decoder.feed(piece):
                self._take(message, now_s)
        alone = self.live and now_s - self._heard_s >= self.loaded.listens.alone_s
        if alone:
            self._go_alone()
        return alone or self.frames != before

    def _take(self, message: Message, now_s: float) -> None:
        if message.sort == ASK:
            self._answer(identity_message(self.loaded.identity))
            return
        if message.sort not in (ALIVE, FRAME, END):
            self.refused += 1
            return
        if message.sort == FRAME:
            try:
                if not self.live:
                    raise ValueError("a frame came before a sign of life")
                self.lamps = frame_told(message, self.loaded.runs)
            except ValueError:
                self.refused += 1
                return
            self.frames += 1
        self.live, self._heard_s = True, now_s
        if message.sort == END:
            self._go_alone()
        self._answer(readings_message(self.faults, self.readings))

    def _go_alone(self) -> None:
        """Do what the build chose for a board that hears nothing."""
        self.live = False
        if self.loaded.listens.alone != "hold":
            self.lamps = np.zeros_like(self.lamps)

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
