"""What comes over the cable that is there anyway: nothing to wire."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.circuit.wires.hookup import Wired
from tiny_lantern.circuit.wires.inputs.at_board import AtBoard
from tiny_lantern.model.inputs.told import OverCable

KINDS = (OverCable,)


def wire(at_board: AtBoard[OverCable]) -> Iterator[Wired]:
    """No wire.

    Args:
        at_board: what comes.
    """
    yield from ()
