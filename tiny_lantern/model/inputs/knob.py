"""A knob: a resistor with a middle that is turned from one end to the other."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.input import Volts
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine
from tiny_lantern.model.quantities import engineering

COST = 0.8


class KnobInput(Volts):
    """A knob between what the board's pins give and 0 V, its middle on the pin; what the board reads at rest is taken
    off."""

    kind: Literal["knob"] = "knob"
    word: ClassVar[str] = "knob"
    rank: ClassVar[int] = 10
    whole_ohm: Annotated[float, Field(ge=100, le=1e6)] = 10e3

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads at either end. [-]

        Args:
            board: the part of its board.
        """
        return board.adc_offset, (1 << board.adc_bits) - 1

    def bill(self) -> Iterator[BillLine]:
        """The knob itself."""
        text = engineering(self.whole_ohm, "ohm")
        yield BillLine(1, "", f"Knob, {text}, linear", COST, f"knob-{self.whole_ohm / 1000:g}k".replace(".", "_"))
