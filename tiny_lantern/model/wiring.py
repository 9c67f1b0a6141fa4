"""How far the wiring is: which connections are done, skipped or wrong as found, and the person's own colour code."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from tiny_lantern.model.base import PLAIN_LINE, Frozen, Id, Text
from tiny_lantern.model.refers import Refers

Key = Annotated[str, StringConstraints(min_length=1, max_length=200, pattern=PLAIN_LINE)]
ColourName = Annotated[str, StringConstraints(min_length=1, max_length=40, pattern=PLAIN_LINE)]
State = Literal["done", "skipped", "wrong"]
ROLES = {"return": "black", "logic supply": "red", "lamp supply": "orange", "data": "yellow", "clock": "blue",
         "latch": "green", "control": "white", "lamps": "purple", "feeds": "red and black"}  # fmt: skip


BY_DIE = {"amber": "orange", "warm white": "white"}
BY_LAMP = ("brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white", "pink")
LampColours = Literal["role", "die", "lamp"]


class Tick(Frozen):
    """What became of one connection; ``found`` is what was there instead."""

    key: Key
    state: State
    found: Text = ""


class WireColour(Frozen):
    """The colour that a person uses for a role."""

    role: ColourName
    colour: ColourName


class ChosenWire(Frozen):
    """What a person chose for one conductor, by its key: its wire, and its fuse; None where the program goes on
    choosing."""

    id: Id
    key: Key
    wire_id: Annotated[Id, Refers("parts.wire")] | None = None
    fuse_id: Annotated[Id, Refers("parts.fuse")] | None = None


class Wiring(Frozen):
    """The state of the wiring: ticks, where one is, colours of one's own, how much more to cut, the stamp of the sheet
    that was printed last, the wires that are taken first, by their ids, none where any gauge will do, and by what the
    wires of lamps are coloured: all alike, by the die that they light, or lamp by lamp."""

    ticks: Annotated[tuple[Tick, ...], Field(max_length=50_000)] = ()
    at: str = ""
    colours: Annotated[tuple[WireColour, ...], Field(max_length=50)] = ()
    allowance_m: Annotated[float, Field(ge=0, le=10)] = 0.06
    lamp_colours: LampColours = "role"
    wire_ids: Annotated[tuple[Id, ...], Field(max_length=100)] = ()
    printed: Annotated[str, StringConstraints(max_length=16, pattern=PLAIN_LINE)] = ""

    def colour_of(self, role: str) -> str:
        """The colour of a role: the person's own, else the usual one."""
        own = next((each.colour for each in self.colours if each.role == role), None)
        return own or ROLES.get(role, "any")

    def lamp_colour(self, die: str, number: int) -> str:
        """The colour of a wire that switches a lamp.

        Args:
            die: the name of the die that it lights.
            number: the lamp's number in its piece, from 0. [-]
        """
        if self.lamp_colours == "die" and die:
            return BY_DIE.get(die, die)
        return BY_LAMP[number % len(BY_LAMP)] if self.lamp_colours == "lamp" else self.colour_of("lamps")

    def state_of(self, key: str) -> State | None:
        """What became of a connection; None where nothing yet."""
        return next((tick.state for tick in self.ticks if tick.key == key), None)
