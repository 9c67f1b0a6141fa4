"""Pins assigned: against every possible assignment, with what is pinned down, and with a reason where there is none."""

import json
from itertools import combinations, permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, ROUTED, TINY, driven, flood, hold, lamps, matrix
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.drive import PinNeed, Reserved
from tiny_lantern.model.edits import with_part
from tiny_lantern.model.edits_drive import add_board, another_board, change_board, change_driver, move_pin, shift_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart, BoardPin
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.pin_needs import board_needs
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.pins import POOL, Free, assign_pins, matched
from tiny_lantern.plans.rewire import change_way, frame_bytes, on_board
from tiny_lantern.plans.ways import drive_everything, drive_piece, ways_for


def _possible(needs: list[PinNeed], free: Free) -> bool:
    """Whether any assignment exists, by trying all."""
    dimming = [need for need in needs if need.dims]
    for chosen in combinations(range(len(free.pins)), len(needs)):
        for order in permutations(chosen, len(dimming)):
            if _holds([free.pins[at] for at in order], free):
                return True
    return not needs


def _holds(pins: list[BoardPin], free: Free) -> bool:
    if POOL in free.compares:
        return len(pins) <= free.compares[POOL]
    used = [pin.compare for pin in pins]
    return all(free.compares.get(name) for name in used) and len(set(used)) == len(used)


@given(
    compares=st.lists(st.sampled_from(["", "0A", "0B", "1A"]), min_size=1, max_size=6),
    dimming=st.integers(0, 4),
    plain=st.integers(0, 4),
)
def test_an_assignment_is_found_wherever_there_is_one(compares: list[str], dimming: int, plain: int) -> None:
    pins = tuple(BoardPin(name=str(at), compare=name) for at, name in enumerate(compares))
    free = Free(pins, {name: 1 for name in dict.fromkeys(compares) if name})
    needs = [PinNeed("d", f"dim {n}", True) for n in range(dimming)] + [PinNeed("p", f"pin {n}") for n in range(plain)]
    found = matched(needs, free)
    assert (found is not None) == _possible(needs, free)
    if found:
        names = list(found.values())
        assert len(set(names)) == len(needs)
        by_name = {pin.name: pin for pin in pins}
        assert _holds([by_name[found["d", f"dim {n}"]] for n in range(dimming)], free)


def test_dimming_lamps_get_compare_channels_of_their_own_and_others_leave_them_alone() -> None:
    build = driven("pwm", lamps(4))
    board = build.shelf.of(BoardPart)[0]
    used = [board.pin(pin.pin).compare for pin in build.drivers[0].pins]  # type: ignore[union-attr]
    assert all(used)
    assert len(set(used)) == 4
    plain = driven("pin", lamps(4))
    assert not any(plain.shelf.of(BoardPart)[0].pin(pin.pin).compare for pin in plain.drivers[0].pins)  # type: ignore[union-attr]


def test_lamps_of_a_group_lie_in_order_on_the_board() -> None:
    build = driven("pin", lamps(8))
    places = [int(pin.pin) for pin in build.drivers[0].pins]
    assert places == sorted(places)
    assert [pin.role for pin in build.drivers[0].pins] == [f"lamp {n}" for n in range(8)]


def test_reserved_pins_and_the_timers_that_they_take_are_left_alone() -> None:
    build = driven("pwm", lamps(2), board=TINY)
    board = build.boards[0]
    kept = (Reserved(pin="4", what="sounder", timer="1"),)
    again = assign_pins(change_board(build, board.id, reserved=kept), board.id)
    assert sorted(pin.pin for pin in again.drivers[0].pins) == ["0", "1"]
    with pytest.raises(LanternError) as caught:
        drive_piece(change_board(driven("pwm", lamps(3), board=TINY), board.id, reserved=kept), "lamps", "pwm")
    assert "pin 4 is used" in str(caught.value) or "lamps want dimming pins" in caught.value.what


