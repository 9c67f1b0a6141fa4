"""A sound level: a small microphone board whose output rises with how loud it is."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from tiny_lantern.model.input import Volts, counts_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine

COST = 2.5


class SoundInput(Volts):
    """A microphone board with an output for the level, fed with what the board's pins give: the volts of its output in
    a quiet room, and at the loudest that counts."""

    kind: Literal["sound"] = "sound"
    word: ClassVar[str] = "sound level"
    act: ClassVar[str] = "louder"
    rank: ClassVar[int] = 55
    quiet_v: Annotated[float, Field(ge=0, le=60)] = 0.1
    loud_v: Annotated[float, Field(gt=0, le=60)] = 2.5

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if self.loud_v <= self.quiet_v:
            raise ValueError("the loudest that counts is louder than a quiet room")
        return self

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads in a quiet room and at the loudest. [-]

        Args:
            board: the part of its board.
        """
        return counts_of(self.quiet_v / board.logic_v, board), counts_of(self.loud_v / board.logic_v, board)

    def bill(self) -> Iterator[BillLine]:
        """The microphone board."""
        yield BillLine(1, "", "Microphone board with a level output", COST, "microphone-board")
