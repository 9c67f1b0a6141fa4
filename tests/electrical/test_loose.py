"""Loose addressable lamps: they draw from a supply, are judged with it, and are wired lamp to lamp."""

from itertools import pairwise
from typing import Any

import numpy as np
import pytest

from tests.findings.test_findings import found
from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, driven, lamps, lit
from tiny_lantern.circuit.conductor import LAST
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.loose import fully_lit_a
from tiny_lantern.electrical.power_tree import beside_strips_a, lamp_loads_a, power_tree
from tiny_lantern.findings.finding import Finding
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_drive import add_board, feed_board
from tiny_lantern.model.edits_pieces import add_piece, add_strip
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.loose import loose_lamps
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.sheets.connections import connections
from tiny_lantern.show.supply_draw import beside_strips_of_show_a, lives

EACH_A = 0.03  # three dies of ten milliamperes
PART = "lamp-addressable-8mm"


def loose(count: int = 20, supply: str = "mains-5v-4a", **more: Any) -> Build:
    """Loose lamps and a supply."""
    build = add_piece(Build(), part(PART), lamps(count, PART, colour_order="RGB", **more))
    return add_supply(build, part(supply), "Supply")


def told(build: Build, code: str) -> Finding | None:
    return found(build).get(code)


def test_they_draw_what_their_dies_do_and_no_other_lamps_are_among_them() -> None:
    build = add_piece(loose(20), part("led-red-5mm"), revise(lamps(4), id="plain"))
    ((piece, kind),) = loose_lamps(build)
    assert (piece.id, fully_lit_a(piece, kind)) == ("lamps", pytest.approx(20 * EACH_A))
    assert lamp_loads_a(build, solve_drive(build)) == {"supply": pytest.approx(20 * EACH_A)}
    (node,) = power_tree(build, None, solve_drive(build))[0].children
    assert (node.name, node.worst_a, node.idle_a) == ("Lamps", pytest.approx(20 * EACH_A), 0.0)
    assert lamp_loads_a(driven("pin"), solve_drive(driven("pin"))) == {}


def test_a_supply_of_another_voltage_does_not_feed_them_and_that_of_their_board_comes_first() -> None:
    lost = power_tree(loose(10, "mains-12v-5a"), None, solve_drive(loose(10, "mains-12v-5a")))[-1]
    assert (lost.kind, [child.name for child in lost.children]) == ("none", ["Lamps"])
    assert lost.worst_a == pytest.approx(10 * EACH_A)
    build = add_board(add_supply(loose(10), part("mains-5v-10a"), "Other"), part(LARGE))
    other = build.supplies[1].id
    assert fed_from(build) == "supply"
    fed = feed_board(build, build.boards[0].id, other)
    assert fed_from(fed) == "supply", "they stay on what they hang on"
    assert fed_from(add_piece(fed, part(PART), lamps(3, PART)), -1) == other
    assert lamp_loads_a(hang_on(fed, "fed_by", "lamps", FedBy(id=other)), solve_drive(fed))["supply"] == 0.0


def fed_from(build: Build, number: int = 0) -> str:
    """The id of what feeds loose lamps."""
    fed_by = build.pieces[number].fed_by
    assert fed_by is not None
    return fed_by.id


def test_a_supply_is_judged_with_them_from_both_sides() -> None:
    most = int(0.8 * 4.0 / EACH_A)
    assert told(loose(most), "supply-share") is None
    assert "10.0 mA too much" in told(loose(most + 1), "supply-share").message
    assert "lamps and boards with 3.21 A" in told(loose(most + 1), "supply-share").message


def test_a_soft_supply_falls_by_what_they_draw() -> None:
    build = add_piece(one_strip(30), part(PART), lamps(40, PART, colour_order="RGB"))
    stiff, soft = (revise(build.shelf.of(SupplyPart)[0], output_ohm=ohm) for ohm in (0.0, 0.05))
    assert beside_strips_a(change_parts(build, stiff)) == ()
    assert beside_strips_a(change_parts(build, soft)) == (pytest.approx(40 * EACH_A),)


