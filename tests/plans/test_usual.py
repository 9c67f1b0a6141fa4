"""What a lamp is asked for by default stands: nothing that a person is offered is wrong at once."""

import pytest

from tests.support.driven import lamps
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_drive import add_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.plans.ways import drive_piece, ways_for

BAD = (Severity.DANGER, Severity.WONT_WORK)


def with_lamps(board: BoardPart, lamp: LampPart, count: int) -> Build:
    """Some lamps beside a board."""
    return add_piece(add_board(Build(), board), lamp, lamps(count, lamp.id))


def asked_a(board_id: str, lamp_id: str, kind: str, count: int) -> list[float]:
    """What lamps are asked for when they are driven in a way. [A]"""
    build = with_lamps(shelf().find(BoardPart, board_id), shelf().find(LampPart, lamp_id), count)
    return [channel.wanted_a for channel in drive_piece(build, "lamps", kind).channels]


@pytest.mark.parametrize("board", shelf().of(BoardPart), ids=lambda board: board.id)
@pytest.mark.parametrize("lamp", [each for each in shelf().of(LampPart) if each.dies], ids=lambda lamp: lamp.id)
def test_no_way_that_is_offered_is_wrong_at_once(board: BoardPart, lamp: LampPart) -> None:
    build = with_lamps(board, lamp, 3)
    for way in ways_for(build, "lamps"):
        try:
            driven = drive_piece(build, "lamps", way.kind)
        except LanternError as error:
            assert error.where == "pins", way.word
            continue
        bad = [each.message for each in check(gather(driven, FullWhite())) if each.severity in BAD]
        assert bad == [], way.word


def test_a_lamp_is_asked_for_the_most_that_its_supply_leaves_a_resistor_for() -> None:
    assert asked_a("board-8bit-large", "led-blue-5mm", "pin", 2) == [0.010, 0.010], "2 V are left of 5"
    assert asked_a("board-routed-3v3", "led-blue-5mm", "pin", 2) == [0.006, 0.006], "3.3 V less 3.06 V, behind 40 ohms"
    assert asked_a("board-routed-3v3", "led-red-5mm", "pin", 2) == [0.010, 0.010]


def test_a_chip_that_bears_less_is_asked_for_less_until_it_bears_it() -> None:
    few, many = (asked_a("board-8bit-large", "led-red-5mm", "register", count) for count in (4, 8))
    assert few == [0.010] * 4
    assert many[0] <= few[0]
    rgb = asked_a("board-8bit-large", "lamp-rgb-cathode", "register", 3)
    assert rgb == [0.008] * 9, "ten of each of eight would be 72 of the 70 mA that its supply leg may carry"


def test_what_a_person_asked_for_is_kept() -> None:
    build = with_lamps(shelf().find(BoardPart, "board-routed-3v3"), shelf().find(LampPart, "led-blue-5mm"), 2)
    build = drive_piece(build, "lamps", "pin")
    build = revise(build, channels=tuple(revise(each, wanted_a=0.012) for each in build.channels))
    again = drive_piece(build, "lamps", "pwm")
    assert [channel.wanted_a for channel in again.channels] == [0.012, 0.012]


def test_a_lamp_that_no_resistor_can_set_has_a_mend_that_holds() -> None:
    build = with_lamps(shelf().find(BoardPart, "board-routed-3v3"), shelf().find(LampPart, "led-blue-5mm"), 1)
    build = drive_piece(build, "lamps", "pin")
    asked = revise(build, channels=tuple(revise(each, wanted_a=0.01, resistor_ohm=None) for each in build.channels))
    (bare,) = (each for each in check(gather(asked, FullWhite())) if each.code == "no-resistor")
    (mend,) = bare.tries
    assert mend.label == "Ask for 6.0 mA"
    assert mend.edit is not None
    mended = mend.edit(asked)
    assert not [each.message for each in check(gather(mended, FullWhite())) if each.severity in BAD]
