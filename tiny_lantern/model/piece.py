"""What everything that glows has in common."""

from __future__ import annotations

from collections.abc import Hashable
from functools import cached_property
from typing import TYPE_CHECKING, Annotated, ClassVar, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from tiny_lantern.model.base import Frozen, Id, Name, made
from tiny_lantern.model.layouts import AnyLayout
from tiny_lantern.model.mount import Mount
from tiny_lantern.model.notes import LampNote
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.refers import Refers

PieceId = Annotated[Id, Refers("pieces")]
DataBoardId = Annotated[Id, Refers("boards")]
RunId = Annotated[Id, Refers("runs")]
LAMP_M = 0.05
PLACING = ("layout", "notes", "mount")


class WorkedOut:
    """Figures kept beside a piece; no part of what makes two pieces equal."""

    def __init__(self) -> None:
        self.places: NDArray[np.float64] | None = None


class Piece(Frozen):
    """One piece on the Line. On its axis a light has ``axis_pitch_m``: a lamp's is set, a pixel's is real. A kind in a
    file of its own says by which ``word`` and line of help (``about``) it is offered."""

    kind: str
    id: Id
    name: Name
    part_id: Id
    notes: Annotated[tuple[LampNote, ...], Field(max_length=5000)] = ()
    mount: Mount = Mount()

    placing: ClassVar[tuple[str, ...]] = PLACING
    word: ClassVar[str] = ""
    about: ClassVar[str] = ""

    @classmethod
    def fits(cls, part: Part) -> bool:
        """Whether a first piece of it may be of a part; asked of kinds that are offered by their word.

        Args:
            part: the part.
        """
        return part.kind == "lamp"

    @classmethod
    def first(cls, part: Part) -> Self:
        """A first piece of it, as it is added.

        Args:
            part: what it is of.
        """
        return made(cls, id="new", name=cls.word.capitalize(), part_id=part.id)

    def own_places(self) -> NDArray[np.float64] | None:
        """Where its lights lie before it is turned, of a kind that lies in a way of its own. (n_slots, 2) [m]"""
        return None

    if TYPE_CHECKING:

        @property
        def slot_count(self) -> int:
            """How many lights it has. [-]"""

        @property
        def layout(self) -> AnyLayout:
            """How its lights lie in the picture."""

    @property
    def axis_pitch_m(self) -> float:
        """The width of one of its lights on the Line. [m]"""
        return LAMP_M

    @property
    def part_count(self) -> int:
        """How many of its part it takes. [-]"""
        return self.slot_count

    @property
    def axis_m(self) -> float:
        """Its width on the Line. [m]"""
        return self.slot_count * self.axis_pitch_m

    @cached_property
    def worked_out(self) -> WorkedOut:
        """What was worked out from it, kept as long as it lives."""
        return WorkedOut()

    @cached_property
    def note_of(self) -> dict[int, LampNote]:
        """What is said of single lamps, by their number."""
        return {note.index: note for note in self.notes}

    def place_name(self, index: int) -> str:
        """Where one of its lamps is: its own name, else the piece's with the lamp counted from 1."""
        note = self.note_of.get(index)
        return note.place if note and note.place else f"{self.name} {index + 1}"

    def spoken(self, index: int) -> str:
        """One of its lamps in a sentence: its place with its number counted from 0, and what it shows."""
        function = self.function_name(index)
        return f"{self.place_name(index)} (number {index})" + (f", {function}" if function else "")

    def function_name(self, index: int) -> str:
        """What one of its lamps shows; empty when nothing is said."""
        note = self.note_of.get(index)
        return note.function if note else ""

    @cached_property
    def unplaced(self) -> tuple[Hashable, ...]:
        """All of it that a current sees: not where it lies, how it is mounted, or what its lamps are called."""
        return tuple(value for field, value in self if field not in self.placing)