def test_what_is_pinned_down_stays_and_the_rest_goes_round_it() -> None:
    build = driven("pwm", lamps(4))
    driver = build.drivers[0]
    build = move_pin(build, driver.id, "lamp 0", "13")
    again = assign_pins(build, build.boards[0].id)
    pins = {pin.role: pin for pin in again.drivers[0].pins}
    assert pins["lamp 0"].pin == "13"
    assert pins["lamp 0"].pinned
    assert len({pin.pin for pin in pins.values()}) == 4


def test_a_pin_led_onto_another_changes_places_with_it() -> None:
    build = driven("pwm", lamps(2))
    driver = build.drivers[0]
    one, other = (pin.pin for pin in driver.pins)
    moved = {pin.role: pin.pin for pin in move_pin(build, driver.id, "lamp 0", other).drivers[0].pins}
    assert moved == {"lamp 0": other, "lamp 1": one}
    with pytest.raises(LanternError, match="has no pin"):
        move_pin(build, driver.id, "lamp 0", "99")


@pytest.mark.parametrize(
    ("kind", "count", "board", "words"),
    [
        ("pwm", 4, TINY, "4 lamps want dimming pins, and this board has 3 left"),
        ("pin", 7, TINY, "7 pins are wanted, and this board has 5 left"),
        ("pwm", 17, ROUTED, "17 lamps want dimming pins, and this board has 16 left"),
    ],
)
def test_what_makes_it_impossible_is_named(kind: str, count: int, board: str, words: str) -> None:
    with pytest.raises(LanternError) as caught:
        driven(kind, lamps(count), board=board)
    assert words in caught.value.what
    assert "Lamps" in caught.value.what


def test_registers_take_three_pins_and_share_two_of_them_on_one_bus() -> None:
    build = driven("register", lamps(20))
    assert [need.role for need in board_needs(build, build.boards[0].id)] == ["data", "clock", "latch"]
    piece = lamps(9).model_copy(update={"id": "more", "name": "More"})
    both = add_piece(build, part("led-red-5mm"), piece)
    both = drive_piece(both, both.pieces[-1].id, "register")
    shared = change_driver(both, both.drivers[1].id, bus_of=both.drivers[0].id, pins=())
    assert len(board_needs(shared, shared.boards[0].id)) == 4


def test_a_knob_takes_a_pin_that_reads_even_one_that_is_no_output() -> None:
    knobbed = change_way(driven("pwm"), "lamps-pwm", knob=True)
    pin = next(pin.pin for pin in knobbed.drivers[0].pins if pin.role == "knob")
    assert knobbed.shelf.of(BoardPart)[0].pin(pin).adc  # type: ignore[union-attr]
    only_in = BoardPin(name="in", adc=True, output=False)
    plain = BoardPin(name="out", compare="1A")
    needs = [PinNeed("d", "lamp", True), PinNeed("d", "knob", reads=True)]
    assert matched(needs, Free((only_in, plain), {"1A": 1})) == {("d", "lamp"): "out", ("d", "knob"): "in"}
    assert matched([PinNeed("d", "lamp")], Free((only_in,), {})) is None
    gone = change_way(knobbed, "lamps-pwm", knob=False)
    assert all(pin.role != "knob" for pin in gone.drivers[0].pins)


def test_more_knobs_than_pins_that_read_are_named() -> None:
    build = driven("pwm", lamps(1), board=TINY)
    board = build.boards[0]
    part_now = build.shelf.find(BoardPart, board.part_id)
    reserved = tuple(Reserved(pin=pin.name, what="sensor") for pin in part_now.pins if pin.adc)
    kept = change_board(build, board.id, reserved=reserved)
    with pytest.raises(LanternError, match="1 knobs and sensors want pins that read volts, and this board has 0 left"):
        change_way(kept, "lamps-pwm", knob=True)


def test_lines_are_shared_only_with_a_chain_that_has_its_own() -> None:
    build = driven("register")
    with pytest.raises(LanternError, match="cannot share the lines of"):
        change_way(build, "lamps-register", bus_of="lamps-register")


