"""The glow of a build as images: all of it in one, or, amid a drag, what stays in one and what changes in another."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF
from PySide6.QtGui import QImage

from tiny_lantern.model.base import same_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.piece import Piece
from tiny_lantern.ui.colours import Bytes, image_of_words

if TYPE_CHECKING:
    from tiny_lantern.show.glow import Glow

Floats = NDArray[np.float64]
Placed = tuple[float, float, float]


PlacedImage = tuple[QPointF, QImage]
HARDLY_PX = 0.02


class _Whole:
    """The glow of some pieces as large as the picture, kept as long as they and their places on it stay."""

    def __init__(self) -> None:
        self._pieces: tuple[Piece, ...] = ()
        self._place: tuple[int, int, Placed] | None = None
        self._glow: Glow | None = None
        self._lit: tuple[Bytes, QImage] | None = None

    def image(
        self, pieces: tuple[Piece, ...], places: Floats, frame: Bytes, size: tuple[int, int], placed: Placed
    ) -> PlacedImage:
        """These pieces lit by their rows of a frame."""
        if self._glow is None or self._place != (*size, placed) or not same_members(self._pieces, pieces):
            from tiny_lantern.show.glow import Glow, spot_sizes  # loaded by the warm-up

            self._glow = Glow(places, *size, spot_sizes(pieces, placed[0]))
            self._pieces, self._place, self._lit = pieces, (*size, placed), None
        if self._lit is None or not (self._lit[0] is frame or np.array_equal(self._lit[0], frame)):
            self._lit = (frame, image_of_words(self._glow.words(frame / 255.0)))
        return QPointF(0, 0), self._lit[1]


class _Moving:
    """The glow of what is dragged, no larger than it shines; moved as a whole, it is the same image elsewhere."""

    def __init__(self) -> None:
        self._places = np.zeros((0, 2))
        self._spots = np.zeros(0)
        self._corner = np.zeros(2)
        self._glow: Glow | None = None
        self._lit: tuple[Bytes, QImage] | None = None

    def image(
        self, pieces: tuple[Piece, ...], places: Floats, frame: Bytes, size: tuple[int, int], placed: Placed
    ) -> PlacedImage:
        """These pieces lit by their rows of a frame, and where the image's corner is."""
        from tiny_lantern.show.glow import Glow, spot_sizes  # loaded by the warm-up

        spots = spot_sizes(pieces, placed[0])
        if self._glow is None or not (np.array_equal(spots, self._spots) and self._moved_as_a_whole(places)):
            low, high = shining(places, float(spots.max()), size)
            self._places, self._spots, self._corner = places, spots, low
            width, height = (max(1, int(edge)) for edge in high - low)
            self._glow, self._lit = Glow(places - low, width, height, spots), None
        if self._lit is None or not np.array_equal(self._lit[0], frame):
            self._lit = (frame, image_of_words(self._glow.words(frame / 255.0)))
        by = places[0] - self._places[0]
        return QPointF(*(self._corner + by)), self._lit[1]

    def _moved_as_a_whole(self, places: Floats) -> bool:
        if len(places) != len(self._places):
            return False
        return bool((np.ptp(places - self._places, axis=0) < HARDLY_PX).all())


def shining(places: Floats, spot: float, size: tuple[int, int]) -> tuple[Floats, Floats]:
    """The corners of what lights reach: all of it, also out of view, but no more than a picture to each side. (2,) each
    [screen pixels]

    Args:
        places: where they are, (n, 2). [screen pixels]
        spot: the largest one's radius. [screen pixels]
        size: width and height of the picture. [screen pixels]
    """
    reach, most = np.ceil(5 * spot) + 1, np.array(size, float)
    low, high = np.floor(places.min(axis=0) - reach), np.ceil(places.max(axis=0) + reach)
    return np.clip(low, -most, most), np.clip(high, 0, 2 * most)


class Lights:
    """Images of a build's lights, worked out again only where something changed."""

    def __init__(self) -> None:
        self._whole, self._still, self._moving = _Whole(), _Whole(), _Moving()

    def images(
        self,
        build: Build,
        moving: Collection[str],
        places: Floats,
        frame: Bytes,
        size: tuple[int, int],
        placed: Placed,
    ) -> list[PlacedImage]:
        """One image, or two to be laid on each other, the lighter counting; each with its corner.

        Args:
            build: the build.
            moving: ids of the pieces that a drag changes.
            places: where each light is on the picture, (n_slots, 2). [screen pixels]
            frame: linear bytes of each light, (n_slots, 3). [-]
            size: width and height of the picture. [screen pixels]
            placed: scale and shifts of the picture.
        """
        if not moving or all(piece.id in moving for piece in build.pieces):
            return [self._whole.image(build.pieces, places, frame, size, placed)]
        moves = np.concatenate([np.full(piece.slot_count, piece.id in moving) for piece in build.pieces])
        found: list[PlacedImage] = []
        for part, of_part in ((self._still, ~moves), (self._moving, moves)):
            pieces = tuple(piece for piece in build.pieces if (piece.id in moving) == (part is self._moving))
            found.append(part.image(pieces, places[of_part], frame[of_part], size, placed))
        return found
