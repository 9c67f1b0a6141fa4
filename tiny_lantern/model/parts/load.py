"""Loads that are only switched: a string behind a relay, a floodlight."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money
from tiny_lantern.model.parts.light import Primary
from tiny_lantern.model.parts.part import Part


class LoadPart(Part):
    """Something that is on or off as a whole; ``mains`` means that only a licensed person may wire it."""

    kind: Literal["load"] = "load"
    nominal_v: Annotated[float, Field(gt=0, le=400)]
    power_w: Annotated[float, Field(gt=0, le=10_000)]
    mains: bool = False
    inrush: Annotated[float, Field(ge=1, le=50)] = 1.0
    light: Primary
    cost: Money = 0.0
