"""Pieces as text for the clipboard, with their parts, names, joints, groups, drive and effects; and back into any
build."""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping
from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen, made, revise
from tiny_lantern.model.build import Build, Joint
from tiny_lantern.model.drive import Board, Channel, Driver
from tiny_lantern.model.edits import fresh_family, fresh_id, numbered_name
from tiny_lantern.model.edits_drive import with_data_pins
from tiny_lantern.model.edits_layout import shifted_layout
from tiny_lantern.model.edits_sources import with_fitting_sources
from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.groups import Group
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.registry import AnyPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pieces import AnyPiece
from tiny_lantern.model.refers import part_fields
from tiny_lantern.model.sources import every_source
from tiny_lantern.model.ways.registry import AnyDriver

MOST_TEXT = 8_000_000
ASIDE_M = 0.05
FORMAT = "tiny-lantern-pieces"
ON_CHAINS = ("bus_of", "inputs_on")


class Clip(Frozen):
    """What lies on the clipboard."""

    format: Literal["tiny-lantern-pieces"] = "tiny-lantern-pieces"
    version: Literal[3] = 3
    parts: Annotated[tuple[AnyPart, ...], Field(max_length=5000)] = ()
    pieces: Annotated[tuple[AnyPiece, ...], Field(min_length=1, max_length=5000)]
    joints: Annotated[tuple[Joint, ...], Field(max_length=5000)] = ()
    groups: Annotated[tuple[Group, ...], Field(max_length=5000)] = ()
    effects: Annotated[tuple[Effect, ...], Field(max_length=5000)] = ()
    boards: Annotated[tuple[Board, ...], Field(max_length=100)] = ()
    drivers: Annotated[tuple[AnyDriver, ...], Field(max_length=5000)] = ()
    channels: Annotated[tuple[Channel, ...], Field(max_length=20_000)] = ()


def clip_text(build: Build, piece_ids: Collection[str]) -> str:
    """Pieces with all that is theirs alone, as text.

    Raises:
        LanternError: none is named.
    """
    pieces = tuple(piece for piece in build.pieces if piece.id in piece_ids)
    if not pieces:
        raise LanternError("there is nothing selected to copy", "copy", "one piece or more")
    foreign = {c.driver_id for c in build.channels if any(ref.piece_id not in piece_ids for ref in c.slots)}
    channels = tuple(c for c in build.channels if c.driver_id not in foreign and c.slots[0].piece_id in piece_ids)
    drivers = tuple(d for d in build.drivers if any(c.driver_id == d.id for c in channels))
    boards = tuple(board for board in build.boards if any(d.board_id == board.id for d in drivers))
    needed = {piece.part_id for piece in pieces} | {board.part_id for board in boards}
    needed |= {part_id for driver in drivers for part_id in parts_of(driver).values()}
    clip = Clip(
        parts=tuple(part for part in build.parts if part.id in needed),
        pieces=pieces,
        joints=tuple(j for j in build.joints if j.from_strip_id in piece_ids and j.to_strip_id in piece_ids),
        groups=tuple(g for g in build.groups if all(ref.piece_id in piece_ids for ref in g.slots)),
        effects=tuple(e for e in build.effects if _inside(build, e, piece_ids)),
        boards=tuple(revise(board, lines=()) for board in boards),
        drivers=tuple(_alone(driver, drivers) for driver in drivers),
        channels=channels,
    )
    return json.dumps(clip.model_dump(mode="json"), ensure_ascii=False, indent=1)


def parts_of(driver: Driver) -> dict[str, str]:
    """The parts that a way to drive is made of, by the field that names each."""
    values = {name: getattr(driver, name) for name in part_fields(type(driver))}
    return {name: value for name, value in values.items() if value is not None}


def _alone(driver: AnyDriver, copied: tuple[AnyDriver, ...]) -> AnyDriver:
    """A driver without its pins, which another board gives anew, and without lines or outputs of a chain that is left
    behind."""
    there = {other.id for other in copied}
    gone = {name: None for name in ON_CHAINS if getattr(driver, name, None) is not None} | {"pins": ()}
    kept = {name for name in gone if getattr(driver, name) in there}
    return revise(driver, **{name: value for name, value in gone.items() if name not in kept})


def _owners(driver: AnyDriver) -> dict[str, str]:
    """The chains whose lines or outputs a driver is on, by the field that names each."""
    return {name: owner for name in ON_CHAINS if (owner := getattr(driver, name, None)) is not None}


