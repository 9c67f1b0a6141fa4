"""Buttons and switches: a contact on the pin, and what pulls the pin while it is open."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.elements.conducting import Contact
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.button import Contacts

KINDS = (Contacts,)
CONTACT_OHM = 0.05


def wire(at_board: AtBoard[Contacts]) -> Iterator[Wired]:
    """A contact, open, closed while it is held.

    Args:
        at_board: the contact.
    """
    one = at_board.input
    pin_side, far_side = at_board.end("one side"), at_board.end("other side")
    yield at_board.row("pin", pin_side, at_board.pin)
    if one.to == "ground":
        yield at_board.row("far", at_board.zero, far_side, role="return")
    else:
        yield at_board.row("far", at_board.logic, far_side, role="logic supply")
    if one.pull_ohm is not None:
        rail = at_board.logic if one.to == "ground" else at_board.zero
        yield at_board.row("pull", rail, at_board.pin, one.pull_ohm)
    elif one.pulled_by_board:
        yield at_board.pulled_inside()
    ends = pin_side, far_side
    yield Fitted(
        one.id, ends, lambda still, at: (Contact(one.id, at(ends[0]), at(ends[1]), CONTACT_OHM, one.id in still.held),)
    )
