"""Several effects at once: moved together, taken off, and carried as text to another place or another build."""

from __future__ import annotations

import pytest

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_many import (
    change_effects,
    effects_text,
    is_effects_text,
    move_effects,
    paste_effects,
    remove_effects,
)  # fmt: skip
from tiny_lantern.model.edits_show import add_effect, change_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError


def two() -> Build:
    """Two effects, one on lights 10 to 19 from 5 s, one on 30 to 34 from 8 s."""
    build = add_effect(one_strip(60), look_of("steady", colour="#ff0000"), 10, 19, 5.0, 2.0)
    build = add_effect(build, look_of("breathe"), 30, 34, 8.0, 4.0)
    return change_effect(build, build.effects[1].id, mirrored=True, turned=2, backward=True, layer="add")


def places(build: Build) -> list[tuple[int, int, float]]:
    return [(*build.line.covered(effect), effect.start_s) for effect in build.effects]


def ids(build: Build) -> list[str]:
    return [effect.id for effect in build.effects]


def test_they_move_together_and_stop_together_at_the_ends_of_the_weave() -> None:
    build = two()
    assert places(move_effects(build, ids(build), 3, 1.5)) == [(13, 23, 6.5), (33, 38, 9.5)]
    assert places(move_effects(build, ids(build), -50, -50)) == [(0, 10, 0.0), (20, 25, 3.0)]
    assert places(move_effects(build, ids(build), 99, 99)) == [(35, 45, 53.0), (55, 60, 56.0)]
    assert places(move_effects(build, ids(build)[:1], 99, 0)) == [(50, 60, 5.0), (30, 35, 8.0)]


def test_they_are_changed_and_removed_together() -> None:
    build = two()
    turned = change_effects(build, ids(build), lambda effect: {"mirrored": not effect.mirrored})
    assert [effect.mirrored for effect in turned.effects] == [True, False]
    assert remove_effects(build, ids(build)).effects == ()
    assert ids(remove_effects(build, ids(build)[:1])) == ids(build)[1:]
    with pytest.raises(LanternError, match="no effect selected"):
        move_effects(build, ("none",), 1, 0)


def test_as_text_they_come_out_elsewhere_as_they_were() -> None:
    build = two()
    text = effects_text(build, ids(build))
    assert is_effects_text(text)
    other = paste_effects(one_strip(40), text, 2, 20.0)
    assert places(other) == [(2, 12, 20.0), (22, 27, 23.0)]
    again = other.effects[1]
    assert (again.mirrored, again.turned, again.backward, again.layer) == (True, 2, True, "add")
    assert again.look == build.effects[1].look
    both = paste_effects(build, text, 10, 5.0)
    assert len(set(ids(both))) == 4


def test_what_would_lie_off_the_weave_is_cut_and_nothing_at_all_is_refused() -> None:
    build = two()
    text = effects_text(build, ids(build))
    cut = paste_effects(one_strip(40), text, 34, 58.5)
    assert [(first, stop, start) for first, stop, start in places(cut)] == [(34, 40, 58.5)]
    assert cut.effects[0].length_s == 1.5
    with pytest.raises(LanternError, match="none of it"):
        paste_effects(one_strip(40), text, 0, 60.0)


@pytest.mark.parametrize("text", ["", "pier", "[]", '{"format": "tiny-lantern-effects", "effects": []}'])
def test_a_text_that_holds_no_effects_is_refused(text: str) -> None:
    with pytest.raises(LanternError):
        paste_effects(one_strip(40), text, 0, 0.0)
