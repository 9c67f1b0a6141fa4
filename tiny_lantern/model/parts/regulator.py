"""Linear regulators."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, Volts
from tiny_lantern.model.parts.part import Part


class RegulatorPart(Part):
    """A linear regulator: what it can be set to, how far it may be off, its dropout and its heat."""

    kind: Literal["regulator"] = "regulator"
    least_v: Volts = 1.25
    most_v: Volts = 12.0
    tolerance: Annotated[float, Field(ge=0, le=0.2)] = 0.01
    dropout_v: Volts = 1.5
    most_a: Annotated[float, Field(gt=0, le=100)] = 1.0
    theta_k_per_w: Annotated[float, Field(gt=0, le=1000)] = 65.0
    limit_c: Annotated[float, Field(gt=0, le=300)] = 125.0
    cost: Money = 0.0
