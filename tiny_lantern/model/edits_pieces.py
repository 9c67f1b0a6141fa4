"""Edits of pieces, the joints between strips, and where they lie."""

from __future__ import annotations

from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build, Bus, Joint, OnStrip
from tiny_lantern.model.edits import fresh_id, item, numbered_name, replaced, shifted, with_part, without, without_all
from tiny_lantern.model.edits_drive import with_data_pins, without_idle_pins
from tiny_lantern.model.edits_sources import with_sources
from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.following import following
from tiny_lantern.model.groups import Group
from tiny_lantern.model.layouts import AlongLine, AlongPath, AtSpots
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import StripPart, channel_letters
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.strip import PixelRun, Strip

RELINED = {"part_id", "board_id"}  # what may put a piece on another data line
GAP_M, BESIDE_M = 0.6, 0.02


def add_strip(build: Build, part: StripPart, pixel_count: int, name: str = "") -> Build:
    """Add a strip of a part below the others in the picture."""
    build = with_part(build, part)
    title = name or f"Strip {len(build.strips) + 1}"
    strip = made(
        Strip,
        id=fresh_id(build, title),
        name=title,
        part_id=part.id,
        pixel_count=pixel_count,
        pitch_m=part.pitch_m,
        colour_order=part.colour_order,
        layout=AlongLine(y_m=0.0 - GAP_M * len(build.pieces)),
    )
    return with_data_pins(revise(build, pieces=(*build.pieces, strip)))


def add_piece(build: Build, part: Part, piece: Piece) -> Build:
    """Add a piece of any kind at the end of the Line, with the part that it is made of; its id is made fresh."""
    build = with_part(build, part)
    own = revise(piece, id=fresh_id(build, piece.name), part_id=part.id)
    return with_data_pins(with_sources(revise(build, pieces=(*build.pieces, own))))


def change_piece(build: Build, piece_id: str, **changes: Any) -> Build:
    """Change fields of a piece of any kind; what would fall off its end moves to the end, what is said of lamps that
    are no more goes, and its drive follows. New lamps that lie each at a spot of their own lie beside the last one."""
    old = item(build.pieces, piece_id, "piece")
    if isinstance(old, PixelRun):
        return change_strip(build, piece_id, **changes)
    if "lamp_count" in changes and "layout" not in changes and isinstance(old.layout, AtSpots):
        changes["layout"] = _with_spots(old.layout, int(changes["lamp_count"]))
    new = _revised(old, changes)
    drive = following(build, new)
    changed = revise(
        build,
        **drive,
        pieces=replaced(build.pieces, piece_id, new),
        effects=tuple(_effect_kept(effect, new) for effect in build.effects),
        groups=_groups_kept(build, new),
    )
    changed = without_idle_pins(changed) if drive else changed
    return with_data_pins(with_sources(changed)) if RELINED & changes.keys() else changed


def rename_piece(build: Build, piece_id: str, name: str) -> Build:
    """Call a piece something else that no other piece is called.

    Raises:
        LanternError: it is empty, too long, or taken.
    """
    wanted = " ".join(name.split())
    if any(other.name == wanted and other.id != piece_id for other in build.pieces):
        taken = {other.name for other in build.pieces}
        raise LanternError(
            f"another piece is called “{wanted}”", "name", f"“{numbered_name(wanted, taken)}”, or another"
        )
    return change_piece(build, piece_id, name=wanted)


def _revised(old: Piece, changes: dict[str, Any]) -> Any:
    """A piece with fields changed and what is said of its lamps as far as it still has them."""
    new: Piece = revise(old, **{"notes": (), **changes})
    notes = changes.get("notes", old.notes)
    return revise(new, notes=tuple(note for note in notes if note.index < new.slot_count))


def _with_spots(layout: AtSpots, count: int) -> AtSpots:
    spots = list(layout.points_m[:count])
    while len(spots) < count:
        x, y = spots[-1]
        spots.append((round(x + BESIDE_M, 4), y))
    return AtSpots(points_m=tuple(spots))


def _groups_kept(build: Build, piece: Piece) -> tuple[Group, ...]:
    """The groups without the lights that a piece no longer has."""
    kept = []
    for group in build.groups:
        slots = tuple(ref for ref in group.slots if ref.piece_id != piece.id or ref.index < piece.slot_count)
        if slots:
            kept.append(group if len(slots) == len(group.slots) else revise(group, slots=slots))
    return tuple(kept)


