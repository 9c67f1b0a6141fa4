"""How lamps sit in what they light: the hole, the wall, the room behind, and what covers them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen

Size = Annotated[float, Field(gt=0, le=10)]
Cover = Literal["none", "clear", "frosted"]


class Mount(Frozen):
    """The hole that a lamp sits in and the thickness of the wall, a spacer between, the depth behind the wall, the
    cover, and the angle of its beam. What is None is not known or not there."""

    hole_m: Size | None = None
    wall_m: Size | None = None
    spacer_m: Annotated[float, Field(ge=0, le=1)] = 0.0
    depth_m: Size | None = None
    cover: Cover = "none"
    beam_deg: Annotated[float, Field(ge=5, le=180)] = 120.0
