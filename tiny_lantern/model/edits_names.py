"""Edits of the names of lamps, and of groups."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, item, replaced, without
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.groups import ORDERS, Group
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.notes import LampNote


def note_lamp(build: Build, ref: SlotRef, **changes: Any) -> Build:
    """Say something of one lamp: its place, its function, its colour order, its leads; what says nothing goes.

    Raises:
        LanternError: the name is too long, or the order is none.
    """
    piece = item(build.pieces, ref.piece_id, "piece")
    if ref.index >= piece.slot_count:
        accepted = f"a whole number from 0 to {piece.slot_count - 1}"
        raise LanternError(f"light {ref.index} is not on “{piece.name}”", "lamp", accepted)
    old = piece.note_of.get(ref.index, LampNote(index=ref.index))
    new = revise(old, **changes)
    others = [note for note in piece.notes if note.index != ref.index]
    notes = sorted([*others, *([] if new.empty else [new])], key=lambda note: note.index)
    return change_piece(build, piece.id, notes=tuple(notes))


def add_group(build: Build, name: str, slots: Sequence[SlotRef], order: str = "as wired") -> Build:
    """Name lights together, in one of the ``ORDERS``.

    Raises:
        LanternError: there are no lights, or the name cannot be.
    """
    if not slots:
        raise LanternError("there are no lights to group", "group", "one selected piece or more")
    group = made(Group, id=fresh_id(build, name), name=name, slots=in_order(build, slots, order))
    return revise(build, groups=(*build.groups, group))


def in_order(build: Build, slots: Sequence[SlotRef], order: str) -> tuple[SlotRef, ...]:
    """Lights in one of the ``ORDERS``, by where they lie in the picture."""
    places = {piece.id: slot_places(piece) for piece in build.pieces if any(ref.piece_id == piece.id for ref in slots)}
    wired = sorted(slots, key=build.line.slot_of)
    if not wired:
        return ()
    at = np.array([places[ref.piece_id][ref.index] for ref in wired])
    return tuple(wired[number] for number in ORDERS[order](at))


def change_group(build: Build, group_id: str, **changes: Any) -> Build:
    """Change a group's name or its lights."""
    new = revise(item(build.groups, group_id, "group"), **changes)
    return revise(build, groups=replaced(build.groups, group_id, new))


def order_group(build: Build, group_id: str, order: str) -> Build:
    """Put a group's lights in one of the ``ORDERS``."""
    group = item(build.groups, group_id, "group")
    return change_group(build, group_id, slots=in_order(build, group.slots, order))


def take_next(build: Build, group_id: str, ref: SlotRef, place: int) -> Build:
    """Put a light at a place of a group's order, counted from 0, from where it was or as a new one; so a person who
    points at one light after the other makes the order by hand."""
    group = item(build.groups, group_id, "group")
    others = [other for other in group.slots if other != ref]
    at = min(place, len(others))
    return change_group(build, group_id, slots=(*others[:at], ref, *others[at:]))


def remove_group(build: Build, group_id: str) -> Build:
    """Remove a group; its lights stay."""
    item(build.groups, group_id, "group")
    return revise(build, groups=without(build.groups, group_id))
