"""Relay boards."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, PositiveOhms, Volts
from tiny_lantern.model.parts.part import Part


class RelayPart(Part):
    """A board of relays: its coils and drivers, what its contacts bear, and how often; ``active_low`` inputs are on
    when low, so also while the board boots unless they are set high first."""

    kind: Literal["relay"] = "relay"
    channels: Annotated[int, Field(ge=1, le=64)] = 1
    coil_v: Annotated[float, Field(gt=0, le=60)] = 5.0
    coil_ohm: PositiveOhms = 70.0
    driver_drop_v: Volts = 0.2
    must_operate_v: Volts = 3.75
    active_low: bool = True
    contact_a: Annotated[float, Field(gt=0, le=100)] = 10.0
    contact_v: Annotated[float, Field(gt=0, le=1000)] = 250.0
    rated_operations: Annotated[float, Field(ge=1, le=1e9)] = 1e5
    light_operations: Annotated[float, Field(ge=1, le=1e9)] = 1e7
    has_diode: bool = True
    cost: Money = 0.0
