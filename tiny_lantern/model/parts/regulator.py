"""Regulators: linear ones, step-downs and step-ups."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, Volts
from tiny_lantern.model.parts.part import Part


class RegulatorPart(Part):
    """A regulator: what it can be set to, how far it may be off, what it needs above that (``dropout_v``: a
    linear one's dropout, a step-down's headroom), what it draws itself, and its heat. One that switches has an
    efficiency, ripples, may give ``peak_a`` for moments, and a step-up runs from ``least_in_v`` on."""

    kind: Literal["regulator"] = "regulator"
    sort: Literal["linear", "step_down", "step_up"] = "linear"
    least_v: Volts = 1.25
    most_v: Volts = 12.0
    tolerance: Annotated[float, Field(ge=0, le=0.2)] = 0.01
    dropout_v: Volts = 1.5
    most_a: Annotated[float, Field(gt=0, le=100)] = 1.0
    peak_a: Annotated[float, Field(gt=0, le=100)] | None = None
    efficiency: Annotated[float, Field(gt=0, le=1)] = 1.0
    idle_a: Annotated[float, Field(ge=0, le=10)] = 0.0
    least_in_v: Volts = 0.0
    ripple_v: Volts = 0.0
    theta_k_per_w: Annotated[float, Field(gt=0, le=1000)] = 65.0
    limit_c: Annotated[float, Field(gt=0, le=300)] = 125.0
    cost: Money = 0.0
