"""What a piece can be taken hold of by in the picture, and what dragging each of these points does to it.

A strip keeps its pitch, so its length sets how many pixels it has; lamps keep their number, so length sets what lies
between them.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.layout import places_along, slot_places, spacing_of
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AroundRing, AsGrid, AtSpots
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import Strip

Floats = NDArray[np.float64]
Point = tuple[float, float]
MOST_SPOTS = 200
SNAP_DEG, ANGLES_DEG = 2.5, 15.0
LEAST_M = 1e-3
GRIDS = ((150.0, 0.1), (1500.0, 0.01), (np.inf, 0.001))


@dataclass(frozen=True)
class Handle:
    """A point to take hold of: what it does, which corner or lamp it is, and where it is. [m]"""

    role: str
    number: int
    x_m: float
    y_m: float


def handles_of(piece: Piece) -> tuple[Handle, ...]:
    """Every point that a piece can be taken hold of by, besides its lights, by which all of it moves."""
    layout = piece.layout
    if isinstance(layout, AlongLine):
        return (Handle("start", 0, layout.x_m, layout.y_m), _at("end", _along(piece, 1.0)))
    if isinstance(layout, AlongArc):
        return (_at("bend", _along(piece, 0.5)), _at("turn", _along(piece, 1.0)))
    if isinstance(layout, AroundRing):
        start = np.radians(layout.start_deg)
        radius, middle = ring_radius(piece), np.array([layout.x_m, layout.y_m])
        return tuple(
            _at(role, middle + radius * np.array([np.cos(start + turn), np.sin(start + turn)]))
            for role, turn in (("turn", 0.0), ("size", np.pi))
        )
    if isinstance(layout, AlongPath):
        corners = [Handle("corner", number, x, y) for number, (x, y) in enumerate(layout.points_m)]
        legs = [
            Handle("leg", number + 1, (one[0] + other[0]) / 2, (one[1] + other[1]) / 2)
            for number, (one, other) in enumerate(pairwise(layout.points_m))
        ]
        return (*corners, *legs)
    if isinstance(layout, AtSpots):
        return tuple(Handle("lamp", number, x, y) for number, (x, y) in enumerate(layout.points_m[:MOST_SPOTS]))
    places = slot_places(piece)
    if len(places) < 2:
        return ()
    return (_at("turn", places[_row_end(places)]),)


def dragged(build: Build, piece_id: str, handle: Handle, to: Point) -> Build:
    """The build with one handle of a piece dragged to a point. [m]

    Raises:
        LanternError: the piece would become too large, or the layout cannot be.
    """
    piece = item(build.pieces, piece_id, "piece")
    return change_piece(build, piece_id, **_changes(piece, piece.layout, handle, to))


def straightened(build: Build, piece_id: str, number: int) -> Build:
    """A path with one corner fewer, counted from 0.

    Raises:
        LanternError: it is no path, or has two points only.
    """
    layout = item(build.pieces, piece_id, "piece").layout
    if not isinstance(layout, AlongPath) or len(layout.points_m) < 3:
        raise LanternError("a path needs two points", "corners", "a path of three corners or more")
    points = (*layout.points_m[:number], *layout.points_m[number + 1 :])
    return change_piece(build, piece_id, layout=revise(layout, points_m=points))


def _changes(piece: Piece, layout: Any, handle: Handle, to: Point) -> dict[str, Any]:
    if isinstance(layout, AlongLine):
        if handle.role == "end":
            return _stretched(piece, layout, (layout.x_m, layout.y_m), to)
        end = _along(piece, 1.0)
        return _stretched(piece, layout, to, (float(end[0]), float(end[1])))
    if isinstance(layout, AlongArc):
        return _arc(piece, layout, handle, to)
    if isinstance(layout, AroundRing):
        return _ring(piece, layout, handle, to)
    if isinstance(layout, AlongPath | AtSpots):
        points, there = list(layout.points_m), (round(to[0], 4), round(to[1], 4))
        points[handle.number : handle.number + (handle.role != "leg")] = [there]
        return {"layout": revise(layout, points_m=tuple(points))}
    return {"layout": _turned(piece, layout, to)}


def _stretched(piece: Piece, layout: AlongLine, start: Point, end: Point) -> dict[str, Any]:
    """A line from one point toward another, as long as whole pixels or even spaces allow."""
    off = np.subtract(end, start)
    length = max(LEAST_M, float(np.hypot(*off)))
    angle = snapped_angle(float(np.degrees(np.arctan2(off[1], off[0]))))
    laid = revise(layout, x_m=round(start[0], 4), y_m=round(start[1], 4), angle_deg=angle)
    return {"layout": laid, **of_length(piece, length)}


def of_length(piece: Piece, length_m: float) -> dict[str, Any]:
    """The change that gives a piece a length: whole pixels of a strip, even spaces of lamps.

    Args:
        piece: the piece.
        length_m: the length. [m]
    """
    if isinstance(piece, Strip):
        return {"pixel_count": max(1, round(length_m / piece.pitch_m))}
    return {"spacing_m": max(1e-4, round(length_m / piece.slot_count, 9))}


def _arc(piece: Piece, layout: AlongArc, handle: Handle, to: Point) -> dict[str, Any]:
    """Turned about its start, or bent so that its middle comes as far off its chord as the pointer is."""
    off = np.array(to) - (layout.x_m, layout.y_m)
    if handle.role == "turn":
        was = _along(piece, 1.0) - (layout.x_m, layout.y_m)
        turn = np.degrees(np.arctan2(off[1], off[0]) - np.arctan2(was[1], was[0]))
        return {"layout": revise(layout, angle_deg=snapped_angle(layout.angle_deg + float(turn)))}
    heading = np.radians(layout.angle_deg)
    left = float(off @ np.array([-np.sin(heading), np.cos(heading)]))
    half = piece.slot_count * spacing_of(piece) / 2
    rise = min(abs(left), half * 0.9)
    if rise < 1e-3:
        return {}
    # At half its length l an arc of radius r lies r·(1 − cos(l/r)) off its first heading; r = l²/2h to second order,
    # and a step of Newton's on the exact form settles it.
    radius = half**2 / (2 * rise)
    for _ in range(8):
        bow = half / radius
        slope = 1 - np.cos(bow) - bow * np.sin(bow)
        if abs(slope) < 1e-12:
            break
        radius = max(half / np.pi, radius - (radius * (1 - np.cos(bow)) - rise) / slope)
    return {"layout": revise(layout, radius_m=max(0.001, round(radius, 4)), rightward=left < 0)}


def _ring(piece: Piece, layout: AroundRing, handle: Handle, to: Point) -> dict[str, Any]:
    off = np.array(to) - (layout.x_m, layout.y_m)
    if handle.role == "turn":
        return {"layout": revise(layout, start_deg=snapped_angle(float(np.degrees(np.arctan2(off[1], off[0])))))}
    return of_length(piece, max(LEAST_M, 2 * np.pi * float(np.hypot(*off))))


def _turned(piece: Piece, layout: AsGrid, to: Point) -> AsGrid:
    """A grid turned about its first light so that the end of its first row points to the pointer."""
    places = slot_places(piece)
    was = places[_row_end(places)] - (layout.x_m, layout.y_m)
    off = np.array(to) - (layout.x_m, layout.y_m)
    turn = float(np.degrees(np.arctan2(off[1], off[0]) - np.arctan2(was[1], was[0])))
    return revise(layout, angle_deg=snapped_angle(layout.angle_deg + turn))


def _row_end(places: Floats) -> int:
    """The light farthest from the first one."""
    return int(np.hypot(*(places - places[0]).T).argmax())


def ring_radius(piece: Piece) -> float:
    """Radius of a piece that is closed on itself. [m]"""
    return piece.slot_count * spacing_of(piece) / (2 * np.pi)


def _along(piece: Piece, share: float) -> Floats:
    """The point at a share of a piece's length. (2,) [m]"""
    return np.asarray(places_along(piece, np.array([share * piece.slot_count * spacing_of(piece)]))[0])


