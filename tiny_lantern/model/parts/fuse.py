"""Fuses."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, Ohms
from tiny_lantern.model.parts.part import Part


class FusePart(Part):
    """A fuse by rating, with its cold resistance."""

    kind: Literal["fuse"] = "fuse"
    rating_a: Annotated[float, Field(gt=0, le=1000)]
    cold_ohm: Ohms
    cost: Money = 0.0
