"""Where the wires of boards begin."""

from __future__ import annotations

from tiny_lantern.model.drive import Board
from tiny_lantern.model.whole import Whole


def home_of(build: Whole, board: Board | None) -> tuple[float, float]:
    """Where wires to lamps begin: at their board, which stands where it was put, else in the first box, else at the
    first supply, else in the corner of the picture. [m]

    Args:
        build: the build.
        board: the board; None where there is none yet.
    """
    if board is not None and board.at_m is not None:
        return board.at_m
    if build.boxes:
        return build.boxes[0].x_m, build.boxes[0].y_m
    return (build.supplies[0].x_m, build.supplies[0].y_m) if build.supplies else (0.0, 0.0)
