"""Pieces that share what drives them: one chain, one relay board, one bill line."""

import pytest

from tests.support.builds import part
from tests.support.driven import driven, flood, hold, lamps, matrix
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import remove_driver
from tiny_lantern.model.edits_pieces import add_piece, change_piece, remove_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.plans.share import drive_with, move_output, to_share
from tiny_lantern.plans.ways import drive_piece, driver_of
from tiny_lantern.sheets.connections import connections


def two_groups(count: int = 5, part_id: str = "led-white-5mm") -> Build:
    """Four red lamps on a register, and others that nothing drives."""
    return add_piece(driven("register", lamps(4)), part(part_id), revise(lamps(count, part_id), name="Others"))


def amount(build: Build, part_id: str) -> float:
    """How much of a part the bill has."""
    return sum(line.amount for line in whole_bill(build) if line.part_id == part_id)


def test_a_register_serves_two_pieces_and_is_bought_once() -> None:
    build = two_groups(4)
    shared = drive_with(build, "others", build.drivers[0].id)
    (driver,) = shared.drivers
    assert (driver.chips, amount(shared, "register-8")) == (1, 1)  # type: ignore[attr-defined]
    assert [channel.output for channel in shared.channels_of[driver.id]] == list(range(8))
    assert len({channel.id for channel in shared.channels}) == 8
    more = drive_with(two_groups(5), "others", build.drivers[0].id)
    assert amount(more, "register-8") == 2, "a chip more where the outputs want one"
    kept = [channel.resistor_ohm for channel in build.channels]
    assert [channel.resistor_ohm for channel in shared.channels][:4] == kept, "what was chosen before stays"
    assert {channel.resistor_ohm for channel in shared.channels} != set(kept)
    lit = wired_drive(shared).by_driver[driver.id].on_a
    assert lit.min() > 0.005


def test_pins_and_rows_are_those_of_one_chain() -> None:
    build = two_groups(4)
    apart, shared = drive_piece(build, "others", "register"), drive_with(build, "others", build.drivers[0].id)
    assert (sum(len(driver.pins) for driver in each.drivers) for each in (apart, shared))
    assert [sum(len(driver.pins) for driver in each.drivers) for each in (apart, shared)] == [6, 3]
    lamps_of = {row.end.on for row in connections(shared) if row.key.endswith("/lamp")}
    assert {"Lamps 1", "Others 4"} <= lamps_of
    assert sum("100 nF" in row.through for row in connections(shared)) == 1


def test_what_cannot_be_shared_is_refused_and_not_offered() -> None:
    build = two_groups(3, "lamp-rgb-anode")
    assert to_share(build, "others") == []
    with pytest.raises(LanternError, match="share their anode"):
        drive_with(build, "others", build.drivers[0].id)
    for first in (driven("scanned", matrix()), driven("hold", hold()), driven("pin")):
        beside = add_piece(first, part("led-white-5mm"), revise(lamps(2), name="Others"))
        assert to_share(beside, "others") == []
        with pytest.raises(LanternError, match="of one piece only"):
            drive_with(beside, "others", beside.drivers[0].id)
    with pytest.raises(LanternError, match="drives this piece already"):
        drive_with(driven("register"), "lamps", "lamps-register")


def test_loads_share_a_relay_board_with_enough_contacts_of_one_voltage() -> None:
    build = add_piece(driven("relay", flood()), part("floodlight-12v"), revise(flood(), name="Second"))
    shared = drive_with(build, "second", build.drivers[0].id)
    assert shared.drivers[0].relay_id == "relay-4"  # type: ignore[attr-defined]
    assert [amount(shared, each) for each in ("relay-4", "relay-1")] == [1, 0]
    assert {pin.role for pin in shared.drivers[0].pins} == {"lamp 0", "lamp 1"}
    other = revise(part("floodlight-12v"), id="flood-24", nominal_v=24.0)
    unlike = add_piece(driven("relay", flood()), other, revise(flood("floodlight-12v"), name="Second"))
    with pytest.raises(LanternError, match="another voltage than 24 V"):
        drive_with(unlike, "second", unlike.drivers[0].id)
    crowd = shared
    for number in range(3, 6):
        crowd = add_piece(crowd, part("floodlight-12v"), revise(flood(), name=f"Load {number}"))
        if number < 5:
            crowd = drive_with(crowd, f"load-{number}", crowd.drivers[0].id)
    with pytest.raises(LanternError, match="5 contacts"):
        drive_with(crowd, "load-5", crowd.drivers[0].id)
    assert isinstance(change_parts(build, part("floodlight-12v")).shelf.of(LoadPart)[0], LoadPart)


def test_lamps_that_come_and_go_leave_the_other_piece_where_it_is() -> None:
    build = two_groups(4)
    shared = drive_with(build, "others", build.drivers[0].id)
    longer = change_piece(shared, "lamps", lamp_count=6)
    driver = longer.drivers[0]
    outputs = {channel.output for channel in longer.channels}
    assert len(outputs) == 10
    assert driver.chips == 2  # type: ignore[attr-defined]
    left = remove_piece(shared, "lamps")
    assert [channel.output for channel in left.channels] == [4, 5, 6, 7]
    assert driver_of(left, "others") is not None
    own = drive_piece(shared, "others", "pin")
    assert sorted(driver.kind for driver in own.drivers) == ["pin", "register"]
    assert remove_driver(shared, shared.drivers[0].id).channels == ()


def test_an_output_is_changed_by_hand_and_what_is_there_takes_the_old_one() -> None:
    build = driven("register", lamps(4))
    first = build.channels_of["lamps-register"][0]
    moved = move_output(build, first.id, 3)
    slots = {channel.output: channel.slots[0].index for channel in moved.channels}
    assert (slots[3], slots[0]) == (0, 3)
    free = move_output(build, first.id, 7)
    assert sorted(channel.output for channel in free.channels) == [1, 2, 3, 7]
    for output in (-1, 8):
        with pytest.raises(LanternError, match="has no output"):
            move_output(build, first.id, output)
