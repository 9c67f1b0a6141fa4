"""Signals through an opto coupler: its diode in the other circuit, its transistor on the pin; nothing joins the two."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.elements.conducting import Contact
from tiny_lantern.circuit.elements.diodes import Diode
from tiny_lantern.circuit.elements.sources import Supply
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.signal import DIODE_V, SignalInput

KINDS = (SignalInput,)
COUPLED_OHM, DIODE_OHM, SIGNAL_OHM = 50.0, 10.0, 1.0


def wire(at_board: AtBoard[SignalInput]) -> Iterator[Wired]:
    """A signal, off, on while it is held.

    Args:
        at_board: the signal.
    """
    one = at_board.input
    wire_end, wire_zero = at_board.end("signal wire"), at_board.end("its own 0 V")
    plus, minus, collector, emitter = (at_board.end(word) for word in ("anode", "cathode", "collector", "emitter"))
    yield at_board.row("signal", wire_end, plus, one.series_ohm)
    yield at_board.row("back", minus, wire_zero)
    yield at_board.row("pin", collector, at_board.pin)
    yield at_board.row("0v", at_board.zero, emitter, role="return")
    if one.pull_ohm is not None:
        yield at_board.row("pull", at_board.logic, at_board.pin, one.pull_ohm)
    else:
        yield at_board.pulled_inside()
    yield Fitted(
        f"{one.id} signal", (wire_end, wire_zero),
        lambda still, at: (Supply(f"{one.id} signal", at(wire_end), at(wire_zero),
                                  one.signal_v if one.id in still.held else 0.0, SIGNAL_OHM),),
    )  # fmt: skip
    yield Fitted(
        f"{one.id} diode", (plus, minus),
        lambda _, at: (Diode(f"{one.id} diode", at(plus), at(minus), DIODE_V, DIODE_OHM),),
    )  # fmt: skip
    ends = collector, emitter
    yield Fitted(
        one.id, ends, lambda still, at: (Contact(one.id, at(ends[0]), at(ends[1]), COUPLED_OHM, one.id in still.held),)
    )
