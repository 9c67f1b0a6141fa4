"""Microphone boards: fed with what the pins give, their level output on the pin."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.element import Element
from tiny_lantern.circuit.elements.loads import Load
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.fitted import At, Fitted, Still
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.sound import SoundInput

KINDS = (SoundInput,)
OUTPUT_OHM, IDLE_A = 1000.0, 0.002


def wire(at_board: AtBoard[SoundInput]) -> Iterator[Wired]:
    """A microphone board in a quiet room, at its loudest while it is held.

    Args:
        at_board: the input.
    """
    one = at_board.input
    plus, zero, out = (at_board.end(word) for word in ("supply", "0 V", "level"))
    yield at_board.row("plus", at_board.logic, plus, role="logic supply")
    yield at_board.row("0v", at_board.zero, zero, role="return")
    yield at_board.row("level", out, at_board.pin)

    def law(still: Still, at: At) -> tuple[Element, ...]:
        volts = one.loud_v if one.id in still.held else one.quiet_v
        return (
            Load(f"{one.id} itself", at(plus), at(zero), IDLE_A),
            Supply(one.id, at(out), at(zero), volts, OUTPUT_OHM),
        )

    yield Fitted(one.id, (plus, zero, out), law)
