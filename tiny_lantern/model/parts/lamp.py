"""Lamps other than strip: single LEDs, colour lamps, and those that change by themselves."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen, Money, Ohms, Volts
from tiny_lantern.model.parts.light import ChannelName, Primary
from tiny_lantern.model.parts.part import Part

Emitter = Literal["colour", "level", "on_off", "self_changing"]
Lead = Literal[
    "anode", "cathode", "common", "red", "green", "blue", "white", "amber", "data in", "data out", "plus", "minus"
]
LimitedBy = Literal["resistor", "itself", "module", "chip", "unknown"]


class Die(Frozen):
    """One LED in a lamp: its voltage at a test current, how that rises with current, and its light."""

    name: ChannelName
    forward_v: Volts
    test_a: Annotated[float, Field(gt=0, le=10)]
    slope_ohm: Ohms = 10.0
    spread_v: Volts = 0.2
    light: Primary


class LeadMap(Frozen):
    """Which lead is which: their order along the row, cup side up and seen from the front, the longest of them, and the
    one that carries the cup or the flat side. What is None is unknown, and is found on the bench."""

    order: Annotated[tuple[Lead, ...], Field(max_length=64)] = ()
    longest: Lead | None = None
    cup: Lead | None = None


class LampPart(Part):
    """A lamp with one to four dies. ``emitter`` says what it can show, ``limited_by`` what holds its current, ``body``
    what is bought: a lamp, a whole matrix, a bar or a figure. ``reverse_v`` is what a dark die
    bears the wrong way round; ``depth_m`` is what stands behind its front,
    with the bend of its leads. Without ``leads`` nobody knows yet which is which."""

    kind: Literal["lamp"] = "lamp"
    emitter: Emitter
    dies: Annotated[tuple[Die, ...], Field(min_length=1, max_length=4)]
    common: Literal["none", "anode", "cathode"] = "none"
    lead_count: Annotated[int, Field(ge=2, le=64)] = 2
    limited_by: LimitedBy = "resistor"
    most_a: Annotated[float, Field(gt=0, le=10)] = 0.02
    reverse_v: Annotated[float, Field(gt=0, le=1000)] = 5.0
    body: Literal["lamp", "matrix", "bar", "figure"] = "lamp"
    addressable: bool = False
    leads: LeadMap | None = None
    diameter_m: Annotated[float, Field(gt=0, le=1)] = 0.005
    depth_m: Annotated[float, Field(gt=0, le=1)] = 0.009
    cost: Money = 0.0
