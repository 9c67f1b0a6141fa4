"""A reference photo that lies under the picture, kept with the build."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tiny_lantern.model.base import Coordinate, Frozen

MOST_KEPT = 2_000_000


class Photo(Frozen):
    """A photo as JPEG in base64, at most 2 MB of text; its lower left corner, how wide it is in the build, its pixels,
    and how strongly it shows."""

    data: Annotated[str, Field(min_length=1, max_length=MOST_KEPT, repr=False)]
    pixels_wide: Annotated[int, Field(ge=1, le=20_000)]
    pixels_high: Annotated[int, Field(ge=1, le=20_000)]
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    width_m: Annotated[float, Field(ge=1e-3, le=10_000)] = 1.0
    strength: Annotated[float, Field(ge=0.05, le=1)] = 0.35

    @property
    def height_m(self) -> float:
        """How high it is in the build. [m]"""
        return self.width_m * self.pixels_high / self.pixels_wide
