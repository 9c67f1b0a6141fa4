"""How the lights of a piece lie in the picture."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Coordinate, Degrees, Frozen


class AlongLine(Frozen):
    """Laid straight from a point in a direction; angles turn counter-clockwise from east."""

    shape: Literal["line"] = "line"
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    angle_deg: Degrees = 0.0


class AlongArc(Frozen):
    """Laid along an arc of ``radius_m``; it bends to the left, or to the right when ``rightward``."""

    shape: Literal["arc"] = "arc"
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    angle_deg: Degrees = 0.0
    radius_m: Annotated[float, Field(ge=0.001, le=10_000)] = 1.0
    rightward: bool = False


class AroundRing(Frozen):
    """Closed on itself about a centre; the strip's own length makes the circumference."""

    shape: Literal["ring"] = "ring"
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    start_deg: Degrees = 90.0


class AlongPath(Frozen):
    """Laid along corners of real length; past the last corner it goes straight on."""

    shape: Literal["path"] = "path"
    points_m: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=2, max_length=1000)]

    @model_validator(mode="after")
    def _corners_differ(self) -> AlongPath:
        if any(a == b for a, b in zip(self.points_m, self.points_m[1:], strict=False)):
            raise ValueError("two corners in a row are the same point")
        return self


class AtSpots(Frozen):
    """Each lamp at a point of its own, in wiring order."""

    shape: Literal["spots"] = "spots"
    points_m: Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=1, max_length=5000)]


class AsGrid(Frozen):
    """Rows and columns from the first row's left end, the rows downward; turned about that point."""

    shape: Literal["grid"] = "grid"
    x_m: Coordinate = 0.0
    y_m: Coordinate = 0.0
    angle_deg: Degrees = 0.0


Layout = Annotated[AlongLine | AlongArc | AroundRing | AlongPath, Field(discriminator="shape")]
AnyLayout = AlongLine | AlongArc | AroundRing | AlongPath | AtSpots | AsGrid
LampLayout = Annotated[AlongLine | AlongArc | AroundRing | AlongPath | AtSpots, Field(discriminator="shape")]
