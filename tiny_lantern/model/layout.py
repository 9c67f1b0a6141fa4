"""Where each pixel lies in the picture, from a strip's layout and its real length."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.build import Build
from tiny_lantern.model.strip import AlongArc, AlongLine, AlongPath, AroundRing, Strip

Floats = NDArray[np.float64]
Box = tuple[float, float, float, float]


def pixel_places(strip: Strip) -> Floats:
    """Centre of every pixel. (n_pixels, 2) [m], x to the right, y up"""
    return places_along(strip, (np.arange(strip.pixel_count) + 0.5) * strip.pitch_m)


def places_along(strip: Strip, along_m: NDArray[np.floating]) -> Floats:
    """Points at distances along a strip, (n,) to (n, 2). [m]"""
    along: Floats = np.asarray(along_m, np.float64)
    layout = strip.layout
    if isinstance(layout, AlongLine):
        heading = np.radians(layout.angle_deg)
        direction = np.array([np.cos(heading), np.sin(heading)])
        return np.array([layout.x_m, layout.y_m]) + along[:, None] * direction
    if isinstance(layout, AlongArc):
        heading = np.radians(layout.angle_deg)
        radius = -layout.radius_m if layout.rightward else layout.radius_m
        turned = heading + along / radius
        x = layout.x_m + radius * (np.sin(turned) - np.sin(heading))
        y = layout.y_m - radius * (np.cos(turned) - np.cos(heading))
        return np.stack([x, y], axis=1)
    if isinstance(layout, AroundRing):
        radius = strip.length_m / (2 * np.pi)
        turned = np.radians(layout.start_deg) + along / radius
        return np.stack([layout.x_m + radius * np.cos(turned), layout.y_m + radius * np.sin(turned)], axis=1)
    return _along_path(layout, along)


def _along_path(layout: AlongPath, along: Floats) -> Floats:
    corners = np.array(layout.points_m, float)
    legs = np.linalg.norm(np.diff(corners, axis=0), axis=1)
    reached = np.concatenate([[0.0], np.cumsum(legs)])
    leg = np.clip(np.searchsorted(reached, along, side="right") - 1, 0, len(legs) - 1)
    share = (along - reached[leg]) / legs[leg]
    return corners[leg] + share[:, None] * (corners[leg + 1] - corners[leg])


def all_places(build: Build) -> Floats:
    """Centre of every pixel on the Line. (n_slots, 2) [m]"""
    if not build.strips:
        return np.zeros((0, 2))
    return np.concatenate([pixel_places(strip) for strip in build.strips])


def bounds(build: Build, places: Floats | None = None) -> tuple[float, float, float, float]:
    """Left, bottom, right and top of everything in the picture, with a margin; never without area. [m]

    Args:
        build: the build.
        places: its ``all_places`` where they are known already, (n_slots, 2). [m]
    """
    lights = all_places(build) if places is None else places
    points = [lights, *(np.array([[supply.x_m, supply.y_m]]) for supply in build.supplies)]
    together = np.concatenate(points) if any(len(point) for point in points) else np.zeros((1, 2))
    low, high = together.min(axis=0), together.max(axis=0)
    margin = max(0.15, 0.06 * float((high - low).max()))
    return (
        float(low[0] - margin), float(low[1] - margin), float(high[0] + margin), float(high[1] + margin),
    )  # fmt: skip


def one_of_each(points: Floats, apart: float) -> list[int]:
    """Numbers of points of which no two share a cell of a grid, so that a crowd is thinned to what one can tell apart.

    Args:
        points: the points, (n, 2), in any unit.
        apart: width of a cell, in the same.
    """
    if not len(points):
        return []
    cells = np.floor(points / apart).astype(np.int64)
    return sorted(np.unique(cells, axis=0, return_index=True)[1].tolist())


def metre_step(span_m: float, most: int = 8) -> float:
    """A round step of 1, 2 or 5 times a power of ten that divides a span into at most so many parts. [m]"""
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
