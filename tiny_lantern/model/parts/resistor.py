"""Resistors."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, PositiveOhms
from tiny_lantern.model.parts.part import Part


class ResistorPart(Part):
    """A resistor by its value, tolerance and rating."""

    kind: Literal["resistor"] = "resistor"
    value_ohm: PositiveOhms
    tolerance: Annotated[float, Field(ge=0, le=0.5)] = 0.05
    rating_w: Annotated[float, Field(gt=0, le=100)] = 0.25
    cost: Money = 0.02
