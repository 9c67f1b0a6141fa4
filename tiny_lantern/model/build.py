"""The build: one frozen document that holds everything a person decided."""

from __future__ import annotations

from pydantic import model_validator

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.references import check_references
from tiny_lantern.model.sources import check_sources
from tiny_lantern.model.steering import check_steering
from tiny_lantern.model.whole import (
    FORMAT,
    MAX_ALL_PIXELS,
    MAX_ALL_TAPS,
    MAX_EFFECT_S,
    MAX_PARTS,
    MAX_PIECES,
    NOMINAL_CORNER,
    RELAXED,
    STANDARD,
    STRICT,
    VERSION,
    Approach,
    Attach,
    Bus,
    ColourLoad,
    Conductor,
    Corner,
    DataLine,
    Feed,
    FrameLoad,
    FullWhite,
    Joint,
    LevelLoad,
    Limits,
    Load,
    LoadCase,
    OnBus,
    OnStrip,
    Site,
    Supply,
    SupplyId,
    Whole,
)

__all__ = [
    "FORMAT",
    "MAX_ALL_PIXELS",
    "MAX_ALL_TAPS",
    "MAX_EFFECT_S",
    "MAX_PARTS",
    "MAX_PIECES",
    "NOMINAL_CORNER",
    "RELAXED",
    "STANDARD",
    "STRICT",
    "VERSION",
    "Approach",
    "Attach",
    "Build",
    "Bus",
    "ColourLoad",
    "Conductor",
    "Corner",
    "DataLine",
    "Draft",
    "Feed",
    "FrameLoad",
    "FullWhite",
    "Joint",
    "LevelLoad",
    "Limits",
    "Load",
    "LoadCase",
    "OnBus",
    "OnStrip",
    "Site",
    "Supply",
    "SupplyId",
    "draft_of",
]


class Build(Whole):
    """Everything a person decided about one installation, in SI units."""

    @model_validator(mode="after")
    def _holds_together(self) -> Build:
        _bearable(self)
        check_references(self)
        check_sources(self)
        check_steering(self)
        return self


class Draft(Build):
    """A build amid an edit of many steps: each field is checked, how they hold together only once it is ``kept``."""

    @model_validator(mode="after")
    def _holds_together(self) -> Draft:
        return self

    def kept(self) -> Build:
        """The build that it has become.

        Raises:
            LanternError: it does not hold together.
        """
        return Build.model_validate(dict(self))


def draft_of(build: Build) -> Draft:
    """A draft of a build, to be edited in many steps."""
    return Draft.model_validate(dict(build))


def _bearable(build: Build) -> None:
    """Refuse what each list allows but all together do not."""
    own = [feed.letter for feed in build.feeds if feed.letter]
    if len(own) != len(set(own)):
        twice = next(letter for number, letter in enumerate(own) if letter in own[:number])
        raise LanternError(f"the letter {twice} stands at two feeds", "feeds", "a letter of its own for each")
    for what, where, amount, most in (
        ("lights", "pieces", sum(piece.slot_count for piece in build.pieces), MAX_ALL_PIXELS),
        ("taps", "buses", sum(len(bus.tap_pixels) for bus in build.buses), MAX_ALL_TAPS),
        ("seconds of effects", "effects", sum(effect.length_s for effect in build.effects), MAX_EFFECT_S),
    ):
        if amount > most:
            raise LanternError(f"there are {amount:,.0f} {what} together", where, f"at most {most:,.0f}")
