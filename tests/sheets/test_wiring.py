"""The wiring derived from a build: every lamp reached, each conductor once, in the order of the hands."""

import csv
import io
import math

import pytest

from tests.support.builds import one_strip, part
from tests.support.driven import driven, flood, hold, lamps, matrix
from tiny_lantern.circuit.conductor import GROUPS, LAMPS, Conductor
from tiny_lantern.model.base import revise
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_drive import add_board, change_board, change_driver, with_data_pins
from tiny_lantern.model.edits_layout import shift_pieces
from tiny_lantern.model.edits_pieces import add_joint, add_piece, add_strip, change_piece
from tiny_lantern.model.edits_room import add_box, add_passage
from tiny_lantern.model.edits_wiring import choose_wire, colour_wires, stamp_printed, tick_wire
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AlongLine
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.stamp import stamp_of
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.model.ways.pin import PinDirect
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.ways import WAYS, drive_piece
from tiny_lantern.sheets.connections import connections, most_through, through_counts
from tiny_lantern.sheets.expected import meter_words
from tiny_lantern.sheets.step_drawing import step_svg
from tiny_lantern.sheets.wiring_sheet import by_terminal, wiring_csv, wiring_html

PIECES = {"pair": lamps(2, "lamp-two-colour-2"), "hold": hold(), "relay": flood(), "scanned": matrix()}


@pytest.mark.parametrize("kind", [way.kind for way in WAYS])
def test_every_way_has_wires_each_once_and_in_the_order_of_the_hands(kind: str) -> None:
    build = driven(kind, PIECES.get(kind))
    rows = connections(build)
    assert len({row.key for row in rows}) == len(rows)
    places = [GROUPS.index(row.group) for row in rows]
    assert places == sorted(places)
    used = {pin.pin for pin in build.drivers[0].pins}
    named = {
        end.terminal.removeprefix("pin ")
        for row in rows
        for end in (row.start, row.end)
        if end.terminal.startswith("pin ")
    }
    assert named == used, "every pin that is used has a wire, and no other"
    for row in rows:
        assert step_svg(build, row).startswith("<svg")
        assert meter_words(build, row)


def test_a_demultiplexer_s_unused_select_and_enable_lie_on_0_v() -> None:
    rows = {row.key: row for row in connections(driven("demux", lamps(3)))}
    assert rows["lamps-demux/select1"].start.terminal.startswith("pin ")
    assert rows["lamps-demux/select2"].start.on == "0 V rail"
    assert rows["lamps-demux/enable2"].start.on == "0 V rail"
    assert rows["lamps-demux/2/lamp"].start.leg == 3


def test_a_knob_has_its_ends_on_the_rails_and_its_middle_on_a_pin_that_reads() -> None:
    build = change_way(driven("pwm"), "lamps-pwm", knob=True)
    rows = {row.key: row for row in connections(build)}
    pin = next(pin.pin for pin in build.drivers[0].pins if pin.role == "knob")
    assert rows["lamps-pwm/knob/middle"].end.terminal == f"pin {pin}"
    assert rows["lamps-pwm/knob/0v"].start.on == "0 V rail"
    assert rows["lamps-pwm/knob/plus"].start.on == "logic rail"


def test_rows_of_a_counter_come_from_it_and_its_reset_lies_on_0_v_until_it_is_led_to_a_pin() -> None:
    build = driven("scanned", matrix())
    counted = change_way(build, build.drivers[0].id, rows_by="counter")
    rows = {row.key.split("/", 1)[1]: row for row in connections(counted)}
    assert rows["row3"].start.words == "Matrix counter, row 3"
    assert rows["counter/reset"].start.on == "0 V rail"
    assert rows["counter/step"].start.terminal.startswith("pin ")
    led = change_way(counted, build.drivers[0].id, reset_wired=True)
    rows = {row.key.split("/", 1)[1]: row for row in connections(led)}
    assert rows["counter/reset"].start.terminal.startswith("pin ")
    assert not any("counter" in row.key for row in connections(build))


def three_chains(select_by: str) -> Build:
    """Three chains on one pair of lines."""
    build = driven("register")
    for number in (2, 3):
        piece = lamps().model_copy(update={"id": f"more{number}", "name": f"More {number}"})
        build = add_piece(build, part("led-red-5mm"), piece)
        build = drive_piece(build, build.pieces[-1].id, "register")
        build = change_way(build, build.drivers[-1].id, bus_of="lamps-register", select_by=select_by)
    return build


