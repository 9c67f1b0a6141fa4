"""Curves against the Line: values at places, thinned to what a screen can tell apart, drawn as lines with gaps."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from typing import cast

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QLineF, QPointF
from PySide6.QtGui import QPolygonF
from shiboken6 import wrapInstance

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
LEAST_STEP = 3.0
JOIN_PX = 4.0
DOT_PX = 1.5


@dataclass(frozen=True, eq=False)
class Curve:
    """Values at places that rise along the Line; ``piece`` tells which belong together, nan where there is none.

    All (n,): places [m on the Line], values in the unit of their plot.
    """

    place_m: Floats
    piece: Ints
    value: Floats

    def in_view(self, left_m: float, right_m: float) -> Curve:
        """What lies between two places, with one more at each side."""
        first = max(0, int(np.searchsorted(self.place_m, left_m)) - 1)
        stop = int(np.searchsorted(self.place_m, right_m, side="right")) + 1
        return Curve(self.place_m[first:stop], self.piece[first:stop], self.value[first:stop])


NOTHING = Curve(np.zeros(0), np.zeros(0, np.int64), np.zeros(0))


def unbroken(curve: Curve) -> Ints:
    """Number of the unbroken run that each value belongs to; a gap or another piece begins a new one. (n,)"""
    lacking = np.isnan(curve.value)
    new = np.zeros(len(lacking), bool)
    new[1:] = (curve.piece[1:] != curve.piece[:-1]) | lacking[1:] | lacking[:-1]
    return np.cumsum(new)


def thinned(x: Floats, run: Ints, value: Floats) -> Ints:
    """Which values are worth drawing: of each few screen pixels the extremes, and the ends of runs wide enough to see.

    Args:
        x: rising places on the screen, (n,). [screen pixels]
        run: number of the unbroken run of each, (n,). [-]
        value: the values, none of them nan, (n,). [any]
    """
    if not len(x):
        return np.zeros(0, np.int64)
    bucket = np.floor(x / LEAST_STEP).astype(np.int64)
    first = _firsts(bucket)
    if len(first) > len(x) / 2:
        return np.arange(len(x))
    number = np.cumsum(_is_first(bucket)) - 1
    kept = np.zeros(len(x), bool)
    for extreme in (np.minimum.reduceat(value, first), np.maximum.reduceat(value, first)):
        hits = np.flatnonzero(value == extreme[number])
        kept[hits[_firsts(number[hits])]] = True
    begin = _firsts(run)
    end = np.append(begin[1:], len(x)) - 1
    seen = x[end] - x[begin] > LEAST_STEP
    kept[begin[seen]] = kept[end[seen]] = True
    return np.flatnonzero(kept)


def _is_first(number: Ints) -> Bools:
    found = np.ones(len(number), bool)
    found[1:] = number[1:] != number[:-1]
    return found


def _firsts(number: Ints) -> Ints:
    """Where each row of equal neighbours begins."""
    return np.flatnonzero(_is_first(number))


@dataclass(frozen=True, eq=False)
class Drawn:
    """Points of a curve on the screen, and whether each is joined to the one after it, (n,), (n,) and (n - 1,).

    ``at`` are their numbers among the values that were handed in, (n,).
    """

    x: Floats
    y: Floats
    joined: Bools
    at: Ints

    def segments(self) -> Floats:
        """Its segments, and a dash for each point that stands alone: x and y of both ends. (n_segments, 4)"""
        ends = np.stack([self.x[:-1], self.y[:-1], self.x[1:], self.y[1:]], axis=1)[self.joined]
        held = np.zeros(len(self.x), bool)
        held[:-1] |= self.joined
        held[1:] |= self.joined
        x, y = self.x[~held], self.y[~held]
        return np.concatenate([ends, np.stack([x - DOT_PX, y, x + DOT_PX, y], axis=1)])


class LineStore:
    """Lines that Qt reads where NumPy wrote them: made once, written anew for every picture."""

    def __init__(self) -> None:
        self._ends = np.zeros((0, 4))
        self._lines: list[QLineF] = []

    def of(self, segments: Floats) -> list[QLineF]:
        """Segments as Qt's lines, which hold until the next call.

        Args:
            segments: x and y of both ends of each, (n_segments, 4). [screen pixels]
        """
        if len(segments) > len(self._ends):
            self._ends = np.zeros((2 * len(segments), 4))
            first, step = self._ends.ctypes.data, self._ends.strides[0]
            self._lines = [cast(QLineF, wrapInstance(first + step * row, QLineF)) for row in range(len(self._ends))]
        self._ends[: len(segments)] = segments
        return self._lines[: len(segments)]


def drawn(curve: Curve, to_x: Callable[[Floats], Floats], to_y: Callable[[Floats], Floats]) -> Drawn:
    """A curve as points on the screen.

    Pieces whose gap is too small to be seen are joined, so that very many narrow ones read as one shape.

    Args:
        curve: the curve.
        to_x: places on the Line to the screen. [m] to [screen pixels]
        to_y: values to the screen, [screen pixels].
    """
    there = np.flatnonzero(~np.isnan(curve.value))
    run, x = unbroken(curve)[there], to_x(curve.place_m[there])
    kept = thinned(x, run, curve.value[there])
    x, run = x[kept], run[kept]
    joined = (run[1:] == run[:-1]) | (np.diff(x) <= JOIN_PX)
    return Drawn(x, to_y(curve.value[there[kept]]), joined, there[kept])


def between(upper: Drawn, lower_y: Floats) -> list[QPolygonF]:
    """The areas between a curve and another one at the same points, one for each unbroken part.

    Args:
        upper: the curve.
        lower_y: the other one's heights at its points, (n,). [screen pixels]
    """
    edges = np.concatenate([[0], np.flatnonzero(~upper.joined) + 1, [len(upper.x)]]) if len(upper.x) else [0]
    areas = []
    for first, stop in pairwise(edges):
        part = slice(int(first), int(stop))
        there = [QPointF(*point) for point in zip(upper.x[part].tolist(), upper.y[part].tolist(), strict=True)]
        back = [QPointF(*point) for point in zip(upper.x[part].tolist(), lower_y[part].tolist(), strict=True)]
        areas.append(QPolygonF([*there, *reversed(back)]))
    return areas
