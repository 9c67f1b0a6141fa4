"""Sensors that change their resistance, each in a divider with a fixed resistor: pressed, stepped on, or lit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from tiny_lantern.model.base import Ohms
from tiny_lantern.model.input import Volts, counts_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine

SensorOhms = Annotated[Ohms, Field(ge=1, le=1e8)]
COST = 1.2


class Resistive(Volts):
    """A sensor by its resistance at rest and fully moved, from the pin to what the board's pins give or to 0 V, and the
    fixed resistor from the pin to the other side."""

    rest_ohm: SensorOhms
    moved_ohm: SensorOhms
    fixed_ohm: SensorOhms
    sensor_to: Literal["supply", "ground"] = "supply"

    @model_validator(mode="after")
    def _moves(self) -> Self:
        if self.rest_ohm == self.moved_ohm:
            raise ValueError("a sensor has another resistance when it is moved")
        return self

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads at rest and fully moved. [-]

        Args:
            board: the part of its board.
        """
        return counts_of(self.share(self.rest_ohm), board), counts_of(self.share(self.moved_ohm), board)

    def share(self, sensor_ohm: float) -> float:
        """The share of the reference that its pin is at: ``R_below / (R_above + R_below)``  (1). [-]

        Args:
            sensor_ohm: what the sensor has. [ohm]

        Source: a divider without load; any circuits text.
        """
        above, below = (sensor_ohm, self.fixed_ohm) if self.sensor_to == "supply" else (self.fixed_ohm, sensor_ohm)
        return below / (above + below)  # (1)

    def bill(self) -> Iterator[BillLine]:
        """The sensor itself."""
        yield BillLine(1, "", self.word.capitalize(), COST, self.word.replace(" ", "-"))


class PressInput(Resistive):
    """A press sensor: it conducts the better the harder it is pressed or stepped on."""

    kind: Literal["press"] = "press"
    word: ClassVar[str] = "press sensor"
    act: ClassVar[str] = "pressed"
    rank: ClassVar[int] = 40
    rest_ohm: SensorOhms = 1e6
    moved_ohm: SensorOhms = 2e3
    fixed_ohm: SensorOhms = 47e3


class LightInput(Resistive):
    """A light sensor: it conducts the better the brighter it is."""

    kind: Literal["light"] = "light"
    word: ClassVar[str] = "light sensor"
    act: ClassVar[str] = "lit"
    rank: ClassVar[int] = 50
    rest_ohm: SensorOhms = 200e3
    moved_ohm: SensorOhms = 5e3
    fixed_ohm: SensorOhms = 33e3
