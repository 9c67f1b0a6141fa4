"""Generic parts: what can be bought, described by its parameters. A build keeps a copy of each it uses."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Id, Money, Name, Ohms, PositiveOhms, Volts

LimitKind = Literal["shuts_down", "holds", "none"]
USUAL_LIMIT = 1.3
MOST_PARTS = 2000
ChannelName = Literal["red", "green", "blue", "white"]


class Primary(Frozen):
    """The light of one channel at its nominal current: CIE 1931 chromaticity and luminous intensity."""

    x: Annotated[float, Field(gt=0, lt=1)]
    y: Annotated[float, Field(gt=0, lt=1)]
    intensity_cd: Annotated[float, Field(gt=0, le=1e5)]


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


class StripPart(Frozen):
    """A kind of addressable strip."""

    id: Id
    name: Name
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

    @model_validator(mode="after")
    def _order_names_each_channel_once(self) -> StripPart:
        check_colour_order(self.colour_order, self)
        return self


class SupplyPart(Frozen):
    """A source of direct current: open voltage behind an output resistance.

    ``tolerance`` is how far its set-point may be off, as a share. ``limit_kind`` says what it does past ``limit_a``:
    shut down (or hiccup), hold its current, or nothing; None takes what is usual for its kind.
    """

    id: Id
    name: Name
    kind: Literal["mains", "battery", "bench"]
    nominal_v: Annotated[float, Field(gt=0, le=60)]
    rated_a: Annotated[float, Field(gt=0, le=1000)]
    output_ohm: Ohms
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.85
    sinks_current: bool = False
    tolerance: Annotated[float, Field(ge=0, le=0.2)] = 0.01
    limit_kind: LimitKind | None = None
    limit_a: Annotated[float, Field(gt=0, le=10_000)] | None = None
    cost: Money = 0.0

    @property
    def fault_kind(self) -> LimitKind:
        """What it does past its limit: its own, else a mains unit shuts down, a bench unit holds, a cell does
        nothing."""
        usual: dict[str, LimitKind] = {"mains": "shuts_down", "bench": "holds", "battery": "none"}
        return self.limit_kind or usual[self.kind]

    @property
    def fault_a(self) -> float:
        """The current at which it does so: its own, else 1.3 times its rating; without end where nothing limits it.
        [A]"""
        return float("inf") if self.fault_kind == "none" else self.limit_a or USUAL_LIMIT * self.rated_a


class FusePart(Frozen):
    """A fuse by rating, with its cold resistance."""

    id: Id
    name: Name
    rating_a: Annotated[float, Field(gt=0, le=1000)]
    cold_ohm: Ohms
    cost: Money = 0.0


class ConnectorPart(Frozen):
    """A connection in one conductor: contact resistance and the current it may carry."""

    id: Id
    name: Name
    contact_ohm: Ohms
    limit_a: Annotated[float, Field(gt=0, le=1000)]
    cost: Money = 0.0


class WirePart(Frozen):
    """A wire by size; ``limit_a`` is conservative (bundled, 30 K rise) and not a code's ruling."""

    id: Id
    name: Name
    area_mm2: Annotated[float, Field(gt=0, le=1000)]
    ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)]
    limit_a: Annotated[float, Field(gt=0, le=1000)]
    cost_per_m: Money = 0.0


class PartShelf(Frozen):
    """Parts by kind; ids are unique across all kinds."""

    strips: Annotated[tuple[StripPart, ...], Field(max_length=MOST_PARTS)] = ()
    supplies: Annotated[tuple[SupplyPart, ...], Field(max_length=MOST_PARTS)] = ()
    fuses: Annotated[tuple[FusePart, ...], Field(max_length=MOST_PARTS)] = ()
    connectors: Annotated[tuple[ConnectorPart, ...], Field(max_length=MOST_PARTS)] = ()
    wires: Annotated[tuple[WirePart, ...], Field(max_length=MOST_PARTS)] = ()


Part = StripPart | SupplyPart | FusePart | ConnectorPart | WirePart


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
