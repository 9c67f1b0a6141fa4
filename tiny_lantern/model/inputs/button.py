"""Buttons, which come back by themselves, and switches, which stay."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from tiny_lantern.model.base import Ohms
from tiny_lantern.model.input import Level, When
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine

COST = 0.4


class Contacts(Level):
    """A contact from the pin to 0 V or to what the board's pins give; a resistor pulls the pin the other way while it
    is open: the board's own where ``pull_ohm`` is None, which pulls up only."""

    to: Literal["ground", "supply"] = "ground"
    pull_ohm: Annotated[Ohms, Field(ge=100, le=1e6)] | None = None

    @model_validator(mode="after")
    def _pulled(self) -> Self:
        if self.to == "supply" and self.pull_ohm is None:
            raise ValueError("a board pulls its pins up only: one that is closed to the supply wants a resistor to 0 V")
        return self

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads open and closed. [-]

        Args:
            board: the part of its board.
        """
        return (1, 0) if self.to == "ground" else (0, 1)

    def bill(self) -> Iterator[BillLine]:
        """The contact itself."""
        yield BillLine(1, "", self.word.capitalize(), COST, self.word)

    @property
    def pulled_by_board(self) -> bool:
        """Whether the board's own resistor pulls its pin up."""
        return self.pull_ohm is None and self.to == "ground"


class ButtonInput(Contacts):
    """A button: closed while it is pressed."""

    kind: Literal["button"] = "button"
    word: ClassVar[str] = "button"
    rank: ClassVar[int] = 20


class SwitchInput(Contacts):
    """A switch: it stays as it is put."""

    kind: Literal["switch"] = "switch"
    word: ClassVar[str] = "switch"
    act: ClassVar[str] = "on"
    rank: ClassVar[int] = 30
    stays: ClassVar[bool] = True
    first: ClassVar[tuple[When, str]] = ("held", "brightness")
