"""Knobs: their ends on what the pins give and on 0 V, their middle on the pin."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.knob import KnobInput

KINDS = (KnobInput,)
NEARLY = 1e-3  # of the whole way, at which its middle stands at an end


def wire(at_board: AtBoard[KnobInput]) -> Iterator[Wired]:
    """A knob, at its low end, held at its high one.

    Args:
        at_board: the knob.
    """
    knob = at_board.input
    low, high, middle = (at_board.end(word) for word in ("low end", "high end", "middle"))
    yield at_board.row("0v", at_board.zero, low, role="return")
    yield at_board.row("plus", at_board.logic, high, role="logic supply")
    yield at_board.row("middle", middle, at_board.pin)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        share = 1 - NEARLY if knob.id in still.held else NEARLY
        below, above = share * knob.whole_ohm, (1 - share) * knob.whole_ohm
        return (
            Conducting(f"{knob.id} below", at(middle), at(low), below, "resistor"),
            Conducting(f"{knob.id} above", at(high), at(middle), above, "resistor"),
        )

    yield Fitted(knob.id, (low, high, middle), law)
