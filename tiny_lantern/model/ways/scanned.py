"""A matrix scanned row by row."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Ohms, PositiveOhms
from tiny_lantern.model.drive import Channel, Fed, PinNeed, Rate, TransistorId
from tiny_lantern.model.emitters import are_leds
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.ways.chain import Chain


class Scanned(Chain, Fed):
    """A matrix scanned row by row: ``rows_by`` says what carries a row, the chain's chips drive the columns, and the
    rows where registers carry them. A counter starts anywhere unless its reset is wired to a pin; wired to its own
    ``output`` after the last row, it comes round by itself from wherever it started."""

    kind: Literal["scanned"] = "scanned"
    word: ClassVar[str] = "scanned rows"
    at: ClassVar[str] = "in a matrix"
    wins: ClassVar[str] = "a matrix: few lines for many lamps, each lit part of the time"
    rank: ClassVar[int] = 60
    rows: Annotated[int, Field(ge=1, le=64)] = 8
    columns: Annotated[int, Field(ge=1, le=64)] = 8
    rows_by: Literal["register", "transistor", "counter"] = "register"
    reset_wired: bool = False
    reset_by: Literal["pin", "output"] = "pin"
    row_transistor_id: TransistorId | None = None
    row_limit_a: Annotated[float, Field(gt=0, le=100)] = 0.035
    row_ohm: Ohms = 35.0
    column_ohm: PositiveOhms = 100.0
    row_rate_hz: Rate = 4000.0
    blank_s: Annotated[float, Field(ge=0, le=1)] = 0.0
    led_pulse_a: Annotated[float, Field(gt=0, le=10)] = 0.1

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """All lamps that are not driven by a data line.

        Args:
            piece: the piece.
            part: its part.
        """
        return are_leds(piece, part)

    def output_count(self, shelf: Shelf) -> int | None:
        """How many crossings its rows and columns have.

        Args:
            shelf: the parts of its build.
        """
        return self.rows * self.columns

    def chips_for(self, used: int, shelf: Shelf) -> int:
        """How many chips its columns take, and its rows unless a counter steps them.

        Args:
            used: how many outputs its lamps use. [-]
            shelf: the parts of its build.
        """
        each = shelf.find(ChipPart, self.chip_id).outputs
        return -(-self.columns // each) + (0 if self.rows_by == "counter" else -(-self.rows // each))

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """The lines of its chain, and those of the counter that steps its rows.

        Args:
            channels: its channels.
        """
        yield from super().needs(channels)
        if self.rows_by == "counter":
            yield PinNeed(self.id, "step")
            if self.starts_known:
                yield PinNeed(self.id, "reset")

    @property
    def starts_known(self) -> bool:
        """Whether a pin sets its counter to the first row."""
        return self.reset_wired and self.reset_by == "pin"

    def takes(self, field: str, channels: Sequence[Channel]) -> int:
        """How many of a part: a transistor a row, and its chips. [-]

        Args:
            field: the field that names it.
            channels: its channels.
        """
        return self.rows if field == "row_transistor_id" else super().takes(field, channels)
