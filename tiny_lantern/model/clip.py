"""Pieces as text for the clipboard, with their parts, names, joints, groups and effects; and back into any build."""

from __future__ import annotations

import json
from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen, made, revise
from tiny_lantern.model.build import Build, Joint
from tiny_lantern.model.edits import fresh_id
from tiny_lantern.model.edits_layout import shifted_layout
from tiny_lantern.model.edits_pieces import numbered_name
from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.groups import Group
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.registry import AnyPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pieces import AnyPiece

MOST_TEXT = 8_000_000
ASIDE_M = 0.05
FORMAT = "tiny-lantern-pieces"


class Clip(Frozen):
    """What lies on the clipboard."""

    format: Literal["tiny-lantern-pieces"] = "tiny-lantern-pieces"
    version: Literal[2] = 2
    parts: Annotated[tuple[AnyPart, ...], Field(max_length=5000)] = ()
    pieces: Annotated[tuple[AnyPiece, ...], Field(min_length=1, max_length=5000)]
    joints: tuple[Joint, ...] = ()
    groups: tuple[Group, ...] = ()
    effects: Annotated[tuple[Effect, ...], Field(max_length=5000)] = ()


def clip_text(build: Build, piece_ids: Collection[str]) -> str:
    """Pieces with all that is theirs alone, as text.

    Raises:
        LanternError: none is named.
    """
    pieces = tuple(piece for piece in build.pieces if piece.id in piece_ids)
    if not pieces:
        raise LanternError("there is nothing selected to copy", "copy", "one piece or more")
    needed = {piece.part_id for piece in pieces}
    clip = Clip(
        parts=tuple(part for part in build.parts if part.id in needed),
        pieces=pieces,
        joints=tuple(j for j in build.joints if j.from_strip_id in piece_ids and j.to_strip_id in piece_ids),
        groups=tuple(g for g in build.groups if all(ref.piece_id in piece_ids for ref in g.slots)),
        effects=tuple(e for e in build.effects if _inside(build, e, piece_ids)),
    )
    return json.dumps(clip.model_dump(mode="json"), ensure_ascii=False, indent=1)


def _inside(build: Build, effect: Effect, piece_ids: Collection[str]) -> bool:
    """Whether all the pieces that an effect lies on are among some."""
    first, stop = build.line.covered(effect)
    return all(span.piece.id in piece_ids for span in build.line.spans if span.first < stop and span.stop > first)


def pasted(build: Build, text: str) -> Build:
    """The build with the pieces of a text at the end of the Line; what bears a taken name is given a new one.

    Raises:
        LanternError: the text holds no pieces, or they do not fit into the build.
    """
    clip = clip_of(text)
    aside = ASIDE_M if {piece.name for piece in clip.pieces} & {piece.name for piece in build.pieces} else 0.0
    build, part_ids = _with_parts(build, clip)
    ids: dict[str, str] = {}
    for piece in clip.pieces:
        build = _with_piece(build, piece, part_ids, ids, aside)
    for joint in clip.joints:
        again = revise(joint, id=fresh_id(build, "joint"), from_strip_id=ids[joint.from_strip_id],
                       to_strip_id=ids[joint.to_strip_id])  # fmt: skip
        build = revise(build, joints=(*build.joints, again))
    for group in clip.groups:
        slots = tuple(_moved(ref, ids) for ref in group.slots)
        taken = {other.name for other in build.groups}
        name = numbered_name(group.name, taken) if group.name in taken else group.name
        build = revise(build, groups=(*build.groups, revise(group, id=fresh_id(build, name), name=name, slots=slots)))
    for effect in clip.effects:
        laid = revise(effect, id=fresh_id(build, effect.look.kind), first=_moved(effect.first, ids),
                      last=_moved(effect.last, ids))  # fmt: skip
        build = revise(build, effects=(*build.effects, laid))
    return build


def clip_of(text: str) -> Clip:
    """What a text holds.

    Raises:
        LanternError: it holds no pieces.
    """
    accepted = "pieces copied here or in another window of this program"
    if len(text) > MOST_TEXT:
        raise LanternError("what was copied is too large", "clipboard", accepted)
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise LanternError("what was copied is not pieces", "clipboard", accepted) from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LanternError("what was copied is not pieces", "clipboard", accepted)
    try:
        clip = made(Clip, **data)
    except (LanternError, TypeError) as error:
        raise LanternError(f"the copied pieces cannot be read: {error}"[:180], "clipboard", accepted) from None
    ids = {piece.id for piece in clip.pieces}
    named = {j.from_strip_id for j in clip.joints} | {j.to_strip_id for j in clip.joints}
    named |= {ref.piece_id for g in clip.groups for ref in g.slots}
    named |= {ref.piece_id for e in clip.effects for ref in (e.first, e.last)}
    lacking = {piece.part_id for piece in clip.pieces} - {part.id for part in clip.parts}
    if named - ids or lacking:
        raise LanternError("the copied pieces are not whole", "clipboard", accepted)
    return clip


def _with_parts(build: Build, clip: Clip) -> tuple[Build, dict[str, str]]:
    """The build with the parts of a clip; one that differs from the build's own of its id comes under a new id."""
    ids = {}
    for part in clip.parts:
        own = next((other for other in build.parts if other.id == part.id), None)
        if own == part:
            ids[part.id] = part.id
            continue
        new: Part = part if own is None else revise(part, id=fresh_id(build, part.id))
        taken = fresh_id(build, new.id)
        new = new if taken == new.id else revise(new, id=taken)
        build = revise(build, parts=(*build.parts, new))
        ids[part.id] = new.id
    return build, ids


def _with_piece(build: Build, piece: Piece, parts: dict[str, str], ids: dict[str, str], aside_m: float) -> Build:
    taken = {other.name for other in build.pieces}
    name = numbered_name(piece.name, taken) if piece.name in taken else piece.name
    layout = shifted_layout(piece.layout, aside_m, -aside_m)
    ids[piece.id] = fresh_id(build, name)
    new = revise(piece, id=ids[piece.id], name=name, part_id=parts[piece.part_id], layout=layout)
    return revise(build, pieces=(*build.pieces, new))


def _moved(ref: SlotRef, ids: dict[str, str]) -> SlotRef:
    return revise(ref, piece_id=ids[ref.piece_id])