def test_over_the_show_they_draw_what_each_frame_asks_of_each_die() -> None:
    build = loose(10)
    for colour, first, last, start_s in (("#ffffff", 0, 9, 0.0), ("#ff0000", 0, 4, 2.0), ("#00ffff", 5, 5, 2.0)):
        build = add_effect(build, look_of("steady", colour=colour), first, last, start_s, 2.0)
    drawn = beside_strips_of_show_a(change_build(build, show_s=5.0), drive=solve_drive(build))["supply"]
    assert drawn[[0, 79, 80, 159, 160]] == pytest.approx([0.3, 0.3, 5 * 0.01 + 0.02, 5 * 0.01 + 0.02, 0.0])
    boarded = feed_board(add_board(change_build(build, show_s=5.0), part(LARGE)), "board", "supply")
    with_board = beside_strips_of_show_a(boarded, drive=solve_drive(boarded))["supply"]
    assert with_board[[0, 160]] - 0.3 * np.array([1, 0]) == pytest.approx([0.05, 0.05]), "the board is always there"
    four = revise(part(PART), dies=(*part(PART).dies, revise(part("led-white-5mm").dies[0], name="white", test_a=0.02)))
    drawn = beside_strips_of_show_a(change_parts(build, four), drive=solve_drive(build))["supply"]
    assert drawn[[0, 80]] == pytest.approx([10 * 0.02, 5 * 0.01 + 0.02]), "white from the white die alone"


def test_a_battery_lasts_as_long_as_they_let_it() -> None:
    builds = [lit(loose(count, "battery-5v-3a")) for count in (10, 20)]
    one, two = (
        lives(build, beside_strips_of_show_a(build, drive=solve_drive(build)))["supply"].seconds for build in builds
    )
    assert one == pytest.approx(2 * two, rel=0.1)


@pytest.mark.parametrize(("set_v", "low"), [(4.7, False), (4.72, True), (5.0, True)])
def test_the_first_of_them_is_judged_by_the_board_s_high(set_v: float, low: bool) -> None:
    build = change_supply(add_board(loose(5), part("board-paired-3v3")), "supply", set_v=set_v)
    finding = told(build, "data-high")
    assert (finding is not None) == low
    if finding is not None:
        assert f"{0.7 * set_v - 3.3:.2f} V too little" in finding.message
        for fix in finding.tries:
            assert told(fix.edit(build), "data-high") is None
        assert [fix.label for fix in finding.tries] == ["A level shifter", "Set Supply to 4.70 V"]


@pytest.mark.parametrize(("logic_v", "offered"), [(3.16, True), (3.1, False)])
def test_no_supply_is_set_so_low_that_it_feeds_them_no_more(logic_v: float, offered: bool) -> None:
    """Seven tenths of 4.5 V are 3.15 V; a supply below that voltage is none of theirs."""
    build = add_board(loose(5), part("board-paired-3v3"))
    build = change_parts(build, revise(build.shelf.of(BoardPart)[0], logic_v=logic_v))
    labels = [fix.label for fix in told(build, "data-high").tries]
    assert labels == ["A level shifter", *(["Set Supply to 4.50 V"] if offered else [])]


def test_each_is_wired_to_the_next_by_three_wires_and_the_first_to_the_supply() -> None:
    build = add_board(loose(4), part(LARGE))
    rows = {row.key: row for row in connections(build)}
    assert rows["rail/5"].words == "Supply, + → Blade fuse, 1 A → 5 V lamp rail"
    assert rows["loose/lamps/plus"].words == "5 V lamp rail → Lamps 1, +"
    assert rows["loose/lamps/plus"].group == LAST, "a wrong wire meets no supply"
    assert rows["loose/lamps/0v"].words == "0 V rail → Lamps 1, 0 V"
    assert rows["data/lamps"].words == f"Board, pin {build.boards[0].lines[0].pin} → Lamps 1, data in"
    for number, (here, there) in enumerate(pairwise(slot_places(build.pieces[0]))):
        wires = [rows[f"loose/lamps/{number}/{name}"] for name in ("plus", "0v", "data")]
        one, other = f"Lamps {number + 1}", f"Lamps {number + 2}"
        assert [row.words for row in wires] == [
            f"{one}, + → {other}, +", f"{one}, 0 V → {other}, 0 V", f"{one}, data out → {other}, data in",
        ]  # fmt: skip
        apart = float(np.hypot(*np.subtract(there, here)))
        assert all(row.cut_m == pytest.approx(apart + build.wiring.allowance_m, abs=0.006) for row in wires)
    assert sum(key.startswith("loose/") for key in rows) == 2 + 3 * 3
    more = {row.key: row for row in connections(add_strip(build, part("rgb-5v-60"), 30, "Strip"))}
    assert more["data/strip"].words == "Lamps 4, data out → Strip, data in"
    unfed = [row.words for row in connections(loose(2, "mains-12v-5a"))]
    assert "5 V supply, + → Blade fuse, 1 A → 5 V lamp rail" in unfed
    assert not [row for row in connections(driven("pin")) if row.key.startswith("loose/")]
    assert build.shelf.find(LampPart, PART).addressable
