"""Rules on the room behind: passages that wires go through, boxes that supplies and boards sit in."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial
from typing import TYPE_CHECKING

from tiny_lantern.electrical.room_behind import Sizes, conductors_m, contents_of, fill_of, needed_diameter_m
from tiny_lantern.findings.evidence import Evidence
from tiny_lantern.findings.finding import Finding, Fix, Severity, rule
from tiny_lantern.model.edits_room import change_box, change_passage
from tiny_lantern.model.place import Place
from tiny_lantern.model.working import Step, Working

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

ROUND_UP_M = 0.0005
CLEARANCE_M = 0.004
BOX_FILL = 0.60


@rule("passage", "{n} passages are too small")
def passage(evidence: Evidence) -> Iterator[Finding]:
    """A passage that its wires fill beyond what can be drawn through it."""
    for hole in evidence.build.passages:
        outer = conductors_m(evidence.build, hole)
        needed_m = needed_diameter_m(outer)
        if needed_m <= hole.diameter_m + 1e-9:
            continue
        good_m = math.ceil(needed_m / ROUND_UP_M - 1e-9) * ROUND_UP_M
        edit = partial(change_passage, passage_id=hole.id, diameter_m=round(good_m, 5))
        area = sum(each**2 for each in outer)
        step = Step("needed = √(Σ d² / fill)", f"√({area * 1e6:.2f} mm² / {fill_of(len(outer)):.0%})", _mm(needed_m))
        yield Finding(
            Severity.WONT_WORK, "passage", Place.on("passages", hole.id), f"{hole.name} is too small for its wires",
            f"{len(outer)} conductors need a hole of {_mm(needed_m)}, and it has {_mm(hole.diameter_m)}: "
            f"{_mm(needed_m - hole.diameter_m)} too little.",
            partial(Working, f"Room in {hole.name}", (step,)),
            (Fix(f"A hole of {_mm(good_m)}", edit),),
        )  # fmt: skip


@rule("box", "{n} boxes are too small")
def box(evidence: Evidence) -> Iterator[Finding]:
    """A box that something does not go into, or that its contents fill beyond what leaves room for wires and air."""
    for case in evidence.build.boxes:
        held = contents_of(evidence.build, case)
        good = fitting_box(case.sizes_m, [sizes for _, sizes in held])
        if good == case.sizes_m:
            continue
        fix = Fix(f"A box of {_sizes(good)}", partial(_resized, box_id=case.id, sizes_m=good))
        tight = [(name, lack) for name, sizes in held if (lack := lacking_m(case.sizes_m, sizes)) > 1e-9]
        volume, room = sum(math.prod(sizes) for _, sizes in held), math.prod(case.sizes_m)
        if tight:
            name, lack = max(tight, key=lambda pair: pair[1])
            message = f"{name} lacks {_mm(lack)} of room in a box of {_sizes(case.sizes_m)} inside."
        else:
            message = (
                f"Its contents fill {volume / room:.0%} of it, and {BOX_FILL:.0%} leaves room for wires and air: "
                f"{(volume / BOX_FILL - room) * 1e6:.0f} cm³ too little."
            )
        step = Step("fill = Σ contents / box", f"{volume * 1e6:.0f} cm³ / {room * 1e6:.0f} cm³", f"{volume / room:.0%}")
        yield Finding(
            Severity.WONT_WORK, "box", Place.on("boxes", case.id), f"{case.name} is too small for what is in it",
            message, partial(Working, f"Room in {case.name}", (step,)), (fix,),
        )  # fmt: skip


def lacking_m(inner: Sizes, outer: Sizes) -> float:
    """How much the worst side of a box lacks for a thing, laid as well as it can be, with room for a hand. [m]

    Args:
        inner: the box's inner sizes, (3,). [m]
        outer: the thing's outer sizes, (3,). [m]
    """
    return max(side + CLEARANCE_M - room for side, room in zip(sorted(outer), sorted(inner), strict=True))


def fitting_box(inner: Sizes, held: list[Sizes]) -> Sizes:
    """A box into which all goes, each side at least as large as it was; the box itself where all goes already.

    Args:
        inner: its inner sizes, (3,). [m]
        held: the outer sizes of what is in it, (n, 3). [m]
    """
    sides = list(inner)
    order = sorted(range(3), key=lambda number: inner[number])
    for outer in held:
        for number, side in zip(order, sorted(outer), strict=True):
            sides[number] = max(sides[number], _up(side + CLEARANCE_M))
    short = sum(math.prod(sizes) for sizes in held) / BOX_FILL / math.prod(sides)
    if short > 1 + 1e-9:
        sides = [_up(side * short ** (1 / 3)) for side in sides]
    return tuple(sides) if sides != list(inner) else inner  # type: ignore[return-value]


def _up(side_m: float) -> float:
    return math.ceil(side_m * 1000 - 1e-6) / 1000


def _resized(build: Build, box_id: str, sizes_m: Sizes) -> Build:
    width_m, height_m, depth_m = sizes_m
    return change_box(build, box_id, width_m=width_m, height_m=height_m, depth_m=depth_m)


def _mm(value_m: float) -> str:
    return f"{value_m * 1000:.1f} mm"


def _sizes(sizes_m: Sizes) -> str:
    return " × ".join(f"{side * 1000:.0f}" for side in sizes_m) + " mm"
