"""Boards in the picture: cards with pins along both sides."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from tiny_lantern.model.board_places import home_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.place import Place
from tiny_lantern.ui import theme

BELOW, LABEL_SIZE, GROUND = 42.0, 9.0, "#12302f"
SpotAt = Callable[[float, float], QPointF]


def board_spot(build: Build, board: Board, spot_at: SpotAt) -> QPointF:
    """Where a board is drawn: where it was put, else below where its wires begin, each a little further.

    Args:
        build: the build.
        board: the board.
        spot_at: where a place of the picture is on the screen.
    """
    if board.at_m is not None:
        return spot_at(*board.at_m)
    unplaced = [each.id for each in build.boards if each.at_m is None]
    return spot_at(*home_of(build, board)) + QPointF(0, BELOW * (1 + unplaced.index(board.id)))


def draw_boards(painter: QPainter, build: Build, selection: Place, spot_at: SpotAt) -> None:
    """Draw every board.

    Args:
        painter: what draws.
        build: the build.
        selection: what is selected.
        spot_at: where a place of the picture is on the screen.
    """
    for board in build.boards:
        at, chosen = board_spot(build, board, spot_at), board.id == selection.one("boards")
        painter.setPen(QPen(QColor("#ffffff" if chosen else theme.NIGHT_TEAL), 2 if chosen else 1))
        painter.setBrush(QColor(GROUND))
        painter.drawRect(QRectF(at.x() - 13, at.y() - 7, 26, 14))
        for number in range(5):
            for side in (-4.2, 4.2):
                painter.drawPoint(QPointF(at.x() - 9 + 4.5 * number, at.y() + side))


def board_labels(build: Build, selection: Place, spot_at: SpotAt) -> Iterator[tuple[bool, str, QPointF]]:
    """Of each board whether it is selected, its name, and where that begins.

    Args:
        build: the build.
        selection: what is selected.
        spot_at: where a place of the picture is on the screen.
    """
    for board in build.boards:
        half = theme.text_width(board.name, LABEL_SIZE) / 2
        below = board_spot(build, board, spot_at) + QPointF(-half, 20)
        yield board.id == selection.one("boards"), board.name, below
