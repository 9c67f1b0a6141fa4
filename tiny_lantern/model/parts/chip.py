"""Chips that drive lamps: latch registers, constant-current sinks, demultiplexers."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Money, Name, Ohms, Volts
from tiny_lantern.model.parts.part import Part

Limit = Annotated[float, Field(gt=0, le=100)]
EIGHT = 8


class ChipPart(Part):
    """A chip by its outputs and limits. ``most_v`` is the most that a register or a demultiplexer is fed, and that a
    sink's outputs bear. ``k_v`` over the setting resistor is a sink's current. ``legs`` are named from
    the notch, counter-clockwise, as they stand on the chip."""

    kind: Literal["chip"] = "chip"
    role: Literal["register", "sink", "demux"]
    outputs: Annotated[int, Field(ge=1, le=64)] = 8
    out_ohm: Ohms = 35.0
    output_limit_a: Limit = 0.02
    output_absolute_a: Limit = 0.035
    chip_limit_a: Limit | None = None
    k_v: Annotated[float, Field(ge=0, le=1000)] = 18.0
    vcc_v: Volts = 5.0
    most_v: Annotated[float, Field(gt=0, le=100)] = 6.0
    icc_a: Annotated[float, Field(ge=0, le=1)] = 0.0
    theta_k_per_w: Annotated[float, Field(gt=0, le=1000)] = 80.0
    limit_c: Annotated[float, Field(gt=0, le=300)] = 125.0
    legs: Annotated[tuple[Name, ...], Field(max_length=100)] = ()
    cost: Money = 0.0

    @model_validator(mode="after")
    def _register_of_eight(self) -> ChipPart:
        if self.role == "register" and self.outputs != EIGHT:
            raise ValueError(f"a latch register has {EIGHT} outputs; longer ones are chains of them")
        return self