def test_chains_on_one_bus_take_their_owner_s_lines_and_latches_of_their_own() -> None:
    build = three_chains("pin")
    rows = {row.key: row for row in connections(build)}
    ids = [driver.id for driver in build.drivers]
    assert len({rows[f"{each}/0/data"].start.terminal for each in ids}) == 1
    assert len({rows[f"{each}/0/clock"].start.terminal for each in ids}) == 1
    assert len({rows[f"{each}/0/latch"].start.terminal for each in ids}) == 3
    assert sum(len(driver.pins) for driver in build.drivers) == 5


def test_latches_behind_a_multiplexer_take_one_pin_and_the_lines_that_select() -> None:
    build = three_chains("multiplexer")
    assert [pin.role for pin in build.drivers[0].pins] == ["data", "clock", "latch", "select 0", "select 1"]
    assert build.drivers[1].pins == build.drivers[2].pins == ()
    rows = {row.key: row for row in connections(build)}
    latches = [rows[f"{driver.id}/0/latch"].start.words for driver in build.drivers]
    assert latches == [f"Lamps multiplexer, way {way}" for way in range(3)]
    assert rows["lamps-register/mux/select1"].start.terminal.startswith("pin ")
    assert ("Multiplexer", 1) in [(line.name, line.amount) for line in bill_of(build)]


def test_a_register_s_lamp_goes_from_its_leg_through_its_resistor_to_its_long_leg() -> None:
    build = driven("register", lamps(10))
    rows = {row.key: row for row in connections(build)}
    row = rows[f"{build.drivers[0].id}/9/lamp"]
    assert row.start.on == "Lamps chip 2"
    assert row.start.terminal == "out 1"
    chip = build.shelf.of(ChipPart)[0]
    assert chip.legs[row.start.leg - 1] == "out 1"  # type: ignore[operator]
    assert row.through == "330 Ω"
    assert row.end.words == "Lamps 10, anode, long leg"
    data = [row for row in rows.values() if row.role == "data"]
    assert [(row.start.on, row.end.on) for row in data] == [("Board", "Lamps chip 1"), ("Lamps chip 1", "Lamps chip 2")]


def reached(rows: list[Conductor], begin: str) -> set[str]:
    """The leads that wires alone lead to from one."""
    found, waiting = {begin}, [begin]
    while waiting:
        here = waiting.pop()
        for row in rows:
            ends = {row.start.words, row.end.words}
            if here in ends:
                new = ends - found
                found |= new
                waiting += new
    return found


@pytest.mark.parametrize("kind", ["pin", "pwm", "switch", "register", "sink", "demux"])
@pytest.mark.parametrize(("wired", "with_first"), [("apart", 0), ("series", 0), ("parallel", 2)])
def test_every_lead_of_every_lamp_is_wired_and_those_side_by_side_to_one_another(
    kind: str, wired: str, with_first: int
) -> None:
    rows = connections(driven(kind, lamps(3, wired=wired)))
    leads = [f"Lamps {number}, {lead}" for number in (1, 2, 3)
             for lead in ("anode, long leg", "cathode, short leg, cup side")]  # fmt: skip
    words = {end.words for row in rows for end in (row.start, row.end)}
    assert set(leads) <= words
    among = [row for row in rows if row.start.on.startswith("Lamps ") and row.end.on.startswith("Lamps ")]
    among = [row for row in among if {row.start.words, row.end.words} <= set(leads)]
    assert len(reached(among, leads[0]) & set(leads[0::2])) == 1 + with_first
    assert len(reached(among, leads[1]) & set(leads[1::2])) == 1 + with_first
    assert len(among) == {"apart": 0, "series": 2, "parallel": 4}[wired]


def test_a_base_has_its_resistor_and_a_matrix_its_chips() -> None:
    build = driven("switch", base_ohm=470.0)
    rows = {row.key: row for row in connections(build)}
    assert rows[f"{build.drivers[0].id}/0/gate"].through == "470 Ω"
    scanned = driven("scanned", matrix(8, 12), rows_by="register")
    chips = {end.on for row in connections(scanned) for end in (row.start, row.end) if end.leg is not None}
    assert chips == {f"Matrix chip {number}" for number in (1, 2, 3)}, "two of columns, one of rows"


def test_a_common_anode_is_fed_once_and_its_dies_are_sunk() -> None:
    rows = connections(driven("sink", lamps(2, "lamp-rgb-anode")))
    fed = [row for row in rows if row.role == "lamp supply" and "common" in row.end.words]
    assert len(fed) == 2
    sunk = [row.end.terminal.split(",")[0] for row in rows if row.group == LAMPS]
    assert sunk == ["red", "green", "blue"] * 2


