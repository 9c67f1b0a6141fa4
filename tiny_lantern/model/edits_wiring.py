"""Edits of the wiring's state."""

from __future__ import annotations

from collections.abc import Sequence

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, with_part
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.wiring import ChosenWire, State, Tick, WireColour


def tick_wire(build: Build, key: str, state: State | None, found: str = "", then: str = "") -> Build:
    """Say what became of a connection, or that nothing did yet, and where one goes on."""
    others = tuple(tick for tick in build.wiring.ticks if tick.key != key)
    ticks = others if state is None else (*others, made(Tick, key=key, state=state, found=found))
    return revise(build, wiring=revise(build.wiring, ticks=ticks, at=then or build.wiring.at))


def colour_wires(build: Build, role: str, colour: str) -> Build:
    """Use a colour for a role."""
    others = tuple(each for each in build.wiring.colours if each.role != role)
    colours = (*others, made(WireColour, role=role, colour=colour.strip()))
    return revise(build, wiring=revise(build.wiring, colours=colours))


def colour_lamps_by(build: Build, by: str) -> Build:
    """Colour the wires of lamps by their role, by the die that they light, or lamp by lamp.

    Args:
        build: the build.
        by: ``role``, ``die`` or ``lamp``.

    Raises:
        LanternError: it is none of these.
    """
    return revise(build, wiring=revise(build.wiring, lamp_colours=by))


def stamp_printed(build: Build, stamp: str) -> Build:
    """Remember the stamp of the sheet that was printed."""
    return revise(build, wiring=revise(build.wiring, printed=stamp))


def choose_wire(build: Build, key: str, wire: WirePart | None, fuse: FusePart | None) -> Build:
    """The build with a wire and a fuse of a person's own for one conductor; without both the program chooses again.

    Args:
        build: the build.
        key: the conductor's key.
        wire: the wire; None where the program is to choose it.
        fuse: the fuse; None where the program is to choose it.
    """
    others = tuple(each for each in build.wires if each.key != key)
    for part in (wire, fuse):
        build = with_part(build, part) if part is not None else build
    if wire is None and fuse is None:
        return revise(build, wires=others)
    known = next((each.id for each in build.wires if each.key == key), None) or fresh_id(build, "wire")
    chosen = made(ChosenWire, id=known, key=key, wire_id=wire.id if wire else None, fuse_id=fuse.id if fuse else None)
    return revise(build, wires=(*others, chosen))


def take_wires(build: Build, wires: Sequence[WirePart]) -> Build:
    """The build wired with some wires where they serve, with others only where none of them does.

    Args:
        build: the build.
        wires: the wires that are taken first; any gauge where there are none.
    """
    for wire in wires:
        build = with_part(build, wire)
    return revise(build, wiring=revise(build.wiring, wire_ids=tuple(wire.id for wire in wires)))
