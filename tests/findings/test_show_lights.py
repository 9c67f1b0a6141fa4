"""Effects that reach over an edge, and colours that lamps do not have: both sides of each verdict."""

from __future__ import annotations

import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import lamps
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Finding
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of


def told(build: Build, code: str) -> list[Finding]:
    found = check(gather(build, FullWhite()))
    return [each for finding in found for each in finding.each if each.code == code]


def two_strips() -> Build:
    return add_strip(one_strip(60), part("rgb-5v-60"), 40, "Next")


@pytest.mark.parametrize(
    ("first", "last", "speaks"),
    [
        (0, 59, False), (0, 60, True), (0, 63, True), (0, 64, False), (0, 99, False), (30, 61, False),
        (54, 99, True), (53, 99, False), (58, 61, False),
    ],
)  # fmt: skip
def test_an_effect_that_reaches_a_little_into_another_piece_is_told(first: int, last: int, speaks: bool) -> None:
    build = add_effect(two_strips(), look_of("steady"), first, last, 1.0, 5.0)
    found = told(build, "over-edge")
    assert bool(found) is speaks
    if found:
        mended = found[0].tries[0].edit(build)
        assert told(mended, "over-edge") == []
        assert mended.line.covered(mended.effects[0]) in ((0, 60), (60, 100))
        assert mended.effects[0].start_s == 1.0


def test_how_far_it_reaches_is_said() -> None:
    within = add_effect(two_strips(), look_of("steady"), 5, 9, 0.0, 5.0)
    (found,) = told(add_effect(within, look_of("steady"), 0, 61, 1.0, 5.0), "over-edge")
    assert "reaches 2 lights into Next" in found.title


def two_colours(colour: str, kind: str = "steady") -> Build:
    piece = lamps(4, "lamp-two-colour-2")
    build = add_piece(Build(), part(piece.part_id), piece)
    return add_effect(build, look_of(kind, colour=colour), 1, 2, 3.0, 5.0)


def test_a_colour_that_a_lamp_has_nothing_of_is_told_with_its_moment_and_mended() -> None:
    build = two_colours("#0000ff")
    (found,) = told(build, "colour-lost")
    assert "0:03.0" in found.title
    assert "2 of 4 lamps" in found.message
    assert found.place.first.index == 1
    mended = found.tries[0].edit(build)
    assert told(mended, "colour-lost") == []


def test_the_lamp_that_goes_dark_first_is_named_of_several() -> None:
    build = add_effect(two_colours("#0000ff"), look_of("steady", colour="#0000ff"), 3, 3, 1.0, 1.0)
    (found,) = told(build, "colour-lost")
    assert "0:01.0" in found.title
    assert found.place.first.index == 3


def test_of_several_effects_the_one_that_asks_in_vain_is_mended() -> None:
    piece = lamps(4, "lamp-two-colour-2")
    build = add_piece(Build(), part(piece.part_id), piece)
    for colour, first, last, start_s in (("#0000ff", 2, 3, 3.0), ("#ff0000", 0, 0, 3.0), ("#ff0000", 3, 3, 9.0)):
        build = add_effect(build, look_of("steady", colour=colour), first, last, start_s, 5.0)
    (found,) = told(build, "colour-lost")
    assert found.place.one("effects") == build.effects[0].id
    assert told(found.tries[0].edit(build), "colour-lost") == []


@pytest.mark.parametrize("colour", ["#ff0000", "#ffb000", "#00ff00", "#200040", "#ffffff"])
def test_colours_that_it_shows_in_part_and_dim_ones_stay_quiet(colour: str) -> None:
    assert told(two_colours(colour), "colour-lost") == []
