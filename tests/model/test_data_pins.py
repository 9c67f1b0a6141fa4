"""Pins of data lines: each line has one, named wherever pins are, and it stays with what hangs on it."""

import csv
import io

import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, SMALL, driven, lamps, lit
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.code.files import code_files
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import (
    add_board,
    change_board,
    change_board_part,
    move_pin,
    reserve_pin,
    with_data_pins,
    without_idle_pins,
)
from tiny_lantern.model.edits_pieces import add_piece, add_strip, remove_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.pin_needs import DATA, board_needs, pins_of
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.sheets.wiring_sheet import wiring_csv


def two_strips(parallel: bool = False) -> Build:
    """Two strips and a board."""
    build = add_strip(one_strip(10), part("rgb-5v-60"), 8, "Second")
    return add_board(change_build(build, data=revise(build.data, parallel=parallel)), part(LARGE))


def data_pins(build: Build) -> dict[str, str]:
    """The pin of each data line, by the first piece on it."""
    return {owner: pin.pin for (owner, role), pin in pins_of(build, "board").items() if role == DATA}


def test_a_line_has_a_pin_as_soon_as_there_are_a_board_and_a_strip() -> None:
    assert data_pins(two_strips()).keys() == {"strip"}
    assert data_pins(two_strips(parallel=True)).keys() == {"strip", "second"}
    later = add_strip(add_board(Build(), part(SMALL)), part("rgb-5v-60"), 8, "First")
    assert data_pins(later).keys() == {"first"}
    loose = add_piece(later, part("lamp-addressable-8mm"), lamps(3, "lamp-addressable-8mm"))
    assert data_pins(loose).keys() == {"first"}, "one line leads through all of them"


def test_the_pin_does_nothing_else_where_it_can_be_so_and_no_other_thing_gets_it() -> None:
    build = two_strips(parallel=True)
    own = build.boards[0]
    chosen = [pin for pin in part(LARGE).pins if pin.name in data_pins(build).values()]
    assert not [pin for pin in chosen if pin.adc or pin.compare or pin.taken_by]
    full = assign_pins(driven_beside(build), own.id)
    assert len({each.pin for each in pins_of(full, own.id).values()}) == len(pins_of(full, own.id))
    with pytest.raises(LanternError, match="is used at"):
        change_board(build, own.id, lines=(own.lines[0], revise(own.lines[1], pin=own.lines[0].pin)))
    with pytest.raises(LanternError, match="is used at"):
        reserve_pin(build, own.id, own.lines[0].pin, "sounder")


def driven_beside(build: Build) -> Build:
    """A build with lamps on pins of the same board."""
    from_pins = driven("pin", lamps(4))
    moved = [revise(each, board_id="board") for each in from_pins.drivers]
    return revise(build, parts=(*build.parts, *(p for p in from_pins.parts if p.id not in {q.id for q in build.parts})),
                  pieces=(*build.pieces, *from_pins.pieces), drivers=tuple(revise(d, pins=()) for d in moved),
                  channels=from_pins.channels)  # fmt: skip


def test_it_stays_when_the_first_strip_goes_and_when_it_is_pinned_down() -> None:
    build = two_strips()
    pin = data_pins(build)["strip"]
    left = remove_piece(build, "strip")
    assert data_pins(left) == {"second": pin}, "the wire at the board stays where it is"
    moved = move_pin(build, "strip", DATA, "40")
    assert data_pins(moved) == {"strip": "40"}
    assert data_pins(assign_pins(moved, "board")) == {"strip": "40"}
    both = two_strips(parallel=True)
    one, other = data_pins(both).values()
    assert data_pins(move_pin(both, "strip", DATA, other)) == {"strip": other, "second": one}, "they change places"
    assert loads(dumps(moved)) == moved
    assert data_pins(without_idle_pins(remove_piece(both, "strip"))) == {"second": other}


def test_a_pin_of_what_is_not_there_is_refused() -> None:
    with pytest.raises(LanternError, match="there is no driver"):
        move_pin(two_strips(), "nobody", DATA, "40")
    with pytest.raises(LanternError, match="no pin “99”"):
        move_pin(two_strips(), "strip", DATA, "99")


def test_a_board_that_has_not_the_pin_takes_another_and_one_without_any_is_told() -> None:
    build = move_pin(two_strips(), "strip", DATA, "53")
    small = change_board_part(build, "board", part(SMALL))
    assert data_pins(small) == {}
    told = [each for each in check(gather(small, FullWhite(), ())) if each.code == "no-pin"]
    assert "no pin of Board yet" in told[0].message
    mended = told[0].tries[0].edit(small)  # type: ignore[misc]
    assert data_pins(mended).keys() == {"strip"}
    assert not [each for each in check(gather(mended, FullWhite(), ())) if each.code == "no-pin"]
    assert with_data_pins(small) == with_data_pins(with_data_pins(small))


def test_it_is_named_in_wiring_code_and_counts() -> None:
    build = two_strips()
    pin = data_pins(build)["strip"]
    rows = list(csv.DictReader(io.StringIO(wiring_csv(build))))
    assert [row["from"] for row in rows if row["to"] == "Strip, data in"] == [f"Board, pin {pin}"]
    source = "".join(code_files(lit(build)).values())
    assert "Strip, data" in source
    assert solve_drive(build).boards["board"].used_pins == 1
    assert [need.role for need in board_needs(build, "board")] == [DATA]
    assert next(row for row in whole_circuit(build).conductors if row.key == "data/strip").start.of == "board"


def test_where_a_board_stands_says_how_long_its_wires_are() -> None:
    build = driven("register", lamps(2))
    near = change_board(build, "board", at_m=(0.0, 0.3))
    far = change_board(build, "board", at_m=(0.0, 5.3))
    key = "lamps-register/0/lamp"
    cut = [next(row.cut_m for row in whole_circuit(each).conductors if row.key == key) for each in (near, far)]
    assert cut[1] - cut[0] == pytest.approx(5.0, abs=0.01)
