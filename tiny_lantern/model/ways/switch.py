"""A transistor for each lamp."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import ClassVar, Literal

from tiny_lantern.model.base import Ohms, PositiveOhms
from tiny_lantern.model.drive import Channel, Dimmed, Fed, LedVolts, PinNeed, Rate, Steered, TransistorId
from tiny_lantern.model.emitters import plain_lamps
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece


class Switch(Steered, Dimmed, Fed):
    """A transistor for each lamp, low side or high side by its part, on a lamp supply. ``base_ohm`` is the base or gate
    resistor, None where it is missing; ``pull_ohm`` keeps it off while the board boots."""

    kind: Literal["switch"] = "switch"
    word: ClassVar[str] = "a transistor each"
    at: ClassVar[str] = "behind a transistor"
    wins: ClassVar[str] = "more current or more volts than a pin gives"
    rank: ClassVar[int] = 30
    transistor_id: TransistorId
    led_v: LedVolts = 12.0
    base_ohm: Ohms | None = None
    pull_ohm: PositiveOhms | None = None
    dims: bool = True
    dim_hz: Rate = 1000.0
    has_driver: bool = False

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Plain lamps, and loads that are not on the mains.

        Args:
            piece: the piece.
            part: its part.
        """
        return plain_lamps(piece, part) or (isinstance(part, LoadPart) and not part.mains)

    @property
    def on_off(self) -> bool:
        """Whether it only switches, as it does behind registers."""
        return not self.dims or self.inputs_on is not None

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """A pin for each output, which dims where the lamps are to.

        Args:
            channels: its channels.
        """
        yield from (replace(need, dims=self.dims) for need in super().needs(channels))

    def takes(self, field: str, channels: Sequence[Channel]) -> int:
        """How many of a part: a transistor a channel. [-]

        Args:
            field: the field that names it.
            channels: its channels.
        """
        return len(channels) if field == "transistor_id" else super().takes(field, channels)
