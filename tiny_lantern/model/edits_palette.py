"""Edits of the palette: colours named, changed wherever they are used, and let go."""

from __future__ import annotations

from itertools import count

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import fresh_id, item, replaced, without
from tiny_lantern.model.edits_show import change_look
from tiny_lantern.model.effects import Effect
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.palette import Swatch, colours_of, recoloured


def add_swatch(build: Build, colour: str, name: str = "") -> Build:
    """Give a colour a name.

    Args:
        build: the build.
        colour: written ``#rrggbb``.
        name: what it is called, a number without.

    Raises:
        LanternError: the colour has a name already, or is none.
    """
    known = next((swatch for swatch in build.palette if swatch.colour.lower() == colour.lower()), None)
    if known is not None:
        raise LanternError(f"{colour} is “{known.name}” already", "palette", "a colour that has no name yet")
    taken = {swatch.name for swatch in build.palette}
    free = next(word for number in count(len(taken) + 1) if (word := f"Colour {number}") not in taken)
    swatch = made(Swatch, id=fresh_id(build, name or free), name=name or free, colour=colour.lower())
    return revise(build, palette=(*build.palette, swatch))


def change_swatch(build: Build, swatch_id: str, name: str | None = None, colour: str | None = None) -> Build:
    """Rename a colour, or change it wherever it is used.

    Raises:
        LanternError: there is no such colour, or the new one is none.
    """
    swatch = item(build.palette, swatch_id, "colour")
    new = revise(swatch, name=name or swatch.name, colour=(colour or swatch.colour).lower())
    effects = tuple(_with_look(effect, swatch.colour, new.colour) for effect in build.effects)
    return revise(build, palette=replaced(build.palette, swatch_id, new), effects=effects)


def _with_look(effect: Effect, before: str, after: str) -> Effect:
    look = recoloured(effect.look, before, after)
    return effect if look is effect.look else revise(effect, look=look)


def remove_swatch(build: Build, swatch_id: str) -> Build:
    """Let a name go; effects keep the colour."""
    item(build.palette, swatch_id, "colour")
    return revise(build, palette=without(build.palette, swatch_id))


def use_swatch(build: Build, swatch_id: str, effect_id: str) -> Build:
    """Give an effect a colour of the palette as its first one.

    Raises:
        LanternError: the effect has no colour of its own.
    """
    swatch = item(build.palette, swatch_id, "colour")
    look = item(build.effects, effect_id, "effect").look
    names = list(colours_of(look))
    if not names:
        raise LanternError(f"{look.word} has no colour of its own", "palette", "an effect that has one")
    return change_look(build, effect_id, **{names[0]: swatch.colour})
