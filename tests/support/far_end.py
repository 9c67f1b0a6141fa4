"""What comes at the far end of a wire: a pseudo-terminal hands it over in pieces, and a moment later."""

from __future__ import annotations

import os
import select
from collections.abc import Callable

from tiny_lantern.live.simulated import SimulatedBoard
from tiny_lantern.live.wire import FRAME, Decoder

PATIENCE_S = 120.0
AT_ONCE = 1 << 16


def listen_until(board: SimulatedBoard, reached: Callable[[], bool]) -> None:
    """Let the board listen until something is so."""
    while not reached():
        _wait(board)
        board.listen()


def heard(board: SimulatedBoard, frames: int) -> None:
    """Let the board listen until it has shown so many frames in all."""
    listen_until(board, lambda: board.frames >= frames)


def lost(board: SimulatedBoard) -> list[bytes]:
    """Take the messages up to the next frame away from a board; their sorts."""
    decoder, sorts = Decoder(), []
    while FRAME not in sorts:
        _wait(board)
        sorts += [message.sort for message in decoder.feed(os.read(board.handle, AT_ONCE))]
    return sorts


def _wait(board: SimulatedBoard) -> None:
    assert select.select([board.handle], [], [], PATIENCE_S)[0], "nothing more comes"
