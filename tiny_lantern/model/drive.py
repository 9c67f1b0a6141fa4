"""How lamps are driven: boards, ways to drive, and the channel of each lamp."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen, Id, Name, Ohms, PositiveOhms, Volts, revise
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.parts.board import PinName
from tiny_lantern.model.parts.light import ChannelName
from tiny_lantern.model.refers import Refers

BoardId = Annotated[Id, Refers("boards")]
DriverId = Annotated[Id, Refers("drivers")]
ChipId = Annotated[Id, Refers("parts.chip")]
TransistorId = Annotated[Id, Refers("parts.transistor")]
LedVolts = Annotated[float, Field(gt=0, le=60)]
Rate = Annotated[float, Field(gt=0, le=1e8)]
SINK_BITS = 8


class Reserved(Frozen):
    """A pin kept for something else, and the timer that it takes with it."""

    pin: PinName
    what: Name
    timer: str = ""


class Board(Frozen):
    """One board: what it is, what feeds it (a supply, or a rail in its place), how warm it is around it, and pins kept
    for other things."""

    id: Id
    name: Name
    part_id: Annotated[Id, Refers("parts.board")]
    supply_id: Annotated[Id, Refers("supplies")] | None = None
    rail_id: Annotated[Id, Refers("rails")] | None = None
    ambient_c: Annotated[float, Field(ge=-40, le=120)] = 25.0
    reserved: Annotated[tuple[Reserved, ...], Field(max_length=100)] = ()

    def without(self, ids: Collection[str]) -> Board:
        """The board when what feeds it is gone."""
        gone = {field: None for field in ("supply_id", "rail_id") if getattr(self, field) in ids}
        return revise(self, **gone) if gone else self


class DriverPin(Frozen):
    """A pin that a driver uses for one of its roles; a pinned one stays when pins are assigned again."""

    role: Name
    pin: PinName
    pinned: bool = False


class Driver(Frozen):
    """What every way to drive has: a name, its board, and its pins."""

    kind: str
    id: Id
    name: Name
    board_id: BoardId
    pins: Annotated[tuple[DriverPin, ...], Field(max_length=200)] = ()


class PinDirect(Driver):
    """Each lamp on a pin of the board, on or off; ``sink`` when the lamp lies between the supply and the pin."""

    kind: Literal["pin"] = "pin"
    sink: bool = False


class Dimmed(Driver):
    """A way that can dim. With a ``knob``, a reading sets its level; ``rest_off`` when the counts at rest are taken off
    the reading, ``levels_in`` the kind of whole number that the levels are worked out in."""

    knob: bool = False
    rest_off: bool = False
    levels_in: Literal["32 bits", "int"] = "32 bits"


class PwmPin(Dimmed):
    """Each lamp on a pin that dims."""

    kind: Literal["pwm"] = "pwm"
    sink: bool = False


class Switch(Dimmed):
    """A transistor for each lamp, low side or high side by its part, on a lamp supply. ``base_ohm`` is the base or gate
    resistor, None where it is missing; ``pull_ohm`` keeps it off while the board boots."""

    kind: Literal["switch"] = "switch"
    transistor_id: TransistorId
    led_v: LedVolts = 12.0
    base_ohm: Ohms | None = None
    pull_ohm: PositiveOhms | None = None
    dims: bool = True
    dim_hz: Rate = 1000.0
    has_driver: bool = False


class _Chain(Dimmed):
    """Chips in a chain on the board's data, clock and latch; both control legs must be wired somewhere. With ``bus_of``
    it shares data and clock with another chain and has a latch of its own, by a pin or behind a multiplexer."""

    chip_id: ChipId
    chips: Annotated[int, Field(ge=1, le=64)] = 1
    msb_first: bool = True
    shift_hz: Rate = 1e6
    latch_s: Annotated[float, Field(ge=0, le=1)] = 1e-6
    levels_bits: Annotated[int, Field(ge=1, le=16)] = 1
    enable_wired: bool = True
    clear_wired: bool = True
    bus_of: DriverId | None = None
    select_by: Literal["pin", "multiplexer"] = "pin"

    def without(self, ids: Collection[str]) -> _Chain | None:
        """The chain on lines of its own when the one whose lines it shares is gone."""
        if self.board_id in ids or self.chip_id in ids:
            return None
        return revise(self, bus_of=None)


class RegisterChain(_Chain):
    """Latch registers, a lamp behind a resistor on each output; ``sink`` when lamps lie between supply and output."""

    kind: Literal["register"] = "register"
    led_v: LedVolts = 5.0
    sink: bool = False


class SinkChain(_Chain):
    """Constant-current sinks: the setting resistor gives the current of every output."""

    kind: Literal["sink"] = "sink"
    rext_ohm: Annotated[float, Field(gt=0, le=1e6)] = 1000.0
    led_v: LedVolts = 5.0
    common_ohm: Ohms = 0.0


class Scanned(_Chain):
    """A matrix scanned row by row: ``rows_by`` says what carries a row, the chain's chips drive the columns, and the
    rows where registers carry them. A counter starts anywhere unless its reset is wired to a pin."""

    kind: Literal["scanned"] = "scanned"
    rows: Annotated[int, Field(ge=1, le=64)] = 8
    columns: Annotated[int, Field(ge=1, le=64)] = 8
    rows_by: Literal["register", "transistor", "counter"] = "register"
    reset_wired: bool = False
    row_transistor_id: TransistorId | None = None
    row_limit_a: Annotated[float, Field(gt=0, le=100)] = 0.035
    row_ohm: Ohms = 35.0
    led_v: LedVolts = 5.0
    column_ohm: PositiveOhms = 100.0
    row_rate_hz: Rate = 4000.0
    blank_s: Annotated[float, Field(ge=0, le=1)] = 0.0
    led_pulse_a: Annotated[float, Field(gt=0, le=10)] = 0.1


class Demux(Driver):
    """A demultiplexer: one lamp lit at a time."""

    kind: Literal["demux"] = "demux"
    chip_id: ChipId
    led_v: LedVolts = 5.0
    dwell_s: Annotated[float, Field(gt=0, le=1)] = 1e-3


class RelayBoard(Driver):
    """Relays, each switching one load on a circuit of its own. ``set_before_boot``: inputs are held off until the
    programme runs."""

    kind: Literal["relay"] = "relay"
    relay_id: Annotated[Id, Refers("parts.relay")]
    shows_per_night: Annotated[float, Field(ge=0, le=1e5)] = 10.0
    set_before_boot: bool = False


class ReversingPair(Driver):
    """Two pins a lamp of two opposite dies; the lamp mixes when they change places fast."""

    kind: Literal["pair"] = "pair"
    alternate_hz: Rate = 250.0


class HoldRail(Driver):
    """Self-changing lamps on a rail with three states: full, hold, off, from two switches."""

    kind: Literal["hold"] = "hold"
    regulator_id: Annotated[Id, Refers("parts.regulator")]
    transistor_id: TransistorId
    out_v: LedVolts = 1.55
    in_v: LedVolts = 5.0
    full_v: LedVolts = 3.3
    diode_v: Volts = 0.0
    lead_ohm: Ohms = 0.1
    segment_ohm: Ohms = 0.02
    hold_lamp_a: Annotated[float, Field(gt=0, le=1)] = 0.0005
    full_lamp_a: Annotated[float, Field(gt=0, le=1)] = 0.02
    hold_v: Volts = 1.5
    hold_spread_v: Volts = 0.0
    dark_v: Volts = 1.7
    dark_spread_v: Volts = 0.1
    pulse_hz: Rate = 400.0


DRIVER_TYPES: tuple[type[Driver], ...] = (
    PinDirect, PwmPin, Switch, RegisterChain, SinkChain, Scanned, Demux, RelayBoard, ReversingPair, HoldRail,
)  # fmt: skip
AnyDriver = Annotated[
    PinDirect | PwmPin | Switch | RegisterChain | SinkChain | Scanned | Demux | RelayBoard | ReversingPair | HoldRail,
    Field(discriminator="kind"),
]


def on_off(driver: Driver) -> bool:
    """Whether a way to drive knows on and off only."""
    if isinstance(driver, RegisterChain | Scanned):
        return driver.levels_bits == 1
    if isinstance(driver, Switch):
        return not driver.dims
    return isinstance(driver, PinDirect | Demux | RelayBoard | ReversingPair | HoldRail)


def steps_bits(driver: Driver, pwm_bits: int) -> int:
    """How many bits a way that dims dims with.

    Args:
        driver: the way to drive.
        pwm_bits: those of its board's pins. [-]
    """
    if isinstance(driver, RegisterChain | Scanned):
        return driver.levels_bits
    return SINK_BITS if isinstance(driver, SinkChain) else pwm_bits


class Channel(Frozen):
    """One output of a driver and the lamps on it: one light, or all of a series string or a parallel group. ``die`` is
    which colour of the lamp, None for all of it. ``resistor_ohm`` is None where there is none; ``wanted_a`` is what was
    asked of it; ``trim`` is the duty that full means, less than 1 where it is matched to weaker lamps by duty."""

    id: Id
    driver_id: DriverId
    output: Annotated[int, Field(ge=0, le=5000)]
    slots: Annotated[tuple[SlotRef, ...], Field(min_length=1, max_length=5000)]
    die: ChannelName | None = None
    resistor_ohm: Ohms | None = None
    wanted_a: Annotated[float, Field(gt=0, le=10)] = 0.01
    trim: Annotated[float, Field(gt=0, le=1)] = 1.0

    def without(self, ids: Collection[str]) -> Channel | None:
        """The channel without the lamps of pieces that go; None when none is left, or its driver goes."""
        left = tuple(ref for ref in self.slots if ref.piece_id not in ids)
        return revise(self, slots=left) if left and self.driver_id not in ids else None
