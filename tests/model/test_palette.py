"""Named colours: changed wherever they are used, let go without a trace."""

from __future__ import annotations

import pytest

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_palette import add_swatch, change_swatch, remove_swatch, use_swatch
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import dumps, loads


def tide() -> Build:
    build = add_effect(one_strip(20), look_of("steady", colour="#1040a0"), 0, 9, 0, 5)
    build = add_effect(build, look_of("gradient", colour="#ffffff", colour_to="#1040a0"), 0, 9, 5, 5)
    build = add_effect(build, look_of("wheel"), 0, 9, 10, 5)
    return add_swatch(build, "#1040a0", "Tide")


def test_a_named_colour_changes_wherever_it_is_used_and_nowhere_else() -> None:
    build = tide()
    changed = change_swatch(build, build.palette[0].id, colour="#208060")
    assert changed.effects[0].look.values["colour"] == "#208060"
    assert changed.effects[1].look.values["colour_to"] == "#208060"
    assert changed.effects[1].look.values["colour"] == "#ffffff"
    assert changed.effects[2] is build.effects[2]
    assert changed.palette[0].name == "Tide"
    renamed = change_swatch(build, build.palette[0].id, name="Ebb")
    assert renamed.effects == build.effects
    assert renamed.palette[0].name == "Ebb"


def test_a_colour_is_given_to_an_effect_and_its_name_let_go() -> None:
    build = tide()
    used = use_swatch(build, build.palette[0].id, build.effects[1].id)
    assert used.effects[1].look.values["colour"] == "#1040a0"
    with pytest.raises(LanternError, match="wheel has no colour"):
        use_swatch(build, build.palette[0].id, build.effects[2].id)
    gone = remove_swatch(build, build.palette[0].id)
    assert gone.palette == ()
    assert gone.effects == build.effects


def test_names_are_given_once_and_kept_in_the_file() -> None:
    build = tide()
    with pytest.raises(LanternError, match="“Tide” already"):
        add_swatch(build, "#1040a0")
    with pytest.raises(LanternError):
        add_swatch(build, "blue")
    two = add_swatch(build, "#ffffff")
    assert two.palette[1].name == "Colour 2"
    assert loads(dumps(two)) == two
