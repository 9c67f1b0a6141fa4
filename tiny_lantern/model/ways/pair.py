"""Two pins for a lamp of two opposite dies."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import ClassVar, Literal

from tiny_lantern.model.drive import Channel, Driver, PinNeed, Rate
from tiny_lantern.model.emitters import two_dies_alone
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece


class ReversingPair(Driver):
    """Two pins a lamp of two opposite dies; the lamp mixes when they change places fast."""

    kind: Literal["pair"] = "pair"
    word: ClassVar[str] = "two pins a lamp"
    at: ClassVar[str] = "on a pin"
    wins: ClassVar[str] = "lamps of two opposite dies on two leads"
    rank: ClassVar[int] = 90
    alternate_hz: Rate = 250.0

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Lamps of two opposite dies on two leads.

        Args:
            piece: the piece.
            part: its part.
        """
        return two_dies_alone(part)

    def behind_one_resistor(self, output: int) -> tuple[int, ...]:
        """Both dies of a lamp. [-]

        Args:
            output: the output of one of them. [-]
        """
        first = output - output % 2
        return first, first + 1

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """Two pins for each lamp.

        Args:
            channels: its channels, two a lamp.
        """
        for lamp in sorted({channel.output // 2 for channel in channels}):
            yield PinNeed(self.id, f"lamp {lamp} end 0")
            yield PinNeed(self.id, f"lamp {lamp} end 1")
