"""The picture lit: every pixel a soft spot of light on a dark ground."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_array

from tiny_lantern.light.colour import srgb_from_linear
from tiny_lantern.model.lamps import HoldGroup, LampGroup, SwitchedLoad
from tiny_lantern.model.layout import spacing_of
from tiny_lantern.model.piece import Piece

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
UNLIT = 0.02
LEAST_LIGHT = 0.004
MOST_SPOTS = 4000
LEAST_APART = 1.2
NAME_ROOM = 26
SPREAD = {"none": 1.0, "clear": 0.85, "frosted": 1.7}
FLOOD, LAMP_GLOW_M = 12.0, 0.016
GROUND = (13, 17, 23)
OPAQUE = 0xFF000000
FULL = 4095
_SHADES = np.round(srgb_from_linear(np.linspace(0, 1, FULL + 1)) * 255).astype(np.uint32)
_WORDS = [np.maximum(_SHADES, ground) << shift | OPAQUE for ground, shift in zip(GROUND, (16, 8, 0), strict=True)]


class Glow:
    """Turns frames into pictures of one size; the spots' shapes are worked out once.

    Neighbours on the Line that a picture cannot tell apart share one spot, lit as the brightest of them.

    Args:
        places: centre of each light on the picture, (n_slots, 2), x right and y down. [screen pixels]
        width: width of the picture. [screen pixels]
        height: height of the picture. [screen pixels]
        spots: radius of each light's core, (n_slots,). [screen pixels]
    """

    def __init__(self, places: Floats, width: int, height: int, spots: Floats) -> None:
        self.width, self.height = width, height
        stride = stride_of(places)
        self._first = np.arange(0, len(places), stride)
        middles = np.minimum(self._first + stride // 2, len(places) - 1)
        places, spots = places[middles], spots[middles]
        values, ats, counts = [], [], np.zeros(len(places), np.int64)
        sizes, size = np.unique(spots, return_inverse=True)
        for number, spot in enumerate(sizes):
            of_size = np.flatnonzero(size == number)
            value, at, counts[of_size] = _spots(places[of_size], width, height, float(spot))
            values.append(value)
            ats.append(at)
        value, at = np.concatenate(values), np.concatenate(ats)
        touched = np.zeros(width * height, bool)
        touched[at] = True
        self._at = np.flatnonzero(touched)
        row = np.empty(width * height, np.int32)
        row[self._at] = np.arange(len(self._at))
        by_size = np.argsort(size, kind="stable")
        ends = np.concatenate([[0], np.cumsum(counts[by_size])])
        drawn = csc_array((value * np.float32(FULL), row[at], ends), shape=(len(self._at), len(places)))
        self._spots = drawn if len(sizes) == 1 else drawn[:, np.argsort(by_size)]
        unlit = np.float32(UNLIT)
        self._unlit = np.minimum(self._spots @ np.full(len(places), unlit, np.float32), unlit * np.float32(FULL))
        self._shown = np.full(width * height, _word(GROUND), "<u4")

    def picture(self, rgb: Floats) -> NDArray[np.uint8]:
        """One frame, linear RGB (n_slots, 3) 0 to 1, as sRGB bytes (height, width, 3).

        Args:
            rgb: linear red, green and blue, 0 to 1, (n_slots, 3). [-]
        """
        of_each = self.words(rgb).view(np.uint8).reshape(self.height, self.width, 4)
        return np.ascontiguousarray(of_each[..., 2::-1])

    def words(self, rgb: Floats) -> NDArray[np.uint32]:
        """One frame as a word a screen pixel, opaque, its sRGB bytes red, green, blue from the highest down: an array
        (height, width) that the next frame is put into.

        Args:
            rgb: linear red, green and blue, 0 to 1, (n_slots, 3). [-]
        """
        shared = np.maximum.reduceat(np.asarray(rgb, np.float32), self._first)
        found = np.zeros(len(self._at), np.uint32)
        for channel, shades in zip(np.ascontiguousarray(shared.T), _WORDS, strict=True):
            light = np.maximum(self._spots @ channel, self._unlit)  # much quicker than the three at once
            found |= shades.take(light.astype(np.intp), mode="clip")
        self._shown[self._at] = found
        return self._shown.reshape(self.height, self.width)


def _word(colour: tuple[int, int, int]) -> int:
    red, green, blue = colour
    return OPAQUE | red << 16 | green << 8 | blue


def _spots(places: Floats, width: int, height: int, spot: float) -> tuple[NDArray[np.float32], Ints, Ints]:
    """The screen pixels that lights of one size reach: how strongly and which, light after light, and how many each.

    (n_reached,), (n_reached,) and (n_lights,)
    """
    reach = int(np.ceil(spot * 5))
    grid = np.arange(-reach, reach + 1)
    base = np.round(places).astype(np.int64)
    x, y = (base[:, side, None] + grid for side in (0, 1))
    (core_x, halo_x), (core_y, halo_y) = (_bells(grid - (places - base)[:, side, None], spot) for side in (0, 1))
    value = core_y[:, :, None] * core_x[:, None] + 0.10 * halo_y[:, :, None] * halo_x[:, None]
    inside = ((y >= 0) & (y < height))[:, :, None] & ((x >= 0) & (x < width))[:, None] & (value > LEAST_LIGHT)
    at = ((y * width)[:, :, None] + x[:, None])[inside]
    return value[inside], at, np.count_nonzero(inside, axis=(1, 2))


def _bells(away: Floats, spot: float) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """A light's core and its halo along one axis; a spot is the product of its bells along both. Each like ``away``."""
    square = np.asarray(away, np.float32) ** 2
    return np.exp(-square / (2 * (0.6 * spot) ** 2)), np.exp(-square / (2 * (1.9 * spot) ** 2))


