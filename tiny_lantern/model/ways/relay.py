"""Loads behind relays."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Id
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.refers import Refers


class RelayBoard(Driver):
    """Relays, each switching one load on a circuit of its own. ``set_before_boot``: inputs are held off until the
    programme runs."""

    kind: Literal["relay"] = "relay"
    word: ClassVar[str] = "relays"
    at: ClassVar[str] = "behind a relay"
    wins: ClassVar[str] = "a load on a circuit of its own, switched seldom"
    rank: ClassVar[int] = 80
    relay_id: Annotated[Id, Refers("parts.relay")]
    shows_per_night: Annotated[float, Field(ge=0, le=1e5)] = 10.0
    set_before_boot: bool = False

    @classmethod
    def fits(cls, piece: Piece, part: Part) -> bool:
        """Loads.

        Args:
            piece: the piece.
            part: its part.
        """
        return isinstance(part, LoadPart)

    def output_count(self, shelf: Shelf) -> int | None:
        """How many contacts it has.

        Args:
            shelf: the parts of its build.
        """
        return shelf.find(RelayPart, self.relay_id).channels
