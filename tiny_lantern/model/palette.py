"""Named colours of a build, and the edits of them."""

from __future__ import annotations

from typing import TypeVar

from tiny_lantern.effects.kind import ColourParameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.base import Colour, Frozen, Id, Name, revise
from tiny_lantern.model.effects import Look


class Swatch(Frozen):
    """A colour with a name. Effects hold colours themselves; those that have a swatch's colour change with it."""

    id: Id
    name: Name
    colour: Colour


L = TypeVar("L", bound=Look)


def colours_of(look: Look) -> dict[str, str]:
    """The colours among a look's parameters, by name."""
    return {
        parameter.name: look.values[parameter.name]
        for parameter in effect_kinds()[look.kind].parameters
        if isinstance(parameter, ColourParameter)
    }


def recoloured(look: L, before: str, after: str) -> L:
    """A look with one colour in place of another wherever it has it."""
    changes = {name: after for name, colour in colours_of(look).items() if colour == before}
    return revise(look, **changes) if changes else look