def test_a_frame_longer_than_the_board_s_memory_is_refused() -> None:
    """64 chips of 8 outputs are 64 bytes a level's bit: 8 bits fill the 512 bytes of the tiny board, 9 do not fit."""
    build = driven("register", board=TINY)
    full = change_way(build, "lamps-register", chips=64, levels_bits=8)
    assert frame_bytes(full, full.boards[0].id) == 512
    with pytest.raises(LanternError, match="takes 576 bytes") as caught:
        change_way(full, "lamps-register", levels_bits=9)
    assert "at most 512 bytes" in caught.value.accepted


def test_everything_is_driven_on_a_larger_board_where_the_first_is_too_small() -> None:
    build = add_piece(Build(), part("led-red-5mm"), lamps(4, wired="apart"))
    for number in range(5):
        piece = lamps(4, "lamp-two-colour-2").model_copy(update={"name": f"Pairs {number}"})
        build = add_piece(build, part(piece.part_id), piece)
    done = drive_everything(add_board(build, part("board-8bit-small")))
    assert len(done.drivers) == 6
    assert done.boards[0].part_id == LARGE


@pytest.mark.parametrize(
    ("kind", "count", "changes", "words"),
    [
        ("register", 12, {"chips": 1}, "8 outputs, and its lamps use 12"),
        ("sink", 20, {"chips": 1}, "16 outputs, and its lamps use 20"),
        ("scanned", 0, {"rows": 7}, "56 outputs, and its lamps use 64"),
        ("scanned", 0, {"chips": 1}, "1 chips do not reach"),
        ("scanned", 0, {"blank_s": 1 / 4000}, "blanked for all"),
    ],
)
def test_too_few_outputs_for_the_lamps_are_refused(
    kind: str, count: int, changes: dict[str, float], words: str
) -> None:
    build = driven(kind, lamps(count) if count else matrix())
    with pytest.raises(LanternError, match=words):
        change_way(build, build.drivers[0].id, **changes)
    data = json.loads(dumps(build))
    data["drivers"][0] |= changes
    with pytest.raises(LanternError, match=words):
        loads(json.dumps(data))


def test_a_demultiplexer_takes_as_many_lamps_as_it_has_ways() -> None:
    assert len(driven("demux", lamps(16)).channels) == 16
    with pytest.raises(LanternError, match="16 outputs, and its lamps use 17"):
        driven("demux", lamps(17))


def test_chips_follow_the_rows_the_columns_and_what_carries_the_rows() -> None:
    build = driven("scanned", matrix())
    way = build.drivers[0].id
    assert build.drivers[0].chips == 2  # type: ignore[union-attr]
    counted = change_way(build, way, rows_by="counter")
    assert counted.drivers[0].chips == 1  # type: ignore[union-attr]
    assert change_way(counted, way, rows_by="transistor").drivers[0].chips == 2  # type: ignore[union-attr]
    assert change_way(counted, way, columns=17).drivers[0].chips == 3  # type: ignore[union-attr]
    small = revise(part("sink-16"), id="sink-8", outputs=8)
    sinks = with_part(driven("sink", lamps(20)), small)
    assert change_way(sinks, "lamps-sink", chip_id="sink-8").drivers[0].chips == 3  # type: ignore[union-attr]


def test_a_row_transistor_in_place_of_a_counter_lets_its_pins_go() -> None:
    build = driven("scanned", matrix())
    counted = change_way(build, build.drivers[0].id, rows_by="counter", row_limit_a=0.001)
    evidence = gather(counted, FullWhite(), find_flashes(counted))
    told = next(finding for finding in check(evidence) if finding.code == "row-overload")
    mended = told.tries[0].edit(counted)
    assert [pin.role for pin in mended.drivers[0].pins] == ["data", "clock", "latch"]


