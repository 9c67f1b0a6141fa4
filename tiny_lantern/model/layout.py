"""Where each light lies in the picture, from a piece's layout and its real length."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.build import Build
from tiny_lantern.model.lamps import SEGMENTS, Indicator, Matrix
from tiny_lantern.model.layouts import AlongArc, AlongLine, AlongPath, AroundRing, AsGrid, AtSpots
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import Panel

Floats = NDArray[np.float64]
Box = tuple[float, float, float, float]


FIGURE_SEGMENTS = ((0.3, 0.0), (0.6, -0.25), (0.6, -0.75), (0.3, -1.0), (0.0, -0.75), (0.0, -0.25), (0.3, -0.5),
                   (0.8, -1.0))  # fmt: skip


def slot_places(piece: Piece) -> Floats:
    """Centre of every light of a piece, worked out once and read-only. (n_slots, 2) [m], x to the right, y up"""
    places = piece.worked_out.places
    if places is None:
        places = _slot_places(piece)
        places.flags.writeable = False
        piece.worked_out.places = places
    return places


def _slot_places(piece: Piece) -> Floats:
    layout = piece.layout
    if isinstance(layout, AtSpots):
        return np.array(layout.points_m, float)
    if isinstance(layout, AsGrid):
        return _turned(_grid(piece), layout)
    return places_along(piece, (np.arange(piece.slot_count) + 0.5) * spacing_of(piece))


def spacing_of(piece: Piece) -> float:
    """From one light of a piece to the next, as they really lie. [m]"""
    for name in ("pitch_m", "spacing_m"):
        if hasattr(piece, name):
            return float(getattr(piece, name))
    return piece.axis_pitch_m


def _grid(piece: Piece) -> Floats:
    """Places of the lights of a piece that is laid as a grid, before it is turned. (n_slots, 2) [m]"""
    own = piece.own_places()
    if own is not None:
        return own
    if isinstance(piece, Panel):
        return _panel(piece)
    if isinstance(piece, Matrix):
        row, column = np.divmod(np.arange(piece.slot_count), piece.columns)
        return np.stack([column, -row], axis=1) * piece.pitch_m
    if isinstance(piece, Indicator) and piece.form == "figures":
        figure, segment = np.divmod(np.arange(piece.slot_count), SEGMENTS)
        return np.asarray(
            (np.array(FIGURE_SEGMENTS)[segment] + np.stack([figure, 0.0 * figure], axis=1)) * piece.pitch_m
        )
    pitch = piece.pitch_m if isinstance(piece, Indicator) else 0.0
    return np.stack([np.arange(piece.slot_count) * pitch, np.zeros(piece.slot_count)], axis=1)


def _panel(panel: Panel) -> Floats:
    """Pixels of a panel in the order of its wire, from the corner where it begins."""
    legs, a_leg = (panel.columns, panel.rows) if panel.columns_first else (panel.rows, panel.columns)
    leg, along = np.divmod(np.arange(legs * a_leg), a_leg)
    along = np.where(panel.serpentine & (leg % 2 == 1), a_leg - 1 - along, along)
    across = leg * panel.cross_pitch_m
    x, y = (across, along * panel.pitch_m) if panel.columns_first else (along * panel.pitch_m, across)
    width, height = x.max(), y.max()
    if panel.corner.endswith("right"):
        x = width - x
    if panel.corner.startswith("bottom"):
        y = height - y
    return np.stack([x, -y], axis=1)


def _turned(places: Floats, layout: AsGrid) -> Floats:
    heading = np.radians(layout.angle_deg)
    turn = np.array([[np.cos(heading), np.sin(heading)], [-np.sin(heading), np.cos(heading)]])
    return np.asarray(places @ turn + np.array([layout.x_m, layout.y_m]))


def places_along(piece: Piece, along_m: NDArray[np.floating]) -> Floats:
    """Points at distances along a piece, (n,) to (n, 2); on a grid, those of the nearest lights. [m]

    Args:
        piece: the piece.
        along_m: distances from its start, (n,). [m]
    """
    along: Floats = np.asarray(along_m, np.float64)
    layout = piece.layout
    if isinstance(layout, AtSpots | AsGrid):
        nearest = np.clip(along / piece.axis_pitch_m, 0, piece.slot_count - 1).astype(int)
        return np.asarray(slot_places(piece)[nearest])
    if isinstance(layout, AlongLine):
        heading = np.radians(layout.angle_deg)
        direction = np.array([np.cos(heading), np.sin(heading)])
        return np.asarray(np.array([layout.x_m, layout.y_m]) + along[:, None] * direction)
    if isinstance(layout, AlongArc):
        heading = np.radians(layout.angle_deg)
        radius = -layout.radius_m if layout.rightward else layout.radius_m
        turned = heading + along / radius
        x = layout.x_m + radius * (np.sin(turned) - np.sin(heading))
        y = layout.y_m - radius * (np.cos(turned) - np.cos(heading))
        return np.stack([x, y], axis=1)
    if isinstance(layout, AroundRing):
        radius = piece.slot_count * spacing_of(piece) / (2 * np.pi)
        turned = np.radians(layout.start_deg) + along / radius
        return np.stack([layout.x_m + radius * np.cos(turned), layout.y_m + radius * np.sin(turned)], axis=1)
    return _along_path(layout, along)


def _along_path(layout: AlongPath, along: Floats) -> Floats:
    corners = np.array(layout.points_m, float)
    legs = np.linalg.norm(np.diff(corners, axis=0), axis=1)
    reached = np.concatenate([[0.0], np.cumsum(legs)])
    leg = np.clip(np.searchsorted(reached, along, side="right") - 1, 0, len(legs) - 1)
    share = (along - reached[leg]) / legs[leg]
    return np.asarray(corners[leg] + share[:, None] * (corners[leg + 1] - corners[leg]))


def all_places(build: Build) -> Floats:
    """Centre of every light on the Line. (n_slots, 2) [m]"""
    if not build.pieces:
        return np.zeros((0, 2))
    return np.concatenate([slot_places(piece) for piece in build.pieces])


def bounds(
    build: Build, places: Floats | None = None, lights_only: bool = False
) -> tuple[float, float, float, float]:  # fmt: skip
    """Left, bottom, right and top of everything in the picture, with a margin; never without area. [m]

    Args:
        build: the build.
        places: its ``all_places`` where they are known already, (n_slots, 2). [m]
        lights_only: leave out what does not shine, where anything does.
    """
    lights = all_places(build) if places is None else places
    others = [(supply.x_m, supply.y_m) for supply in build.supplies]
    others += [board.at_m for board in build.boards if board.at_m is not None]
    others += [(room.x_m, room.y_m) for room in (*build.passages, *build.boxes)]
    others = [] if lights_only and len(lights) else others
    points = [lights, *(np.array([other]) for other in others)]
    together = np.concatenate(points) if any(len(point) for point in points) else np.zeros((1, 2))
    low, high = together.min(axis=0), together.max(axis=0)
    margin = max(0.15, 0.06 * float((high - low).max()))
    return (
        float(low[0] - margin), float(low[1] - margin), float(high[0] + margin), float(high[1] + margin),
    )  # fmt: skip


def one_of_each(points: Floats, apart: float) -> list[int]:
    """Numbers of points of which no two share a cell of a grid, so that a crowd is thinned to what one can tell apart.

    Args:
        points: the points, (n, 2), in any one unit. [any]
        apart: width of a cell, in the same.
    """
    if not len(points):
        return []
    cells = np.floor(points / apart).astype(np.int64)
    return sorted(np.unique(cells, axis=0, return_index=True)[1].tolist())


def metre_step(span_m: float, most: int = 8) -> float:
    """A round step of 1, 2 or 5 times a power of ten that divides a span into at most so many parts. [m]

    Args:
        span_m: the span. [m]
        most: into how many parts at most. [-]
    """
    if span_m <= 0:
        return 1.0
    power = 10.0 ** np.floor(np.log10(span_m / most))
    return float(next(power * factor for factor in (1, 2, 5, 10) if span_m / (power * factor) <= most))


def clear_of_each_other(boxes: list[Box]) -> list[bool]:
    """Which boxes to keep so that none lies on an earlier one kept; each is left, top, right, bottom in one unit."""
    kept: list[Box] = []
    chosen = []
    for left, top, right, bottom in boxes:
        free = all(left >= r or right <= x or top >= b or bottom <= y for x, y, r, b in kept)
        chosen.append(free)
        if free:
            kept.append((left, top, right, bottom))
    return chosen
