"""Self-changing lamps that are held while they are dark."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Id, Ohms, Volts
from tiny_lantern.model.drive import Channel, Driver, LedVolts, PinNeed, Rate, TransistorId
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.lamps import HoldGroup
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.refers import Refers


class HoldRail(Driver):
    """Self-changing lamps on a rail with three states: full, hold, off, from two switches."""

    kind: Literal["hold"] = "hold"
    word: ClassVar[str] = "full, hold and off"
    at: ClassVar[str] = "on a hold rail"
    wins: ClassVar[str] = "lamps that change by themselves and must keep their place"
    rank: ClassVar[int] = 100
    told_by: ClassVar[Mapping[str, str]] = {"fed_by": "in_v", "full_fed_by": "full_v"}
    lamps_on: ClassVar[str] = "full_fed_by"
    chips_on: ClassVar[str] = "fed_by"
    regulator_id: Annotated[Id, Refers("parts.regulator")]
    transistor_id: TransistorId
    out_v: LedVolts = 1.55
    in_v: LedVolts = 5.0
    full_v: LedVolts = 3.3
    fed_by: FedBy | None = None
    full_fed_by: FedBy | None = None
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

    def fed_at_v(self, shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
        """The voltages of what its regulator is fed with, and of the full rail. [V]

        Args:
            shelf: the parts of its build.
            parts: the parts of what it drives.
        """
        return {"fed_by": self.in_v, "full_fed_by": self.full_v}

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Lamps that change by themselves.

        Args:
            piece: the piece.
            part: its part.
        """
        return isinstance(piece, HoldGroup)

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """A pin for full, which dims, and one for hold.

        Args:
            channels: its channels.
        """
        yield PinNeed(self.id, "full", dims=True)
        yield PinNeed(self.id, "hold")

    def takes(self, field: str, channels: Sequence[Channel]) -> int:
        """How many of a part: a transistor for full and one for held. [-]

        Args:
            field: the field that names it.
            channels: its channels.
        """
        return 2 if field == "transistor_id" else super().takes(field, channels)
