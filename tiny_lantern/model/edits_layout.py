"""Edits of where several pieces lie: moved together, aligned, distributed, mirrored, repeated."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_pieces import change_piece, duplicate_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.layout import slot_places, spacing_of
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AnyLayout, AroundRing, AsGrid, AtSpots
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import Panel

Floats = NDArray[np.float64]
MOST_COPIES = 200
FINE = 4
SIDES = {"left": (0, "min"), "right": (0, "max"), "top": (1, "max"), "bottom": (1, "min"), "middle": (1, "mid")}


def shifted_layout(layout: AnyLayout, dx_m: float, dy_m: float) -> AnyLayout:
    """A layout moved as a whole.

    Args:
        layout: the layout.
        dx_m: to the right. [m]
        dy_m: up. [m]
    """
    if isinstance(layout, AlongPath | AtSpots):
        points = tuple((round(x + dx_m, FINE), round(y + dy_m, FINE)) for x, y in layout.points_m)
        return revise(layout, points_m=points)
    return revise(layout, x_m=round(layout.x_m + dx_m, FINE), y_m=round(layout.y_m + dy_m, FINE))


def shift_pieces(build: Build, piece_ids: Sequence[str], dx_m: float, dy_m: float) -> Build:
    """Move pieces together in the picture.

    Args:
        build: the build.
        piece_ids: the pieces.
        dx_m: to the right. [m]
        dy_m: up. [m]
    """
    for piece_id in piece_ids:
        item(build.pieces, piece_id, "piece")
    chosen = set(piece_ids)
    moved = tuple(
        piece.model_copy(update={"layout": shifted_layout(piece.layout, dx_m, dy_m)}) if piece.id in chosen else piece
        for piece in build.pieces
    )
    return revise(build, pieces=moved)


def align_pieces(build: Build, piece_ids: Sequence[str], side: str) -> Build:
    """Bring pieces onto one line: the left, right, top or bottom of all, or the height of their middle."""
    axis, edge = SIDES[side]
    boxes = [_box(item(build.pieces, piece_id, "piece")) for piece_id in piece_ids]
    edges = [_edge(box[:, axis], edge) for box in boxes]
    goal = _edge(np.array(edges), edge)
    for piece_id, own in zip(piece_ids, edges, strict=True):
        off = [0.0, 0.0]
        off[axis] = goal - own
        build = shift_pieces(build, (piece_id,), *off)
    return build


def distribute_pieces(build: Build, piece_ids: Sequence[str], upright: bool = False) -> Build:
    """Bring the middles of pieces to even distances between the outermost two.

    Raises:
        LanternError: there are fewer than three.
    """
    if len(piece_ids) < 3:
        raise LanternError("there is nothing between two pieces", "distribute", "three pieces or more")
    axis = 1 if upright else 0
    middles = {piece_id: float(_box(item(build.pieces, piece_id, "piece"))[:, axis].mean()) for piece_id in piece_ids}
    order = sorted(piece_ids, key=lambda piece_id: middles[piece_id])
    goals = np.linspace(middles[order[0]], middles[order[-1]], len(order))
    for piece_id, goal in zip(order, goals, strict=True):
        off = [0.0, 0.0]
        off[axis] = float(goal) - middles[piece_id]
        build = shift_pieces(build, (piece_id,), *off)
    return build


def mirror_pieces(build: Build, piece_ids: Sequence[str]) -> Build:
    """Mirror pieces left to right about the middle of them all; the wiring stays as it is."""
    together = np.concatenate([_box(item(build.pieces, piece_id, "piece")) for piece_id in piece_ids])
    twice = float(together[:, 0].min() + together[:, 0].max())
    for piece_id in piece_ids:
        piece = item(build.pieces, piece_id, "piece")
        build = change_piece(build, piece_id, **_mirrored(piece, piece.layout, twice))
    return build


def _mirrored(piece: Piece, layout: AnyLayout, twice_m: float) -> dict[str, Any]:
    """What lays a piece as its mirror image about half of ``twice_m``."""
    if isinstance(layout, AlongPath | AtSpots):
        points = tuple((round(twice_m - x, FINE), y) for x, y in layout.points_m)
        return {"layout": revise(layout, points_m=points)}
    x_m = round(twice_m - layout.x_m, FINE)
    if isinstance(layout, AlongArc):
        return {
            "layout": revise(layout, x_m=x_m, angle_deg=_opposite(layout.angle_deg), rightward=not layout.rightward)
        }
    if isinstance(layout, AlongLine):
        return {"layout": revise(layout, x_m=x_m, angle_deg=_opposite(layout.angle_deg))}
    if isinstance(layout, AroundRing):
        turn = {"layout": revise(layout, x_m=x_m, start_deg=_opposite(layout.start_deg))}
        return turn if piece.slot_count < 3 else _as_spots(piece, twice_m)
    return _mirrored_grid(piece, layout, twice_m)


def _as_spots(piece: Piece, twice_m: float) -> dict[str, Any]:
    """A ring runs one way round only: lamps are laid at spots, a strip stays and is turned."""
    if not hasattr(piece, "lamp_count"):
        layout = piece.layout
        assert isinstance(layout, AroundRing)
        x_m = round(twice_m - layout.x_m, FINE)
        return {"layout": revise(layout, x_m=x_m, start_deg=_opposite(layout.start_deg))}
    places = slot_places(piece)
    return {"layout": AtSpots(points_m=tuple((round(twice_m - x, FINE), round(y, FINE)) for x, y in places.tolist()))}


def _mirrored_grid(piece: Piece, layout: AsGrid, twice_m: float) -> dict[str, Any]:
    """A panel begins at the other corner; what has no other corner keeps its way and takes the mirrored place."""
    box = _box(piece)
    off = twice_m - float(box[:, 0].min() + box[:, 0].max())
    laid = {"layout": shifted_layout(layout, off, 0.0)}
    if isinstance(piece, Panel):
        row, side = piece.corner.split("_")
        return {**laid, "corner": f"{row}_{'left' if side == 'right' else 'right'}"}
    return laid


def make_copies(build: Build, piece_id: str, count: int, dx_m: float, dy_m: float) -> Build:
    """A row of copies of a piece, each a step farther.

    Args:
        build: the build.
        piece_id: the piece.
        count: how many more. [-]
        dx_m: to the right, from each to the next. [m]
        dy_m: up, from each to the next. [m]

    Raises:
        LanternError: none or too many are asked for.
    """
    if not 1 <= count <= MOST_COPIES:
        raise LanternError(f"{count} copies cannot be made at once", "copies", f"1 to {MOST_COPIES}")
    first = item(build.pieces, piece_id, "piece")
    last = piece_id
    for number in range(1, count + 1):
        before = {piece.id for piece in build.pieces}
        build = duplicate_piece(build, last)
        last = next(piece.id for piece in build.pieces if piece.id not in before)
        build = change_piece(build, last, layout=shifted_layout(first.layout, number * dx_m, number * dy_m))
    return build


def _opposite(angle_deg: float) -> float:
    """A direction mirrored left to right. [deg]"""
    return (180.0 - angle_deg + 180.0) % 360.0 - 180.0


def _box(piece: Piece) -> Floats:
    """Two opposite corners of the lights of a piece. (2, 2) [m]"""
    places = slot_places(piece)
    return np.stack([places.min(axis=0), places.max(axis=0)])


def _edge(pair: Floats, edge: str) -> float:
    choose: dict[str, Callable[[Floats], float]] = {"min": np.min, "max": np.max, "mid": np.mean}
    return float(choose[edge](pair))


def laid_as(piece: Piece, shape: str) -> AnyLayout:
    """A piece's layout in another shape, beginning where it lies now; a ring is closed about where it lay."""
    places = slot_places(piece)
    x, y = (round(float(value), FINE) for value in places[0])
    length_m = piece.slot_count * spacing_of(piece)
    if shape == "line":
        return AlongLine(x_m=x, y_m=y)
    if shape == "arc":
        return AlongArc(x_m=x, y_m=y, radius_m=max(0.01, round(length_m, 3)))
    if shape == "ring":
        middle = places.mean(axis=0)
        return AroundRing(x_m=round(float(middle[0]), FINE), y_m=round(float(middle[1]), FINE))
    if shape == "spots":
        return AtSpots(points_m=tuple((round(a, FINE), round(b, FINE)) for a, b in places.tolist()))
    half = round(x + length_m / 2, FINE)
    return AlongPath(points_m=((x, y), (half, y), (half, round(y - length_m / 4, FINE))))
