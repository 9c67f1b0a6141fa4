"""The colours of lamps' wires: all alike, by the die that each lights, or lamp by lamp."""

import pytest

from tests.support.driven import driven, lamps
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_wiring import colour_lamps_by, colour_wires
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.sheets.connections import connections


def switched(build: Build) -> list[str]:
    """The colours of the wires that switch lamps."""
    return [row.colour for row in connections(build) if row.key.endswith("/lamp")]


def test_wires_of_lamps_are_alike_or_have_the_colour_of_their_die_or_of_their_lamp() -> None:
    build = driven("pin", lamps(2, "lamp-rgb-cathode"))
    assert set(switched(build)) == {"purple"}
    assert set(switched(colour_wires(build, "lamps", "grey"))) == {"grey"}
    assert switched(colour_lamps_by(build, "die")) == ["red", "green", "blue"] * 2
    assert switched(colour_lamps_by(build, "lamp")) == ["brown"] * 3 + ["red"] * 3
    others = {row.colour for row in connections(colour_lamps_by(build, "lamp")) if row.role == "return"}
    assert others == {"black"}, "commons keep their role's"


def test_a_choice_of_colours_is_kept_and_another_word_refused() -> None:
    build = colour_lamps_by(driven("pin"), "die")
    assert loads(dumps(build)) == build
    assert set(switched(build)) == {"red"}
    with pytest.raises(LanternError):
        colour_lamps_by(build, "mood")
