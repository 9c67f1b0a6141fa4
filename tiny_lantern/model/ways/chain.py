"""Chips in a chain: what registers, sinks and scanned rows have in common."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from tiny_lantern.model.base import revise
from tiny_lantern.model.drive import Channel, ChipId, Dimmed, DriverId, PinNeed, Rate
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Shelf


class Chain(Dimmed):
    """Chips in a chain on the board's data, clock and latch; both control legs must be wired somewhere. With ``bus_of``
    it shares data and clock with another chain and has a latch of its own, by a pin or behind a multiplexer."""

    spares: ClassVar[tuple[str, ...]] = ("drivers",)
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

    def without(self, ids: Collection[str]) -> Self | None:
        """The chain on lines of its own when the one whose lines it shares is gone."""
        left = super().without(ids)
        return revise(left, bus_of=None) if left is not None and left.bus_of in ids else left

    @property
    def on_off(self) -> bool:
        """Whether it only switches, having one bit for each output."""
        return self.levels_bits == 1

    def steps_bits(self, pwm_bits: int) -> int:
        """How many bits it dims with, whatever its board's pins have.

        Args:
            pwm_bits: those of its board's pins. [-]
        """
        return self.levels_bits

    def output_count(self, shelf: Shelf) -> int | None:
        """How many outputs its chips have.

        Args:
            shelf: the parts of its build.
        """
        return self.chips * shelf.find(ChipPart, self.chip_id).outputs

    def chips_for(self, used: int, shelf: Shelf) -> int:
        """How many chips its lamps take.

        Args:
            used: how many outputs they use. [-]
            shelf: the parts of its build.
        """
        return max(1, -(-used // shelf.find(ChipPart, self.chip_id).outputs))

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """Data and clock, unless it shares them, and a latch, unless a multiplexer selects it.

        Args:
            channels: its channels.
        """
        if self.bus_of is None:
            yield PinNeed(self.id, "data")
            yield PinNeed(self.id, "clock")
        if self.bus_of is None or self.select_by == "pin":
            yield PinNeed(self.id, "latch")

    def takes(self, field: str, channels: Sequence[Channel]) -> int:
        """How many of a part: its chips. [-]

        Args:
            field: the field that names it.
            channels: its channels.
        """
        return self.chips if field == "chip_id" else super().takes(field, channels)
