"""A reference photo that lies under the picture, kept with the build."""

from __future__ import annotations

import base64
import binascii
from typing import Annotated

from pydantic import Field, field_validator

from tiny_lantern.model.base import Coordinate, Frozen
from tiny_lantern.model.pixels import is_picture

MOST_KEPT = 2_000_000
MOST_PIXELS = 6_000_000


class Photo(Frozen):
    """A photo as JPEG or PNG in base64, at most 2 MB of text; its lower left corner, how wide it is in the build, its
    pixels, and how strongly it shows."""

    data: Annotated[str, Field(min_length=1, max_length=MOST_KEPT, repr=False)]
    pixels_wide: Annotated[int, Field(ge=1, le=20_000)]
    pixels_high: Annotated[int, Field(ge=1, le=20_000)]
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    width_m: Annotated[float, Field(ge=1e-3, le=10_000)] = 1.0
    strength: Annotated[float, Field(ge=0.05, le=1)] = 0.35

    @field_validator("data")
    @classmethod
    def _is_a_picture(cls, data: str) -> str:
        if not is_picture(_bytes_of(data)):
            raise ValueError("the photo is neither JPEG nor PNG")
        return data

    @property
    def content(self) -> bytes:
        """Its file's bytes."""
        return _bytes_of(self.data)

    @property
    def height_m(self) -> float:
        """How high it is in the build. [m]"""
        return self.width_m * self.pixels_high / self.pixels_wide


def _bytes_of(data: str) -> bytes:
    try:
        return base64.b64decode(data.encode("ascii"), validate=True)
    except (binascii.Error, UnicodeEncodeError):
        raise ValueError("the photo is no base64") from None