def test_control_legs_are_wired_only_where_the_build_says_so() -> None:
    wired = {row.key for row in connections(driven("register"))}
    floats = {row.key for row in connections(driven("register", enable_wired=False))}
    assert wired - floats == {"lamps-register/0/enable"}


def test_a_wire_is_cut_to_its_way_by_the_passage_of_the_least_detour() -> None:
    build = add_box(driven("pin", lamps(1)), 0.0, 0.0)
    build = change_piece(build, "lamps", layout=AlongLine(x_m=0.295, y_m=0.4))
    spot = (0.3, 0.4) if isinstance(build.drivers[0], PinDirect) else (0, 0)
    lamp = next(row for row in connections(build) if row.group == LAMPS)
    assert lamp.cut_m == pytest.approx(math.hypot(*spot) + 0.06, abs=0.06)
    near, far = add_passage(build, 0.4, 0.1), add_passage(add_passage(build, 0.4, 0.1), 2.0, 2.0)
    by = next(row for row in connections(far) if row.group == LAMPS)
    assert by.passage == near.passages[0].name
    assert by.cut_m > lamp.cut_m
    assert through_counts(far, connections(far)) == {"Passage": 2, "Passage 2": 0}
    assert most_through(far.passages[0]) == 11


def test_feeds_of_strips_are_in_the_same_list_with_their_fuses() -> None:
    rows = [row for row in connections(one_strip()) if row.group == "Feeds and fuses"]
    assert [row.start.terminal for row in rows] == ["+", "0 V"]
    assert "fuse" in rows[0].through.lower()
    assert "fuse" not in rows[1].through.lower()
    assert rows[0].cut_m == 1.0


class TestDataLeads:
    """What carries the show is a wire like any other."""

    def test_a_lead_goes_to_the_first_piece_and_from_each_to_the_next(self) -> None:
        build = add_strip(add_strip(one_strip(30), part("rgb-5v-60"), 20, "Second"), part("rgb-5v-60"), 10, "Third")
        build = add_board(build, part("board-paired-3v3"))
        leads = [row for row in connections(build) if row.role == "data"]
        assert [row.words for row in leads] == [
            f"{build.boards[0].name}, pin {build.boards[0].lines[0].pin} → Strip, data in",
            "Strip, data out → Second, data in", "Second, data out → Third, data in",
        ]  # fmt: skip
        assert {row.group for row in leads} == {"Control"}
        one, other = build.strips[:2]
        apart = math.dist(slot_places(one)[-1], slot_places(other)[0])
        assert leads[1].cut_m == pytest.approx(apart + build.wiring.allowance_m, abs=0.006)
        for row in leads:
            assert step_svg(build, row).startswith("<svg")
        own = change_build(build, data=revise(build.data, parallel=True))
        starts = [row.start.words for row in connections(own) if row.role == "data"]
        assert starts == [f"Board, pin {own.boards[0].lines[0].pin}", "Board, data of Second", "Board, data of Third"]
        each = with_data_pins(own)
        starts = [row.start.words for row in connections(each) if row.role == "data"]
        assert starts == [f"Board, pin {line.pin}" for line in each.boards[0].lines]
        assert len(set(starts)) == 3
        shifted = change_build(build, data=revise(build.data, shifted=True))
        through = [row.through for row in connections(shifted) if row.role == "data"]
        assert through == ["level shifter", "", ""]
        joined = add_joint(build, "strip", "second")
        ends = [row.end.on for row in connections(joined) if row.role == "data"]
        assert ends == ["Strip", "Third"]
        each = [row for row in connections(change_build(joined, data=own.data)) if row.role == "data"]
        assert len(each) == 3, "an output of its own for each, joined or not"

    def test_a_shifter_of_four_lines_is_bought_for_each_board_s_outputs(self) -> None:
        build = add_board(add_board(one_strip(30), part("board-paired-3v3")), part("board-paired-3v3"))
        for number in range(5):
            build = add_strip(build, part("rgb-5v-60"), 20, f"More {number}")
        build = change_piece(build, build.strips[-1].id, board_id=build.boards[1].id)
        lines = {}
        for parallel in (False, True):
            for shifted in (False, True):
                data = revise(build.data, parallel=parallel, shifted=shifted)
                bill = bill_of(change_build(build, data=data))
                lines[parallel, shifted] = [(line.amount, line.cost) for line in bill if "shifter" in line.name]
        assert lines[False, False] == lines[True, False] == []
        (one,), (more,) = lines[False, True], lines[True, True]
        assert (one[0], more[0]) == (2, 3)
        assert one[1] / 2 == pytest.approx(more[1] / 3) != 0

    def test_lamps_have_none_and_boards_that_play_are_in_a_chain(self) -> None:
        build = driven("pwm", lamps(2))
        assert not [row for row in connections(build) if row.key.startswith(("data/", "chain/"))]
        build = add_strip(add_board(build, part("board-paired-3v3")), part("rgb-5v-60"), 10, "Strip")
        assert [row.start.on for row in connections(build) if row.key.startswith("data/")] == [build.boards[0].name]
        assert not [row for row in connections(build) if row.key.startswith("chain/")], "the second plays nothing"
        build = change_piece(build, "strip", board_id=build.boards[1].id)
        (chain,) = (row for row in connections(build) if row.key.startswith("chain/"))
        assert (chain.start.on, chain.end.on) == (build.boards[0].name, build.boards[1].name)


