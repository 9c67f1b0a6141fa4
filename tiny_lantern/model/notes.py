"""What is said of single lamps of a piece: where each is, what it shows, and how it differs from the others."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from tiny_lantern.model.base import PLAIN_LINE, Frozen
from tiny_lantern.model.parts.lamp import LeadMap

LampName = Annotated[str, StringConstraints(max_length=120, pattern=PLAIN_LINE)]
Order = Annotated[str, Field(pattern=r"^[RGBW]{1,4}$")]


class LampNote(Frozen):
    """Said of one lamp, counted from 0: the name of its place, of its function, and its own colour order in a chain of
    mixed lamps, and its own leads where they differ from its part's. What is empty is as for the piece."""

    index: Annotated[int, Field(ge=0, le=1_000_000)]
    place: LampName = ""
    function: LampName = ""
    colour_order: Order | None = None
    leads: LeadMap | None = None

    @property
    def empty(self) -> bool:
        """Whether it says nothing."""
        return not (self.place or self.function or self.colour_order or self.leads)