def test_a_register_part_has_eight_outputs() -> None:
    with pytest.raises(LanternError, match="8 outputs"):
        revise(part("register-8"), outputs=16)


def two_boards() -> Build:
    """Two chains, of which the second shares the lines of the first, and four dimmed lamps, on one of two boards."""
    build = driven("register", lamps(8), board=LARGE)
    for name, kind in (("more", "register"), ("dim", "pwm")):
        build = add_piece(build, part("led-red-5mm"), revise(lamps(4), id=name, name=name))
        build = drive_piece(build, build.pieces[-1].id, kind)
    build = change_way(build, build.drivers[1].id, bus_of=build.drivers[0].id)
    return another_board(build, part(LARGE))


def test_another_board_takes_a_way_to_drive_with_pins_of_its_own_and_nobody_else_s() -> None:
    build = two_boards()
    one, two = (board.id for board in build.boards)
    dims = build.drivers[2]
    moved = on_board(build, dims.id, two)
    assert [driver.board_id for driver in moved.drivers] == [one, one, two]
    assert moved.drivers[:2] == build.drivers[:2], "what stays keeps its pins"
    assert {pin.role for pin in moved.drivers[2].pins} == {pin.role for pin in dims.pins}
    again = assign_pins(moved, one)
    assert again.drivers[2] == moved.drivers[2], "pins of one board are no others' business"
    assert on_board(build, dims.id, one) is build


@pytest.mark.parametrize("which", [0, 1])
def test_lines_are_not_shared_across_boards(which: int) -> None:
    build = two_boards()
    moved = on_board(build, build.drivers[which].id, build.boards[1].id)
    assert [getattr(driver, "bus_of", None) for driver in moved.drivers] == [None] * 3
    for driver in moved.drivers[:2]:
        assert {"data", "clock", "latch"} <= {pin.role for pin in driver.pins}


def test_a_board_moved_in_the_chain_takes_no_strip_with_it_that_was_not_its_own() -> None:
    build = another_board(another_board(one_strip(5), part(LARGE)), part(LARGE))
    one, two = (board.id for board in build.boards)
    turned = shift_board(build, two, -1)
    assert [board.id for board in turned.boards] == [two, one]
    assert turned.pieces[0].board_id == one
    back = shift_board(turned, two, 1)
    assert [board.id for board in back.boards] == [one, two]
    assert shift_board(build, two, 5).boards == build.boards


@pytest.mark.parametrize(
    ("piece", "words"),
    [
        (lamps(4), {"pin", "pwm", "switch", "register", "sink", "scanned", "demux"}),
        (lamps(2, "lamp-two-colour-2"), {"scanned", "pair"}),
        (lamps(2, "lamp-addressable-8mm", colour_order="RGB"), set()),
        (matrix(), {"scanned"}),
        (hold(), {"hold"}),
        (flood(), {"switch", "relay"}),
        (flood("string-mains"), {"relay"}),
    ],
)
def test_each_way_is_offered_for_the_lamps_that_it_suits(piece: Piece, words: set[str]) -> None:
    build = add_piece(Build(), part(piece.part_id), piece)
    assert {way.kind for way in ways_for(build, build.pieces[0].id)} == words


def test_what_only_switches_needs_no_pin_that_dims_and_a_counter_s_reset_a_pin_where_it_is_wired() -> None:
    build = driven("switch", lamps(2), board=LARGE)
    plain = change_way(build, build.drivers[0].id, dims=False)
    assert [[need.dims for need in board_needs(each, "board")] for each in (build, plain)] == [[True] * 2, [False] * 2]
    assert [each.drivers[0].on_off for each in (build, plain)] == [False, True]
    counter = change_way(driven("scanned", matrix()), "matrix-scanned", rows_by="counter")
    wired = change_way(counter, "matrix-scanned", reset_wired=True)
    assert [[need.role for need in board_needs(each, "board")][3:] for each in (counter, wired)] == [
        ["step"], ["step", "reset"],
    ]  # fmt: skip