def change_strip(build: Build, strip_id: str, **changes: Any) -> Build:
    """Change fields of a strip; feeds, cuts, taps and effects that would fall off its end move to the end."""
    old = item(build.strips, strip_id, "strip")
    cuts = changes.pop("cuts", None)
    new = _revised(old, {**changes, "cuts": ()})
    kept = tuple(cut for cut in old.cuts if cut < new.pixel_count) if cuts is None else cuts
    new = revise(new, cuts=kept)
    changed = revise(
        build,
        pieces=replaced(build.pieces, strip_id, new),
        groups=_groups_kept(build, new),
        feeds=tuple(_feed_kept(feed, new) for feed in build.feeds),
        buses=tuple(_bus_kept(bus, new) for bus in build.buses),
        effects=tuple(_effect_kept(effect, new) for effect in build.effects),
    )
    return with_data_pins(changed) if RELINED & changes.keys() else changed


def change_strip_part(build: Build, strip_id: str, part: StripPart) -> Build:
    """Make a strip of another part: its pitch and order follow, its length stays as near as whole pixels allow."""
    old = item(build.strips, strip_id, "strip")
    build = with_part(build, part)
    same_order = sorted(old.colour_order) == sorted(channel_letters(part))
    return change_strip(
        build,
        strip_id,
        part_id=part.id,
        pitch_m=part.pitch_m,
        pixel_count=max(1, round(old.length_m / part.pitch_m)),
        colour_order=old.colour_order if same_order else part.colour_order,
        cuts=tuple(sorted({max(1, round(cut * old.pitch_m / part.pitch_m)) for cut in old.cuts})),
    )


def duplicate_piece(build: Build, piece_id: str) -> Build:
    """A copy of a piece right after it, a little lower in the picture; feeds and effects are not copied."""
    old = item(build.pieces, piece_id, "piece")
    layout = old.layout
    if isinstance(layout, AlongPath | AtSpots):
        layout = revise(layout, points_m=tuple((x, y - GAP_M) for x, y in layout.points_m))
    else:
        layout = revise(layout, y_m=layout.y_m - GAP_M)
    title = numbered_name(old.name, {piece.name for piece in build.pieces})
    new = revise(old, id=fresh_id(build, title), name=title, layout=layout)
    at = build.pieces.index(old) + 1
    return revise(build, pieces=(*build.pieces[:at], new, *build.pieces[at:]))


def move_piece(build: Build, piece_id: str, by: int) -> Build:
    """Move a piece along the Line by some places."""
    return revise(build, pieces=shifted(build.pieces, piece_id, by))


def remove_piece(build: Build, piece_id: str) -> Build:
    """Remove a piece with what hangs on it: its feeds, joints, buses and the effects laid on it."""
    item(build.pieces, piece_id, "piece")
    return without_all(build, piece_id)


def add_joint(build: Build, from_strip_id: str, to_strip_id: str) -> Build:
    """Join the end of one strip to the start of another."""
    joint = made(Joint, id=fresh_id(build, "joint"), from_strip_id=from_strip_id, to_strip_id=to_strip_id)
    return revise(build, joints=(*build.joints, joint))


def remove_joint(build: Build, joint_id: str) -> Build:
    """Open a joint."""
    item(build.joints, joint_id, "joint")
    return revise(build, joints=without(build.joints, joint_id))


def toggle_cut(build: Build, strip_id: str, before_pixel: int) -> Build:
    """Cut the positive rail before a pixel, or close the cut that is there."""
    strip = item(build.strips, strip_id, "strip")
    return change_strip(build, strip_id, cuts=tuple(sorted(set(strip.cuts) ^ {before_pixel})))


def _feed_kept(feed: Any, strip: PixelRun) -> Any:
    attach = feed.attach
    if isinstance(attach, OnStrip) and attach.strip_id == strip.id and attach.position_m > strip.length_m:
        return revise(feed, attach=revise(attach, position_m=strip.length_m))
    return feed


def _bus_kept(bus: Bus, strip: PixelRun) -> Bus:
    if bus.strip_id != strip.id or bus.tap_pixels[-1] < strip.pixel_count:
        return bus
    return revise(bus, tap_pixels=tuple(sorted({min(tap, strip.pixel_count - 1) for tap in bus.tap_pixels})))


def _effect_kept(effect: Effect, piece: Piece) -> Effect:
    def kept(ref: SlotRef) -> SlotRef:
        off = ref.piece_id == piece.id and ref.index >= piece.slot_count
        return revise(ref, index=piece.slot_count - 1) if off else ref

    first, last = kept(effect.first), kept(effect.last)
    if first is effect.first and last is effect.last:
        return effect
    return revise(effect, first=first, last=last)
