"""Rules on the room that lamps need: holes, neighbours, the depth behind; and what nobody knows yet."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np
from scipy.spatial import KDTree

from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.lamps import HoldGroup, LampGroup
from tiny_lantern.model.layout import slot_places, spacing_of
from tiny_lantern.model.layouts import AtSpots
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.place import Place, Ref
from tiny_lantern.model.working import Step, Working

CLEARANCE_M, LOOSE_M = 0.0002, 0.0008
WALL_BETWEEN_M = 0.001
Lamps = LampGroup | HoldGroup


def _lamps(build: Build) -> Iterator[tuple[Lamps, LampPart]]:
    """Every piece of single lamps with its part."""
    for piece in build.pieces:
        if isinstance(piece, Lamps):
            yield piece, build.shelf.find(LampPart, piece.part_id)


def _mm(value_m: float) -> str:
    return f"{value_m * 1000:.1f} mm"


def _working(title: str, formula: str, values: tuple[float, float], result: float) -> Working:
    return Working(title, (Step(formula, " − ".join(map(_mm, values)), _mm(result)),))


def _of(piece: Piece) -> Place:
    return Place.on("pieces", piece.id)


@rule("hole", "{n} pieces do not fit their holes")
def hole(evidence: Evidence) -> Iterator[Finding]:
    """A hole that is smaller than its lamp, or so much larger that the lamp falls through."""
    for piece, part in _lamps(evidence.build):
        hole_m = piece.mount.hole_m
        if hole_m is None:
            continue
        over_m = hole_m - part.diameter_m
        if -1e-9 <= over_m <= LOOSE_M + 1e-9:
            continue
        small = over_m < 0
        good_m = round(part.diameter_m + CLEARANCE_M, 5)
        amount = f"{_mm(abs(over_m))} too small" if small else f"{_mm(over_m)} larger than the lamp"
        yield Finding(
            Severity.WONT_WORK if small else Severity.WEAK_SPOT, "hole", _of(piece),
            f"{piece.name} {'does not go through its holes' if small else 'sits loose in its holes'}",
            f"A lamp of {_mm(part.diameter_m)} in a hole of {_mm(hole_m)}: {amount}.",
            partial(_working, f"Holes of {piece.name}", "over = hole − lamp", (hole_m, part.diameter_m), over_m),
            (Fix(f"Holes of {_mm(good_m)}", partial(_mounted, piece_id=piece.id, hole_m=good_m)),),
        )  # fmt: skip


def _mounted(build: Build, piece_id: str, **changes: float) -> Build:
    piece = build.line.piece(piece_id)
    return change_piece(build, piece_id, mount=revise(piece.mount, **changes))


@rule("depth", "{n} pieces have too little room behind")
def depth(evidence: Evidence) -> Iterator[Finding]:
    """Less room behind the wall than the lamp stands out there."""
    for piece, part in _lamps(evidence.build):
        mount = piece.mount
        if mount.depth_m is None:
            continue
        needed_m = part.depth_m + mount.spacer_m - (mount.wall_m or 0.0)
        lacks_m = needed_m - mount.depth_m
        if lacks_m > 1e-9:
            yield Finding(
                Severity.WONT_WORK, "depth", _of(piece), f"{piece.name} stands out behind",
                f"{_mm(needed_m)} behind the wall, {_mm(mount.depth_m)} of room: {_mm(lacks_m)} too little. Lower the "
                "spacer, bend the leads at once, or choose a flatter lamp.",
                partial(_working, f"Depth of {piece.name}", "needed = lamp + spacer − wall",
                        (part.depth_m + mount.spacer_m, mount.wall_m or 0.0), needed_m),
                _lower_spacer(piece, lacks_m),
            )  # fmt: skip


def _lower_spacer(piece: Piece, lacks_m: float) -> tuple[Fix, ...]:
    """A spacer that much lower, where there is one that high."""
    spacer_m = round(piece.mount.spacer_m - lacks_m - 1e-5, 5)
    if spacer_m < 0:
        return ()
    return (Fix(f"Spacer of {_mm(spacer_m)}", partial(_mounted, piece_id=piece.id, spacer_m=spacer_m)),)


@rule("collide", "{n} pairs of lamps collide")
def collide(evidence: Evidence) -> Iterator[Finding]:
    """Lamps nearer to each other than they are wide, with a wall between their holes."""
    found = list(_lamps(evidence.build))
    if not found:
        return
    places = np.concatenate([slot_places(piece) for piece, _ in found])
    wide = np.concatenate([np.full(piece.slot_count, _width_m(piece, part)) for piece, part in found])
    owner = np.concatenate([np.full(piece.slot_count, number) for number, (piece, _) in enumerate(found)])
    index = np.concatenate([np.arange(piece.slot_count) for piece, _ in found])
    worst: dict[tuple[int, int], tuple[float, int, int]] = {}
    for one, other in sorted(KDTree(places).query_pairs(float(wide.max()))):
        room_m = float(np.hypot(*(places[one] - places[other])) - (wide[one] + wide[other]) / 2)
        pair = (int(owner[one]), int(owner[other]))
        if room_m < -1e-9 and room_m < worst.get(pair, (0.0, 0, 0))[0]:
            worst[pair] = (room_m, int(one), int(other))
    for (first, second), (room_m, one, other) in worst.items():
        apart_m = float(np.hypot(*(places[one] - places[other])))
        piece, own = found[first][0], first == second
        names = [found[owner[each]][0].place_name(int(index[each])) for each in (one, other)]
        yield Finding(
            Severity.WONT_WORK, "collide",
            Place.at(piece.id, int(index[one]), *_pair(found, first, second)),
            f"{names[0]} and {names[1]} collide",
            f"Their middles are {_mm(apart_m)} apart and need {_mm(apart_m - room_m)}: {_mm(-room_m)} too little.",
            partial(_working, f"Room between {names[0]} and {names[1]}", "room = apart − needed",
                    (apart_m, apart_m - room_m), room_m),
            _farther(piece, _width_m(*found[first])) if own else (),
        )  # fmt: skip


def _pair(found: list[tuple[Lamps, LampPart]], *numbers: int) -> list[Ref]:
    """The pieces of two lamps, once where it is one."""
    return [Ref("pieces", found[number][0].id) for number in sorted(set(numbers))]


def _width_m(piece: Lamps, part: LampPart) -> float:
    """How wide a lamp is with its hole, and the wall that must stay to the next hole. [m]"""
    hole_m = piece.mount.hole_m
    return part.diameter_m if hole_m is None else max(part.diameter_m, hole_m + WALL_BETWEEN_M)


def _farther(piece: Lamps, wide_m: float) -> tuple[Fix, ...]:
    """What brings the lamps of a piece far enough apart; lamps at spots of their own are moved by hand."""
    if isinstance(piece.layout, AtSpots):
        return ()
    places = slot_places(piece)
    near = KDTree(places).query(places, k=2)[0][:, 1].min() if piece.slot_count > 1 else 0.0
    if near <= 1e-9:
        return ()
    spacing_m = round(spacing_of(piece) * wide_m / float(near) * 1.0005 + 1e-5, 5)
    edit = partial(change_piece, piece_id=piece.id, spacing_m=spacing_m)
    return (Fix(f"{_mm(spacing_m)} from one to the next", edit),)


@rule("leads-unknown", "{n} lamps have leads that nobody knows")
def leads_unknown(evidence: Evidence) -> Iterator[Finding]:
    """A lamp whose lead map is not known."""
    for piece, part in _lamps(evidence.build):
        if part.leads is None or not part.leads.order:
            yield Finding(
                Severity.HINT, "leads-unknown", _of(piece), f"Leads of {piece.name} are unknown",
                f"Which of the {part.lead_count} leads is which is not said: Bench will find it, or enter it here.",
            )  # fmt: skip
