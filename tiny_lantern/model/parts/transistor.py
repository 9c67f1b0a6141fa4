"""Transistors as switches."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Money, Ohms, Volts
from tiny_lantern.model.parts.part import Part

Point = tuple[Annotated[float, Field(ge=0, le=100)], Ohms]


class TransistorPart(Part):
    """A bipolar transistor, or one with a gate: low side (``mosfet``) or high side (``p_mosfet``). The resistance of
    the latter two is told at some gate voltages; ``threshold_v`` is the largest that a part may have."""

    kind: Literal["transistor"] = "transistor"
    sort: Literal["bjt", "mosfet", "p_mosfet"]
    vbe_v: Volts = 0.7
    vce_sat_v: Volts = 0.2
    forced_beta: Annotated[float, Field(ge=1, le=1000)] = 10.0
    base_limit_a: Annotated[float, Field(gt=0, le=10)] = 0.05
    rds_table: Annotated[tuple[Point, ...], Field(max_length=50)] = ()
    threshold_v: Volts = 2.0
    rise_s: Annotated[float, Field(ge=0, le=1)] = 0.0
    fall_s: Annotated[float, Field(ge=0, le=1)] = 0.0
    most_a: Annotated[float, Field(gt=0, le=1000)] = 0.5
    most_v: Annotated[float, Field(gt=0, le=1000)] = 30.0
    theta_k_per_w: Annotated[float, Field(gt=0, le=1000)] = 200.0
    limit_c: Annotated[float, Field(gt=0, le=300)] = 150.0
    cost: Money = 0.0

    @model_validator(mode="after")
    def _gate_is_told(self) -> TransistorPart:
        if self.sort != "bjt" and not self.rds_table:
            raise ValueError("its resistance at some gate voltage must be told")
        return self
