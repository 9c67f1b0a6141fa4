"""Sensors of resistance: the sensor from the pin to one rail, its fixed resistor from the pin to the other."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.resistive import Resistive

KINDS = (Resistive,)


def wire(at_board: AtBoard[Resistive]) -> Iterator[Wired]:
    """A sensor at rest, moved while it is held.

    Args:
        at_board: the sensor.
    """
    one = at_board.input
    pin_side, far_side = at_board.end("one lead"), at_board.end("other lead")
    rails = (at_board.logic, "logic supply"), (at_board.zero, "return")
    own, other = rails if one.sensor_to == "supply" else rails[::-1]
    yield at_board.row("pin", pin_side, at_board.pin)
    yield at_board.row("far", own[0], far_side, role=own[1])
    yield at_board.row("fixed", other[0], at_board.pin, one.fixed_ohm)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        ohm = one.moved_ohm if one.id in still.held else one.rest_ohm
        return (Conducting(one.id, at(far_side), at(pin_side), ohm, "resistor"),)

    yield Fitted(one.id, (far_side, pin_side), law)
