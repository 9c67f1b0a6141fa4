"""Loads behind relays."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Id
from tiny_lantern.model.drive import Steered
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.refers import Refers


class RelayBoard(Steered):
    """Relays, each switching one load on a circuit of its own. ``set_before_boot``: inputs are held off until the
    programme runs."""

    kind: Literal["relay"] = "relay"
    word: ClassVar[str] = "relays"
    at: ClassVar[str] = "behind a relay"
    wins: ClassVar[str] = "a load on a circuit of its own, switched seldom"
    rank: ClassVar[int] = 80
    lamps_on: ClassVar[str] = "load_fed_by"
    chips_on: ClassVar[str] = "coils_fed_by"
    relay_id: Annotated[Id, Refers("parts.relay")]
    shows_per_night: Annotated[float, Field(ge=0, le=1e5)] = 10.0
    set_before_boot: bool = False
    coils_fed_by: FedBy | None = None
    load_fed_by: FedBy | None = None

    def fed_at_v(self, shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
        """The voltages of its coils and of loads that are not on the mains. [V]

        Args:
            shelf: the parts of its build.
            parts: the parts of what it drives.
        """
        wanted = {"coils_fed_by": shelf.find(RelayPart, self.relay_id).coil_v}
        load = next((part for part in parts if isinstance(part, LoadPart) and not part.mains), None)
        return wanted if load is None else wanted | {"load_fed_by": load.nominal_v}

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