def stride_of(places: Floats) -> int:
    """How many neighbours share a spot: as many as lie within a screen pixel or so, or more of very many lights.

    Args:
        places: centre of each light on the picture, (n_slots, 2). [screen pixels]
    """
    if len(places) < 2:
        return 1
    apart = float(np.median(np.hypot(*np.diff(places, axis=0).T)))
    return max(1, int(LEAST_APART / max(apart, 1e-6)) if apart < LEAST_APART else 1, -(-len(places) // MOST_SPOTS))


def fit(
    bounds_m: tuple[float, float, float, float], width: int, height: int, edge: int = 0
) -> tuple[float, float, float]:
    """Scale [screen pixels/m] and the shift of x and y that centre a rectangle of the build in a picture.

    Args:
        bounds_m: left, bottom, right and top of the rectangle. [m]
        width: width of the picture. [screen pixels]
        height: height of the picture. [screen pixels]
        edge: room kept above and below for names, though no more than a fifth of the height. [screen pixels]
    """
    left, bottom, right, top = bounds_m
    scale = min(width / (right - left), (height - min(2 * edge, height / 5)) / (top - bottom))
    shift_x = (width - scale * (right - left)) / 2 - scale * left
    shift_y = (height - scale * (top - bottom)) / 2 + scale * top
    return scale, shift_x, shift_y


def to_screen(places_m: Floats, placed: tuple[float, float, float]) -> Floats:
    """Points of the build on a picture, (n, 2) [m] to (n, 2) [screen pixels], y down.

    Args:
        places_m: the points, (n, 2). [m]
        placed: scale and shifts, see ``fit``.
    """
    scale, shift_x, shift_y = placed
    return np.stack([shift_x + scale * places_m[:, 0], shift_y - scale * places_m[:, 1]], axis=1)


def spot_sizes(pieces: Sequence[Piece], scale: float) -> Floats:
    """Each light's radius on the picture: single lamps larger than pixels side by side, a floodlight largest.

    (n_slots,) [screen pixels]

    Args:
        pieces: the pieces, in order.
        scale: screen pixels a metre. [1/m]
    """
    sizes = [np.full(piece.slot_count, _spot_of(piece, scale)) for piece in pieces]
    return np.concatenate(sizes) if sizes else np.zeros(0)


def _spot_of(piece: Piece, scale: float) -> float:
    spread = SPREAD[piece.mount.cover] * min(max((piece.mount.beam_deg / 120) ** 0.5, 0.5), 1.25)
    return float(spread * _bare_spot(piece, scale))


def _bare_spot(piece: Piece, scale: float) -> float:
    if isinstance(piece, SwitchedLoad):
        return FLOOD
    if isinstance(piece, LampGroup | HoldGroup):
        return min(max(LAMP_GLOW_M * scale, 2.0), 8.0)
    return spot_radius(scale, spacing_of(piece))


def spot_radius(scale: float, pitch_m: float) -> float:
    """A light's radius on the picture: near its pitch, never too small to see or so large that all run together.

    Args:
        scale: screen pixels a metre. [1/m]
        pitch_m: from one light to the next. [m]
    """
    return min(max(0.45 * scale * pitch_m, 1.6), 7.0)
