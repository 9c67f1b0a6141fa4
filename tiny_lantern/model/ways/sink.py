"""Constant-current sinks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Ohms
from tiny_lantern.model.drive import Fed
from tiny_lantern.model.emitters import plain_lamps
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.ways.chain import Chain


class SinkChain(Chain, Fed):
    """Constant-current sinks: the setting resistor gives the current of every output."""

    kind: Literal["sink"] = "sink"
    word: ClassVar[str] = "constant-current sinks"
    at: ClassVar[str] = "on a sink"
    wins: ClassVar[str] = "many lamps of one current, without a resistor each"
    rank: ClassVar[int] = 50
    chips_on: ClassVar[str] = "chips_fed_by"
    rext_ohm: Annotated[float, Field(gt=0, le=1e6)] = 1000.0
    chips_fed_by: FedBy | None = None
    common_ohm: Ohms = 0.0

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Plain lamps, but those whose dies share a cathode: it would have to lie on the output.

        Args:
            piece: the piece.
            part: its part.
        """
        return plain_lamps(piece, part) and getattr(part, "common", "none") != "cathode"

    def fed_at_v(self, shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
        """The voltages of its lamps' supply and of its chips'. [V]

        Args:
            shelf: the parts of its build.
            parts: the parts of what it drives.
        """
        return {**super().fed_at_v(shelf, parts), "chips_fed_by": shelf.find(ChipPart, self.chip_id).vcc_v}
