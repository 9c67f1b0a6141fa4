"""Loose addressable lamps: what they draw, each with a controller of its own on wires that lead from lamp to lamp."""

from __future__ import annotations

from tiny_lantern.model.build import Build
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.lamp import LampPart

NOMINAL_V = 5.0


def loose_lamps(build: Build) -> tuple[tuple[LampGroup, LampPart], ...]:
    """The groups of loose addressable lamps, each with its part."""
    groups = ((piece, build.shelf.find(LampPart, piece.part_id)) for piece in build.pieces if piece.kind == "lamps")
    return tuple((piece, part) for piece, part in groups if isinstance(piece, LampGroup) and part.addressable)


def fully_lit_a(piece: LampGroup, part: LampPart) -> float:
    """What a group draws with every die at its full current. [A]

    Args:
        piece: the lamps.
        part: their part.
    """
    return piece.lamp_count * sum(die.test_a for die in part.dies)
