"""Lamps on the outputs of boxes that pins control: what transistor arrays, buffers and the like have in common."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.model.drive import Channel, Fed, Steered
from tiny_lantern.model.parts.part import BillLine


@dataclass(frozen=True)
class BoxOutput:
    """An output that sinks: the volts that it loses and the resistance behind them, what it should and may carry, how
    many there are in a box, what those may carry together, and what its pin gives. [V], [ohm], [A], [-]"""

    drop_v: float
    ohm: float
    each_a: float
    most_a: float
    per_box: int
    box_a: float
    pin_a: float = 0.0
    cost: float = 0.5


class Boxed(Steered, Fed):
    """Each lamp with its resistor between a lamp supply and an output of a box, which a pin of its own controls."""

    output: ClassVar[BoxOutput]
    sink: ClassVar[bool] = True

    def bill(self, channels: Sequence[Channel]) -> Iterator[BillLine]:
        """Its boxes, as many as its last output asks for.

        Args:
            channels: its channels.
        """
        count = 1 + max((channel.output // self.output.per_box for channel in channels), default=-1)
        name = self.word.removeprefix("a ").removeprefix("an ").capitalize()
        if count:
            yield BillLine(count, "", name, self.output.cost * count, f"box-{self.kind}")