def _behind(driver: AnyDriver) -> int:
    """Which drivers are laid first: chains of lines of their own, those that share them, then what hangs on either."""
    return max((1 + ON_CHAINS.index(name) for name in _owners(driver)), default=0)


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
    renamed: dict[str, str] = {}
    for group in clip.groups:
        slots = tuple(_moved(ref, ids) for ref in group.slots)
        taken = {other.name for other in build.groups}
        name = numbered_name(group.name, taken) if group.name in taken else group.name
        renamed[group.id] = fresh_id(build, name)
        build = revise(build, groups=(*build.groups, revise(group, id=renamed[group.id], name=name, slots=slots)))
    for effect in clip.effects:
        laid = revise(effect, id=fresh_id(build, effect.look.kind), first=_moved(effect.first, ids),
                      last=_moved(effect.last, ids), group_id=renamed.get(effect.group_id or ""))  # fmt: skip
        build = revise(build, effects=(*build.effects, laid))
    return _with_drive(build, clip, part_ids, ids)


def _with_drive(build: Build, clip: Clip, part_ids: dict[str, str], ids: dict[str, str]) -> Build:
    """The build with the drive of a clip: on the board of the same id, else on the first, else on the clip's own."""
    board_ids: dict[str, str] = {}
    for board in clip.boards:
        if not build.boards:
            again = revise(board, part_id=part_ids[board.part_id], **_fed_here(build, board, {}))
            build = revise(build, boards=(again,))
        own = next((other for other in build.boards if other.id == board.id), build.boards[0])
        board_ids[board.id] = own.id
    new_ids: dict[str, str] = {}
    for driver in sorted(clip.drivers, key=_behind):
        new_ids[driver.id] = fresh_family(build, driver.id)
        fields = {name: part_ids[part_id] for name, part_id in parts_of(driver).items()}
        fields |= {name: new_ids[owner] for name, owner in _owners(driver).items()}
        board_id = board_ids[driver.board_id]
        fed = _fed_here(build, driver, board_ids)
        laid = revise(driver, id=new_ids[driver.id], board_id=board_id, pins=(), **fields, **fed)
        build = revise(build, drivers=(*build.drivers, laid))
    channels = tuple(
        revise(channel, id=f"{new_ids[channel.driver_id]}-{channel.output}", driver_id=new_ids[channel.driver_id],
               slots=tuple(_moved(ref, ids) for ref in channel.slots))
        for channel in clip.channels
    )  # fmt: skip
    build = revise(build, channels=(*build.channels, *channels)) if channels else build
    return with_data_pins(with_fitting_sources(build, tuple(new_ids.values())))


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
    named |= {ref.piece_id for c in clip.channels for ref in c.slots}
    wanted = {piece.part_id for piece in clip.pieces} | {board.part_id for board in clip.boards}
    wanted |= {part_id for driver in clip.drivers for part_id in parts_of(driver).values()}
    lacking = wanted - {part.id for part in clip.parts}
    drivers = {driver.id for driver in clip.drivers}
    loose = {c.driver_id for c in clip.channels} - drivers
    loose |= {d.board_id for d in clip.drivers} - {board.id for board in clip.boards}
    loose |= {owner for d in clip.drivers for owner in _owners(d).values()} - drivers
    if named - ids or lacking or loose:
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
    fed = _fed_here(build, piece, {})
    new = revise(piece, id=ids[piece.id], name=name, part_id=parts[piece.part_id], layout=layout, **fed)
    if getattr(new, "board_id", None) not in {None, *(board.id for board in build.boards)}:
        new = revise(new, board_id=None)
    return revise(build, pieces=(*build.pieces, new))


def _fed_here(build: Build, thing: Frozen, boards: Mapping[str, str]) -> dict[str, FedBy | None]:
    """What feeds a thing, field by field, where this build has that too; nothing yet where it has not."""
    known = {source.fed_by for source in every_source(build)}
    fed = {name: value for name, value in thing if isinstance(value, FedBy)}
    moved = {name: revise(value, id=boards.get(value.id, value.id)) for name, value in fed.items()}
    return {name: value if value in known else None for name, value in moved.items()}


def _moved(ref: SlotRef, ids: dict[str, str]) -> SlotRef:
    return revise(ref, piece_id=ids[ref.piece_id])
