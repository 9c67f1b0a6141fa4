"""The glow of a build as images: all of it in one, or, amid a drag, what stays in one and what changes in another."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage

from tiny_lantern.model.base import same_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.piece import Piece
from tiny_lantern.ui.colours import Bytes, image_of

if TYPE_CHECKING:
    from tiny_lantern.show.glow import Glow

Floats = NDArray[np.float64]
Placed = tuple[float, float, float]


class _Part:
    """The glow of some pieces, kept as long as they and their places on the picture stay."""

    def __init__(self) -> None:
        self._pieces: tuple[Piece, ...] = ()
        self._place: tuple[int, int, Placed] | None = None
        self._glow: Glow | None = None
        self._lit: tuple[Bytes, QImage] | None = None

    def image(
        self, pieces: tuple[Piece, ...], places: Floats, frame: Bytes, size: tuple[int, int], placed: Placed
    ) -> QImage:
        """These pieces lit by their rows of a frame."""
        if self._glow is None or self._place != (*size, placed) or not same_members(self._pieces, pieces):
            from tiny_lantern.show.glow import Glow, spot_sizes  # loaded by the warm-up

            self._glow = Glow(places, *size, spot_sizes(pieces, placed[0]))
            self._pieces, self._place, self._lit = pieces, (*size, placed), None
        if self._lit is None or not (self._lit[0] is frame or np.array_equal(self._lit[0], frame)):
            self._lit = (frame, image_of(self._glow.picture(frame / 255.0)))
        return self._lit[1]


class Lights:
    """Images of a build's lights, worked out again only where something changed."""

    def __init__(self) -> None:
        self._whole, self._still, self._moving = _Part(), _Part(), _Part()

    def images(
        self,
        build: Build,
        moving: Collection[str],
        places: Floats,
        frame: Bytes,
        size: tuple[int, int],
        placed: Placed,
    ) -> list[QImage]:
        """One image, or two to be laid on each other, the lighter counting.

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
        found = []
        for part, of_part in ((self._still, ~moves), (self._moving, moves)):
            pieces = tuple(piece for piece in build.pieces if (piece.id in moving) == (part is self._moving))
            found.append(part.image(pieces, places[of_part], frame[of_part], size, placed))
        return found
