"""All kinds of piece, told apart by ``kind``."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tiny_lantern.model.lamps import HoldGroup, Indicator, LampGroup, Matrix, SwitchedLoad
from tiny_lantern.model.strip import Panel, Strip

AnyPiece = Annotated[
    Strip | Panel | LampGroup | Matrix | Indicator | HoldGroup | SwitchedLoad, Field(discriminator="kind")
]
