"""A signal of another circuit, such as a 12 V lamp wire, through an opto coupler: no copper joins the two."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Ohms
from tiny_lantern.model.input import Level, When
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine

COST, DIODE_V = 0.5, 1.2


class SignalInput(Level):
    """Volts of another circuit while the signal is on, through ``series_ohm`` into the coupler's diode; its transistor
    pulls the pin to 0 V, which ``pull_ohm``, the board's own where that is None, pulls up."""

    kind: Literal["signal"] = "signal"
    word: ClassVar[str] = "opto-isolated signal"
    act: ClassVar[str] = "on"
    rank: ClassVar[int] = 60
    stays: ClassVar[bool] = True
    first: ClassVar[tuple[When, str]] = ("held", "brightness")
    caution: ClassVar[str] = (
        "Low voltage only: a signal from the mains side is a licensed person's work. On a vehicle fuse the wire where "
        "it is tapped, and mind that its 12 V reaches 15."
    )
    signal_v: Annotated[float, Field(ge=3, le=60)] = 12.0
    series_ohm: Annotated[Ohms, Field(ge=100, le=1e5)] = 2200.0
    pull_ohm: Annotated[Ohms, Field(ge=100, le=1e6)] | None = None

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads without and with the signal. [-]

        Args:
            board: the part of its board.
        """
        return 1, 0

    @property
    def diode_a(self) -> float:
        """What flows through the coupler's diode: ``(V − V_f) / R``  (1). [A]

        Source: Ohm's law over the series resistor.
        """
        return max(0.0, (self.signal_v - DIODE_V) / self.series_ohm)  # (1)

    @property
    def pulled_by_board(self) -> bool:
        """Whether the board's own resistor pulls its pin up."""
        return self.pull_ohm is None

    def bill(self) -> Iterator[BillLine]:
        """The coupler."""
        yield BillLine(1, "", "Opto coupler, transistor output", COST, "opto-coupler")
