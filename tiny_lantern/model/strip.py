"""What is laid along the Line: strips of pixels, and how each lies in the picture."""

from __future__ import annotations

from collections.abc import Hashable
from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Degrees, Frozen, Id, Metres, Name, Place

MAX_PIXELS = 50_000


class AlongLine(Frozen):
    """Laid straight from a point in a direction; angles turn counter-clockwise from east."""

    shape: Literal["line"] = "line"
    x_m: Place = 0.0
    y_m: Place = 0.0
    angle_deg: Degrees = 0.0


class AlongArc(Frozen):
    """Laid along an arc of ``radius_m``; it bends to the left, or to the right when ``rightward``."""

    shape: Literal["arc"] = "arc"
    x_m: Place = 0.0
    y_m: Place = 0.0
    angle_deg: Degrees = 0.0
    radius_m: Annotated[float, Field(ge=0.001, le=10_000)] = 1.0
    rightward: bool = False


class AroundRing(Frozen):
    """Closed on itself about a centre; the strip's own length makes the circumference."""

    shape: Literal["ring"] = "ring"
    x_m: Place = 0.0
    y_m: Place = 0.0
    start_deg: Degrees = 90.0


class AlongPath(Frozen):
    """Laid along corners of real length; past the last corner it goes straight on."""

    shape: Literal["path"] = "path"
    points_m: Annotated[tuple[tuple[Place, Place], ...], Field(min_length=2, max_length=1000)]

    @model_validator(mode="after")
    def _corners_differ(self) -> AlongPath:
        if any(a == b for a, b in zip(self.points_m, self.points_m[1:], strict=False)):
            raise ValueError("two corners in a row are the same point")
        return self


Layout = Annotated[AlongLine | AlongArc | AroundRing | AlongPath, Field(discriminator="shape")]


class Strip(Frozen):
    """One run of pixels. ``cuts`` open the positive rail before the pixels named; ``reach_m`` are the spans in which
    a feed can be soldered, everywhere when None."""

    id: Id
    name: Name
    part_id: Id
    pixel_count: Annotated[int, Field(ge=1, le=MAX_PIXELS)]
    pitch_m: Annotated[float, Field(ge=1e-4, le=10)]
    colour_order: Annotated[str, Field(pattern=r"^[RGBW]{1,4}$")]
    cuts: Annotated[tuple[int, ...], Field(max_length=5000)] = ()
    rail_pos_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)] | None = None
    rail_neg_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)] | None = None
    reach_m: Annotated[tuple[tuple[Metres, Metres], ...], Field(max_length=200)] | None = None
    layout: Layout = AlongLine()

    @property
    def length_m(self) -> float:
        """Copper from the first end to the last. [m]"""
        return self.pixel_count * self.pitch_m

    @cached_property
    def unplaced(self) -> tuple[Hashable, ...]:
        """All of it but where it lies in the picture, which no current sees."""
        return tuple(value for field, value in self if field != "layout")
