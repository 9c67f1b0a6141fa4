"""What comes at the far end of a wire: a pseudo-terminal hands it over in pieces, and a moment later."""

from __future__ import annotations

import select
from collections.abc import Callable

from tiny_lantern.live.simulated import SimulatedBoard

PATIENCE_S = 120.0


def listen_until(board: SimulatedBoard, reached: Callable[[], bool]) -> None:
    """Let the board listen until something is so."""
    while not reached():
        _wait(board)
        board.listen()


def heard(board: SimulatedBoard, frames: int) -> None:
    """Let the board listen until it has shown so many frames in all."""
    listen_until(board, lambda: board.frames >= frames)


def _wait(board: SimulatedBoard) -> None:
    assert select.select([board.handle], [], [], PATIENCE_S)[0], "nothing more comes"
