"""What every way to drive is given and answers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Channel, Driver
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import Die, LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece

Floats = NDArray[np.float64]
NO_LIMIT = float("inf")
LIMITED_INSIDE = ("itself", "module", "chip")
SIDE_BY_SIDE = ("parallel", "branches")


@dataclass(frozen=True)
class DrivenLamp:
    """The lamps of a channel: their piece and part, the LED of one branch, and how many branches lie side by side.
    ``led`` is None for what draws ``load_a`` by itself: a load, or lamps that limit their own current.
    ``own_resistors`` is how many resistors there are: one of each branch, or one for all."""

    piece: Piece
    part: Part
    led: Led | None
    die: Die | None
    branches: int = 1
    in_series: int = 1
    load_a: float = 0.0
    own_resistors: int = 1

    @property
    def most_a(self) -> float:
        """What the lamp bears for long. [A]"""
        return self.part.most_a * self.branches if isinstance(self.part, LampPart) else NO_LIMIT

    @property
    def as_one(self) -> Led | None:
        """The LEDs of all branches as one that carries the channel's current, behind the resistor that they share."""
        return self.led.side_by_side(self.branches) if self.led is not None else None

    @property
    def needs_resistor(self) -> bool:
        """Whether nothing but a resistor limits its current, as far as anybody knows."""
        return isinstance(self.part, LampPart) and self.part.limited_by not in LIMITED_INSIDE

    def shared_ohm(self, resistor_ohm: float | None) -> float:
        """A channel's resistor as one that carries all of its current: those of branches side by side are one of so
        many times less. [ohm]

        Args:
            resistor_ohm: each of them; None where there is none. [ohm]
        """
        return (resistor_ohm or 0.0) / self.own_resistors

    def intensity_cd(self, current_a: float) -> float:
        """Light of all its LEDs at a current through them. [cd]

        Args:
            current_a: the current of the channel. [A]
        """
        if self.die is None:
            return self.part.light.intensity_cd if isinstance(self.part, LoadPart) and current_a > 0 else 0.0
        return self.die.light.intensity_cd * self.in_series * current_a / self.die.test_a

    def straight(self, supply_v: float, ohm: float = 0.0) -> Led:
        """Its straight line; of what draws a current by itself that of a resistor that draws it there, or a short where
        what lies before it lets less through.

        Args:
            supply_v: the voltage of what it hangs on. [V]
            ohm: what lies between. [ohm]
        """
        if self.as_one is not None:
            return self.as_one
        left_v = max(0.0, supply_v - self.load_a * ohm)
        return Led(left_v, self.load_a, left_v / self.load_a)

    @property
    def nominal_v(self) -> float:
        """The voltage that it is made for. [V]"""
        if isinstance(self.part, LoadPart):
            return self.part.nominal_v
        return self.die.forward_v * self.in_series if self.die is not None else 0.0


@dataclass(frozen=True)
class Case:
    """What a driver is solved from: itself, its board, its channels with their lamps, and the duties that they have,
    (n_channels,)."""

    build: Build
    driver: Driver
    board: Board
    board_part: BoardPart
    channels: tuple[Channel, ...]
    lamps: tuple[DrivenLamp, ...]
    duties: Floats


@dataclass(frozen=True)
class Block:
    """One bracket: a chip, a transistor, a pin group. It holds the channels from ``first`` to before ``stop`` (by their
    place in the driver) and shows a value against a limit."""

    name: str
    first: int
    stop: int
    value: float
    limit: float
    unit: str
    words: str = ""

    @property
    def share(self) -> float:
        """The value as a share of the limit. [-]"""
        return self.value / self.limit if 0 < self.limit < NO_LIMIT else 0.0

    @property
    def over(self) -> bool:
        """Whether it is beyond the limit."""
        return self.value > self.limit * (1 + 1e-9)