def _at(role: str, point: Floats) -> Handle:
    return Handle(role, 0, float(point[0]), float(point[1]))


def snapped_angle(angle_deg: float) -> float:
    """An angle, or the round one of 15, 30, 45 ... that it is close to; between -180 and 180. [deg]

    Args:
        angle_deg: the angle. [deg]
    """
    near = round(angle_deg / ANGLES_DEG) * ANGLES_DEG
    chosen = near if abs(near - angle_deg) <= SNAP_DEG else round(angle_deg, 1)
    return (chosen + 180.0) % 360.0 - 180.0 if abs(chosen) > 180 else chosen


def grid_step(scale: float) -> float:
    """What places snap to when a picture shows a metre so large: 0.1 m, 1 cm or 1 mm. [m]

    Args:
        scale: screen pixels a metre. [1/m]
    """
    return float(next(step for most, step in GRIDS if scale < most))


def snapped(to: Point, step_m: float, ends: Floats, reach_m: float) -> Point:
    """A point moved onto the end of a piece that is near, else onto the grid.

    Args:
        to: the point. [m]
        step_m: step of the grid. [m]
        ends: ends of pieces, (n, 2). [m]
        reach_m: how near is near. [m]
    """
    if len(ends):
        far = np.hypot(ends[:, 0] - to[0], ends[:, 1] - to[1])
        nearest = int(far.argmin())
        if far[nearest] <= reach_m:
            return (float(ends[nearest, 0]), float(ends[nearest, 1]))
    return (round(round(to[0] / step_m) * step_m, 4), round(round(to[1] / step_m) * step_m, 4))


def piece_ends(build: Build, but: str) -> Floats:
    """Both ends of every piece but one. (n_ends, 2) [m]"""
    ends = []
    for piece in build.pieces:
        if piece.id == but:
            continue
        if isinstance(piece.layout, AlongLine):
            ends += [(piece.layout.x_m, piece.layout.y_m), tuple(_along(piece, 1.0))]
        else:
            places = slot_places(piece)
            ends += [tuple(places[0]), tuple(places[-1])]
    return np.array(ends, float).reshape(-1, 2)
