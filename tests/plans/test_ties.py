"""How the shared leads of lamps are tied: what each way takes, told beside the others, and one step to change it."""

import pytest

from tests.support.driven import driven, lamps, matrix
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.ties import TIES, tie_piece, ties_of
from tiny_lantern.sheets.connections import connections


def row(count: int = 8) -> Build:
    """Lamps on a register, a hand apart."""
    return driven("register", lamps(count, spacing_m=0.2))


def returns(build: Build) -> list[tuple[str, str]]:
    """From where to where each return of a lamp leads."""
    rows = (each for each in connections(build) if "/lamp" in each.key or "/tie " in each.key)
    return [(each.start.on, each.end.on) for each in rows if each.role == "return"]


def test_a_tie_from_lamp_to_lamp_leads_from_each_to_the_next_and_back_with_one_wire() -> None:
    assert returns(row(3)) == [("0 V rail", "Lamps 1"), ("0 V rail", "Lamps 2"), ("0 V rail", "Lamps 3")]
    along = tie_piece(row(3), "lamps", "along")
    assert returns(along) == [("0 V rail", "Lamps 1"), ("Lamps 1", "Lamps 2"), ("Lamps 2", "Lamps 3")]
    lengths = [each.cut_m for each in connections(along) if "/common" in each.key]
    assert lengths[1:] == pytest.approx([0.2 + along.wiring.allowance_m] * 2, abs=0.006)
    board = tie_piece(row(3), "lamps", "board")
    assert returns(board) == [("0 V rail", "Lamps tie board"), *[("Lamps tie board", f"Lamps {n}") for n in (1, 2, 3)]]
    assert [line.amount for line in whole_bill(board) if line.part_id == "tie-board"] == [1]
    assert not [line for line in whole_bill(along) if line.part_id == "tie-board"]


def test_each_way_to_tie_says_what_it_takes_and_what_the_lamps_lose() -> None:
    star, along, board = ties_of(row(), "lamps")
    assert (star.tie, along.tie, board.tie) == tuple(TIES)
    assert along.wire_m < board.wire_m < star.wire_m
    assert along.ends == star.ends == board.ends - 2
    assert along.least_share < star.least_share < 1.0, "a common that goes along carries what lies beyond"
    assert star.beside(star).endswith("ends")
    assert along.beside(star).startswith("−4.9")


def test_lamps_tied_along_lose_what_their_common_carries_beyond_them() -> None:
    build = tie_piece(row(3), "lamps", "along")
    ohm = {each.key: each.wire_ohm for each in compile_circuit(build).conductors if "/common" in each.key}
    star = {each.key: each.wire_ohm for each in compile_circuit(row(3)).conductors if "/common" in each.key}
    assert list(ohm) == list(star), "the same wires, led otherwise"
    assert sum(ohm.values()) < sum(star.values())


def test_what_cannot_be_tied_has_no_ways_and_another_word_is_refused() -> None:
    assert ties_of(driven("scanned", matrix()), "matrix") == ()
    assert ties_of(driven("register", lamps(3, wired="series")), "lamps") == ()
    assert ties_of(row(1), "lamps") == ()
    with pytest.raises(LanternError):
        tie_piece(row(), "lamps", "knotted")


def test_a_tie_is_kept_in_the_file_and_a_file_without_one_has_stars() -> None:
    build = tie_piece(row(3), "lamps", "along")
    assert loads(dumps(build)) == build
    assert loads(dumps(build).replace('"tie": "along",', "").replace('"tie":"along",', "")) == row(3)
