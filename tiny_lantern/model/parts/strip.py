"""Addressable strip: its pixels' law of current, their light, its copper."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Money, PositiveOhms, Volts
from tiny_lantern.model.parts.light import ChannelName, Primary
from tiny_lantern.model.parts.part import BillLine, Part, Use


class CcChannel(Frozen):
    """A constant-current channel: nothing below ``v_off_v``, its full current from ``v_full_v`` on."""

    name: ChannelName
    full_current_a: Annotated[float, Field(gt=0, le=10)]
    v_off_v: Volts
    v_full_v: Volts
    light: Primary

    @model_validator(mode="after")
    def _knee_has_a_width(self) -> CcChannel:
        if self.v_full_v <= self.v_off_v:
            raise ValueError(f"v_full_v {self.v_full_v:g} must be above v_off_v {self.v_off_v:g}")
        return self


class CcPixel(Frozen):
    """A pixel whose chip holds each channel's current while the supply voltage allows."""

    law: Literal["cc"] = "cc"
    quiescent_a: Annotated[float, Field(ge=0, le=1)]
    channels: Annotated[tuple[CcChannel, ...], Field(min_length=1, max_length=4)]


class RlChannel(Frozen):
    """A channel of LEDs in series behind one resistor."""

    name: ChannelName
    led_count: Annotated[int, Field(ge=1, le=100)]
    forward_v: Annotated[float, Field(gt=0, le=10)]
    resistor_ohm: PositiveOhms
    light: Primary


class RlPixel(Frozen):
    """A segment of series LEDs with resistors, switched as one pixel."""

    law: Literal["rl"] = "rl"
    quiescent_a: Annotated[float, Field(ge=0, le=1)] = 0.0
    channels: Annotated[tuple[RlChannel, ...], Field(min_length=1, max_length=4)]


Pixel = Annotated[CcPixel | RlPixel, Field(discriminator="law")]


class StripPart(Part):
    """A kind of addressable strip."""

    kind: Literal["strip"] = "strip"
    nominal_v: Annotated[float, Field(gt=0, le=60)]
    pitch_m: Annotated[float, Field(ge=1e-4, le=10)]
    rail_pos_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    rail_neg_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    rail_limit_a: Annotated[float, Field(gt=0, le=1000)]
    return_limit_a: Annotated[float, Field(gt=0, le=1000)] | None = None
    v_logic_min_v: Volts
    colour_order: Annotated[str, Field(pattern=r"^[RGBW]{1,4}$")]
    pixel: Pixel
    cost_per_m: Money = 0.0

    def bill(self, used: Use) -> BillLine:
        """A line of the shopping list, by the metre."""
        return BillLine(round(used.length_m, 2), "m", self.name, used.length_m * self.cost_per_m, self.id)

    @model_validator(mode="after")
    def _order_names_each_channel_once(self) -> StripPart:
        check_colour_order(self.colour_order, self)
        return self


def channel_letters(part: StripPart) -> str:
    """The channels of a strip in the order in which the part lists them, as letters, e.g. ``RGBW``."""
    return "".join(channel.name[0].upper() for channel in part.pixel.channels)


def check_colour_order(order: str, part: StripPart) -> None:
    """Refuse an order on the wire that does not name each channel of the part exactly once."""
    letters = channel_letters(part)
    if sorted(order) != sorted(letters):
        raise ValueError(f"colour order “{order}” must use each of {letters} once")


def nominal_currents_a(part: StripPart) -> tuple[float, ...]:
    """Current of each channel at full duty and the nominal voltage. [A]"""
    if isinstance(part.pixel, CcPixel):
        return tuple(channel.full_current_a for channel in part.pixel.channels)
    return tuple(
        max(0.0, (part.nominal_v - channel.led_count * channel.forward_v) / channel.resistor_ohm)
        for channel in part.pixel.channels
    )
