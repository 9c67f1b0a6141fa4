"""What of a piece can be driven by itself: each lamp, each die of a colour lamp, or a string as a whole."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.lamps import HoldGroup, LampGroup, Matrix
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.light import ChannelName
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import PixelRun


@dataclass(frozen=True)
class Emitter:
    """Lamps that light together, and which die of them; None for all of each."""

    slots: tuple[SlotRef, ...]
    die: ChannelName | None = None


def emitters_of(piece: Piece, part: Part) -> tuple[Emitter, ...]:
    """Everything of a piece that has a channel of its own; nothing of one that is driven by a data line."""
    if by_data_line(piece, part):
        return ()
    dies: tuple[ChannelName | None, ...] = (None,)
    if isinstance(part, LampPart) and part.emitter == "colour" and len(part.dies) > 1:
        dies = tuple(die.name for die in part.dies)
    return tuple(Emitter(slots, die) for slots in _together(piece) for die in dies)


def by_data_line(piece: Piece, part: Part) -> bool:
    """Whether a piece takes its colours from a data line."""
    return isinstance(piece, PixelRun) or (isinstance(part, LampPart) and part.addressable)


def _together(piece: Piece) -> Iterator[tuple[SlotRef, ...]]:
    refs = [SlotRef(piece_id=piece.id, index=index) for index in range(piece.slot_count)]
    if isinstance(piece, HoldGroup) or (isinstance(piece, LampGroup) and piece.wired != "apart"):
        yield tuple(refs)
    else:
        yield from ((ref,) for ref in refs)


def are_leds(piece: Piece, part: Part) -> bool:
    """Whether a piece is lamps that neither a data line drives nor change by themselves."""
    return isinstance(part, LampPart) and not by_data_line(piece, part) and not isinstance(piece, HoldGroup)


def plain_lamps(piece: Piece, part: Part) -> bool:
    """Whether a piece is lamps each of which lights when a current flows one way."""
    return are_leds(piece, part) and not two_dies_alone(part) and not isinstance(piece, Matrix)


def two_dies_alone(part: Part) -> bool:
    """Whether a lamp has two opposite dies on two leads."""
    return isinstance(part, LampPart) and part.lead_count == 2 and len(part.dies) == 2