@dataclass(frozen=True)
class ChannelResult:
    """A driver, solved. Of each channel, (n_channels,): the current while it is lit, its average under the duties, what
    the output should carry and may carry at most, its voltage across the lamp, and the heat in its resistor. Of all
    together: what lamps draw from their supply with everything lit, and what board and chips draw from the logic's."""

    case: Case
    on_a: Floats
    average_a: Floats
    most_a: Floats
    absolute_a: Floats
    lamp_v: Floats
    resistor_w: Floats
    blocks: tuple[Block, ...]
    lamp_rail_v: float
    lamp_a: float
    logic_a: float
    pin_a: Floats = field(default_factory=lambda: np.zeros(0))

    @cached_property
    def intensity_cd(self) -> Floats:
        """Average light of each channel. (n_channels,) [cd]"""
        lamps = zip(self.case.lamps, self.average_a, strict=True)
        return np.array([lamp.intensity_cd(float(amps)) for lamp, amps in lamps])

    @cached_property
    def looks(self) -> Floats:
        """Average current as a share of what was wanted. (n_channels,) [-]"""
        wanted = np.array([channel.wanted_a for channel in self.case.channels])
        return np.asarray(self.average_a / wanted)


@dataclass(frozen=True)
class Source:
    """What a lamp's resistor lies behind: a voltage and a resistance. [V] [ohm]"""

    voltage_v: float
    output_ohm: float


Solve = Callable[[Case], ChannelResult]


def lamp_of(build: Build, channel: Channel) -> DrivenLamp:
    """The lamps of a channel."""
    piece = build.line.piece(channel.slots[0].piece_id)
    part = build.shelf.find(Part, piece.part_id)
    if isinstance(part, LoadPart):
        return DrivenLamp(piece, part, None, None, load_a=part.power_w / part.nominal_v)
    assert isinstance(part, LampPart)
    die = next((die for die in part.dies if die.name == channel.die), part.dies[0])
    series = len(channel.slots) if isinstance(piece, LampGroup) and piece.wired == "series" else 1
    branches = len(channel.slots) if isinstance(piece, LampGroup) and piece.wired in SIDE_BY_SIDE else 1
    own = branches if isinstance(piece, LampGroup) and piece.wired == "branches" else 1
    if isinstance(piece, LampGroup) and part.limited_by in LIMITED_INSIDE:
        return DrivenLamp(piece, part, None, die, branches, series, die.test_a * branches, own)
    led = Led(die.forward_v, die.test_a, die.slope_ohm, series)
    return DrivenLamp(piece, part, led, die, branches, series, own_resistors=own)


def _known_lamp(build: Build, channel: Channel, known: dict[tuple[str, str | None, int], DrivenLamp]) -> DrivenLamp:
    """The lamps of a channel, worked out once for all alike."""
    key = (channel.slots[0].piece_id, channel.die, len(channel.slots))
    if key not in known:
        known[key] = lamp_of(build, channel)
    return known[key]


def resistors(case: Case) -> Floats:
    """What lies before each channel's lamps, 0 where no resistor does. (n_channels,) [ohm]"""
    pairs = zip(case.channels, case.lamps, strict=True)
    return np.array([lamp.shared_ohm(channel.resistor_ohm) for channel, lamp in pairs], float)


def case_of(build: Build, driver: Driver, channels: tuple[Channel, ...], duties: Floats | None = None) -> Case:
    """What a driver is solved from; without duties everything is lit as far as its trim lets it.

    Args:
        build: the build.
        driver: the driver.
        channels: its channels, in the order of its outputs.
        duties: of each channel, 0 to 1, (n_channels,). [-]
    """
    board = next(board for board in build.boards if board.id == driver.board_id)
    known: dict[tuple[str, str | None, int], DrivenLamp] = {}
    lamps = tuple(_known_lamp(build, channel, known) for channel in channels)
    full = 1.0 if driver.on_off else np.array([channel.trim for channel in channels])
    given = np.ones(len(channels)) * full if duties is None else duties
    return Case(build, driver, board, build.shelf.find(BoardPart, board.part_id), channels, lamps, given)
