"""A driven piece changes, and its drive follows: channels, outputs, chips, rows, pins."""

import pytest

from tests.findings.test_findings import found
from tests.support.builds import part
from tests.support.driven import driven, hold, lamps, matrix, with_channel
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts, with_part
from tiny_lantern.model.edits_pieces import change_piece
from tiny_lantern.model.emitters import emitters_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part


def follows(build: Build) -> None:
    """Every emitter of every piece has one channel, each on an output of its own."""
    wanted = [
        (emitter.slots, emitter.die)
        for piece in build.pieces
        for emitter in emitters_of(piece, build.shelf.find(Part, piece.part_id))
    ]
    assert [(channel.slots, channel.die) for channel in build.channels] == wanted
    outputs = [(channel.driver_id, channel.output) for channel in build.channels]
    assert len(set(outputs)) == len(outputs)
    solve_drive(build)


def test_fewer_lamps_lose_their_channels_and_pins_and_the_others_keep_theirs() -> None:
    build = with_channel(driven("pin"), resistor_ohm=999.0)
    less = change_piece(build, "lamps", lamp_count=2)
    follows(less)
    assert less.channels == build.channels[:2]
    assert [pin.role for pin in less.drivers[0].pins] == ["lamp 0", "lamp 1"]
    assert less.drivers[0].pins == build.drivers[0].pins[:2]


def test_more_lamps_get_channels_like_the_others_chips_and_a_word_on_their_pins() -> None:
    more = change_piece(driven("register"), "lamps", lamp_count=9)
    follows(more)
    assert more.drivers[0].chips == 2  # type: ignore[union-attr]
    assert {channel.resistor_ohm for channel in more.channels} == {more.channels[0].resistor_ohm}
    assert "no-pin" not in found(more)
    told = found(change_piece(driven("pin"), "lamps", lamp_count=6))["no-pin"]
    assert "lacks 2 pins" in told.title


def test_lamps_wired_in_a_string_are_one_channel_and_apart_again_one_each() -> None:
    build = driven("register", led_v=24.0)
    string = change_piece(build, "lamps", wired="series")
    follows(string)
    (channel,) = string.channels
    assert len(channel.slots) == 4
    one, four = (solve_drive(each).by_driver[each.drivers[0].id] for each in (build, string))
    assert four.case.lamps[0].led.foot_v == pytest.approx(4 * one.case.lamps[0].led.foot_v)  # type: ignore[union-attr]
    follows(change_piece(string, "lamps", wired="apart"))


def test_a_matrix_takes_its_rows_and_columns_along() -> None:
    build = driven("scanned", matrix())
    small = change_piece(build, build.pieces[0].id, rows=4, columns=9)
    follows(small)
    driver = small.drivers[0]
    assert (driver.rows, driver.columns, driver.chips) == (4, 9, 3)  # type: ignore[union-attr]
    assert [channel.output for channel in small.channels] == list(range(36))


def test_a_rail_of_fewer_lamps_is_one_channel_still() -> None:
    build = driven("hold", hold(5))
    less = change_piece(build, build.pieces[0].id, lamp_count=3)
    follows(less)
    assert len(less.channels) == 1


def test_another_kind_of_lamp_has_channels_for_its_own_dies_and_one_on_a_data_line_has_none() -> None:
    build = with_part(driven("sink", lamps(3, "lamp-rgb-anode")), part("led-red-5mm"))
    plain = change_piece(build, "lamps", part_id="led-red-5mm")
    follows(plain)
    assert len(plain.channels) == 3
    follows(change_piece(plain, "lamps", part_id="lamp-rgb-anode"))


def test_what_lies_or_is_called_otherwise_is_driven_as_before() -> None:
    build = driven("pair", lamps(2, "lamp-two-colour-2"))
    named = change_piece(build, "lamps", name="Berths", spacing_m=0.3)
    assert named.channels == build.channels
    assert named.drivers == build.drivers
    grown = change_piece(build, "lamps", lamp_count=3)
    follows(grown)
    assert [channel.output for channel in grown.channels] == [0, 1, 2, 3, 4, 5]


def test_a_lamp_that_no_channel_drives_is_told_with_how_many_wait() -> None:
    build = driven("pin")
    told = found(revise(build, channels=build.channels[:3]))["not-driven"]
    assert "1 of 4 channels wait" in told.title
    assert "not-driven" not in found(build)


def test_a_die_that_is_driven_cannot_be_taken_out_of_its_part() -> None:
    build = driven("sink", lamps(1, "lamp-rgb-anode"))
    own = build.shelf.find(LampPart, "lamp-rgb-anode")
    with pytest.raises(LanternError, match="has no blue die"):
        change_parts(build, revise(own, dies=own.dies[:2], leads=None))