def test_the_stamp_follows_what_matters_and_nothing_else() -> None:
    build = driven("register")
    assert stamp_of(shift_pieces(build, ("lamps",), 0.5, 0.5)) == stamp_of(build)
    assert stamp_of(stamp_printed(build, "abcd")) == stamp_of(build)
    assert stamp_of(change_driver(build, build.drivers[0].id, enable_wired=False)) != stamp_of(build)
    assert stamp_of(loads(dumps(build))) == stamp_of(build)
    moved = change_board(build, build.boards[0].id, at_m=(0.5, 0.5))
    assert stamp_of(moved) == stamp_of(build)
    thicker = choose_wire(build, connections(build)[0].key, part("awg-18"), None)
    assert stamp_of(thicker) != stamp_of(build)


def test_a_joint_is_soldered_and_nothing_is_cut_for_it() -> None:
    build = add_strip(add_strip(Build(), part("rgb-5v-60"), 10, "One"), part("rgb-5v-60"), 10, "Other")
    build = add_joint(build, build.strips[0].id, build.strips[1].id)
    joint = next(row for row in connections(build) if row.key.startswith("joint/"))
    assert (joint.cut_m, joint.wire_words) == (0.0, "soldered or plugged, no wire")
    assert "cut" not in meter_words(build, joint)
    assert '<td>soldered or plugged, no wire</td><td class="number"></td>' in wiring_html(build)
    lead = connections(driven("register"))[0]
    assert lead.wire_words == f"{lead.colour}, {lead.gauge}"
    assert "cut" in meter_words(driven("register"), lead)


def test_ticks_are_kept_in_the_file_with_the_place() -> None:
    build = driven("register")
    keys = [row.key for row in connections(build)]
    build = tick_wire(build, keys[0], "done", then=keys[1])
    build = tick_wire(build, keys[1], "wrong", "it was green", keys[2])
    again = loads(dumps(build))
    assert again.wiring.state_of(keys[0]) == "done"
    assert again.wiring.ticks[1].found == "it was green"
    assert again.wiring.at == keys[2]
    assert tick_wire(again, keys[0], None).wiring.state_of(keys[0]) is None


def _rows(build: Build) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(wiring_csv(build))))


def test_the_table_says_each_wire_with_its_colour_and_the_person_s_own_code_goes_before() -> None:
    build = driven("register", lamps(3))
    rows = _rows(build)
    assert len(rows) == len(connections(build))
    assert {row["colour"] for row in rows if row["group"] == LAMPS} == {"purple"}
    own = _rows(colour_wires(build, "lamps", "grey"))
    assert {row["colour"] for row in own if row["group"] == LAMPS} == {"grey"}
    assert [row["step"] for row in rows] == [str(number) for number in range(1, len(rows) + 1)]


def test_the_page_bears_the_stamp_and_the_way_back_finds_each_end() -> None:
    build = driven("register", lamps(3))
    page = wiring_html(build)
    assert stamp_of(build) in page
    back = by_terminal(connections(build))
    assert len(back) == 2 * len(connections(build))
    assert any(here.startswith("Lamps chip, leg 1 (") and "Lamps 2" in there for here, there, _ in back)
    legs = [here for here, _, _ in back if here.startswith("Lamps chip, leg ")]
    numbers = [int(here.split("leg ")[1].split(" ")[0]) for here in legs]
    assert numbers == sorted(numbers)


def test_what_the_meter_should_say_follows_from_the_loop() -> None:
    """A red LED at 5 V behind 330 ohm on an output of 35: 3.2 V over 375 ohm are 8.53 mA, 2.82 V at the resistor."""
    build = driven("register")
    row = next(row for row in connections(build) if row.group == LAMPS)
    assert "2.82 V across the resistor" in meter_words(build, row)
