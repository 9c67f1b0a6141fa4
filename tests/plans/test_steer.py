"""Registers that control transistors, relays and boxes in place of pins."""

import pytest

from tests.support.builds import part
from tests.support.driven import driven, flood, lamps
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.clip import clip_text, pasted
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import another_board, change_driver
from tiny_lantern.model.edits_pieces import add_piece, remove_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.rewire import change_way, on_board
from tiny_lantern.plans.share import drive_with, move_output
from tiny_lantern.plans.steer import NEW, chains_for, steer
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.sheets.connections import connections


def beside(kind: str = "switch", count: int = 7, on: int = 3) -> Build:
    """Lamps on a register, and others driven in a way."""
    piece = revise(flood() if kind == "relay" else lamps(count), id="more", name="More")
    build = add_piece(driven("register", lamps(on)), part(piece.part_id), piece)
    return drive_piece(build, "more", kind)


def test_inputs_hang_on_the_outputs_after_those_of_the_lamps_and_give_up_their_pins() -> None:
    build = steer(beside(), "more-switch", "lamps-register")
    chain, driver = build.drivers
    assert (driver.inputs_on, driver.inputs_from, driver.pins) == ("lamps-register", 3, ())  # type: ignore[union-attr]
    assert chain.chips == 2, "ten outputs take two chips"  # type: ignore[union-attr]
    assert driver.on_off, "a register switches"
    gates = [row for row in connections(build) if row.key.endswith("/gate")]
    assert {row.start.on for row in gates} == {"Lamps chip 1", "Lamps chip 2"}
    back = steer(build, "more-switch", None)
    assert len(back.drivers[1].pins) == 7
    assert not back.drivers[1].on_off


def test_inputs_come_after_the_last_output_that_is_used_wherever_that_is() -> None:
    build = beside(on=3)
    build = move_output(build, build.channels_of["lamps-register"][0].id, 6)
    assert steer(build, "more-switch", "lamps-register").drivers[1].inputs_from == 7  # type: ignore[union-attr]


def test_registers_of_its_own_are_bought_and_go_when_pins_are_taken_again() -> None:
    build = steer(beside("relay"), "more-relay", NEW)
    own = build.drivers[-1]
    assert (own.name, build.drivers[1].inputs_on) == ("More registers", own.id)  # type: ignore[union-attr]
    assert {line.part_id: line.amount for line in whole_bill(build)}["register-8"] == 2
    assert wired_drive(build).by_driver["more-relay"].on_a[0] > 0.5, "the load is on"
    assert len(steer(build, "more-relay", None).drivers) == 2
    assert len(steer(build, "more-relay", "lamps-register").drivers) == 2


def test_a_chip_carries_the_bases_that_hang_on_it_and_the_board_does_not() -> None:
    build = with_part(beside(), part("bjt-small"))
    build = change_driver(build, "more-switch", transistor_id="bjt-small", base_ohm=470.0, led_v=5.0)
    on_pins = solve_drive(build)
    on_chip = solve_drive(steer(build, "more-switch", "lamps-register"))
    board = build.boards[0].id
    base_a = on_pins.by_driver["more-switch"].pin_a[0]
    assert base_a > 0.005
    assert on_pins.boards[board].pins_a == pytest.approx(7 * base_a)
    assert on_chip.boards[board].pins_a == 0
    first = [result.by_driver["lamps-register"].blocks[0].value for result in (on_pins, on_chip)]
    at_chip_a = on_chip.by_driver["more-switch"].pin_a[0]
    assert first[1] - first[0] == pytest.approx(5 * at_chip_a), "five of the seven hang on the first chip"
    again = solve_drive(steer(build, "more-switch", "lamps-register"), near=on_chip)
    assert again.by_driver["lamps-register"].blocks[0].value == pytest.approx(first[1]), "counted once"


def test_lamps_and_inputs_never_share_an_output() -> None:
    build = steer(beside(), "more-switch", "lamps-register")
    with pytest.raises(LanternError, match="an input of More hangs on output 4"):
        move_output(build, build.channels_of["lamps-register"][0].id, 4)
    with pytest.raises(LanternError, match="taken by Lamps"):
        change_driver(build, "more-switch", inputs_from=1)
    with pytest.raises(LanternError, match="no output 16"):
        change_driver(build, "more-switch", inputs_from=10)
    with pytest.raises(LanternError, match="no output"):
        change_driver(build, "lamps-register", chips=1)
    assert (
        move_output(build, build.channels_of["lamps-register"][0].id, 12).channels_of["lamps-register"][-1].output == 12
    )
    third = add_piece(build, part("led-red-5mm"), revise(lamps(4), id="third", name="Third"))
    shared = drive_with(third, "third", "lamps-register")
    assert [channel.output for channel in shared.channels_of["lamps-register"]] == [0, 1, 2, 10, 11, 12, 13]


def test_loads_that_join_steered_relays_hang_on_the_chain_too() -> None:
    build = steer(beside("relay"), "more-relay", "lamps-register")
    build = add_piece(build, part("floodlight-12v"), revise(flood(), id="second", name="Second"))
    shared = drive_with(build, "second", "more-relay")
    (relays,) = (driver for driver in shared.drivers if driver.kind == "relay")
    assert (relays.inputs_on, relays.pins) == ("lamps-register", ())  # type: ignore[union-attr]
    assert len(shared.channels_of["more-relay"]) == 2


def test_what_cannot_be_steered_says_why() -> None:
    build = beside("pin")
    with pytest.raises(LanternError, match="no inputs that registers could control"):
        steer(build, "more-pin", "lamps-register")
    sinking = change_driver(beside(), "lamps-register", sink=True)
    assert chains_for(sinking, sinking.drivers[1]) == []
    with pytest.raises(LanternError, match="cannot hang on Lamps"):
        steer(sinking, "more-switch", "lamps-register")
    with pytest.raises(LanternError, match="low while they are lit"):
        change_way(steer(beside(), "more-switch", "lamps-register"), "lamps-register", sink=True)


def test_a_chain_that_inputs_hang_on_stays_when_its_own_lamps_go_another_way() -> None:
    build = drive_piece(steer(beside(), "more-switch", "lamps-register"), "lamps", "pin")
    assert {driver.kind for driver in build.drivers} == {"register", "switch", "pin"}
    gone = remove_piece(steer(beside(), "more-switch", "lamps-register"), "lamps")
    assert {driver.id for driver in gone.drivers} >= {"more-switch"}
    elsewhere = on_board(another_board(build, part("board-8bit-large")), "lamps-register", "board-2")
    assert next(each for each in elsewhere.drivers if each.id == "more-switch").pins, "its inputs are on pins again"


def test_a_copy_takes_its_registers_along_or_hangs_on_pins() -> None:
    build = steer(beside(), "more-switch", "lamps-register")
    alone = pasted(build, clip_text(build, {"more"}))
    assert [getattr(driver, "inputs_on", None) for driver in alone.drivers] == [None, "lamps-register", None]
    both = pasted(build, clip_text(build, {"lamps", "more"}))
    owners = [getattr(driver, "inputs_on", None) for driver in both.drivers]
    assert owners[1] == "lamps-register"
    assert owners[3] == both.drivers[2].id
