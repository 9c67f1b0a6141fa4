"""Edits of the wiring's state."""

from __future__ import annotations

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.wiring import State, Tick, WireColour


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


def stamp_printed(build: Build, stamp: str) -> Build:
    """Remember the stamp of the sheet that was printed."""
    return revise(build, wiring=revise(build.wiring, printed=stamp))
