"""All kinds of piece, told apart by ``kind``."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import kinds
from tiny_lantern.model.discovery import kinds_in
from tiny_lantern.model.lamps import HoldGroup, Indicator, LampGroup, Matrix, SwitchedLoad
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import Panel, Strip

ADDED_TYPES: dict[str, type[Piece]] = kinds_in(kinds, Piece)
PIECE_TYPES = (Strip, Panel, LampGroup, Matrix, Indicator, HoldGroup, SwitchedLoad, *ADDED_TYPES.values())
if TYPE_CHECKING:
    AnyPiece = Piece
else:
    AnyPiece = Annotated[Union[PIECE_TYPES], Field(discriminator="kind")]  # noqa: UP007
