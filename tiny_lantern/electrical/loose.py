"""What loose addressable lamps draw, each with a controller of its own on wires that lead from lamp to lamp."""

from __future__ import annotations

from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.lamp import LampPart


def fully_lit_a(piece: LampGroup, part: LampPart) -> float:
    """What a group draws with every die at its full current. [A]

    Args:
        piece: the lamps.
        part: their part.
    """
    return piece.lamp_count * sum(die.test_a for die in part.dies)
