"""Inputs and rules as parts of the build: pins, words, what goes with them, and what is refused."""

from __future__ import annotations

import pytest

from tests.support.answering import answering, with_deed
from tests.support.builds import one_strip
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.netlist import solve_netlist
from tiny_lantern.circuit.wires.inputs.registry import input_wires
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import remove_board
from tiny_lantern.model.edits_inputs import (
    add_input,
    add_rule,
    change_input,
    put_on_pin,
    remove_input,
    remove_rule,
    shift_rule,
)
from tiny_lantern.model.edits_pieces import remove_piece
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.inputs.registry import INPUT_TYPES
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import board_needs
from tiny_lantern.model.stamp import code_stamp_of, stamp_of
from tiny_lantern.model.store import dumps, loads
from tiny_lantern.plans.pins import assign_pins
from tiny_lantern.show.answering.tables import tables_of

WIRED = [kind for kind, of in INPUT_TYPES.items() if of.wired]


def every_input() -> Build:
    """A build with an input of each kind."""
    build = answering()
    for kind in INPUT_TYPES:
        if kind != "button":
            build = add_input(build, kind)
    return build


def test_each_new_input_gets_a_pin_that_can_read_it_and_keeps_a_place_of_its_own_when_pins_are_assigned() -> None:
    build = every_input()
    board = build.shelf.find(BoardPart, build.boards[0].part_id)
    for each in (build, assign_pins(build, build.boards[0].id)):
        names = [one.pin.pin for one in each.inputs if one.pin is not None]
        assert len(set(names)) == len(WIRED)
        assert not set(names) & {line.pin for line in each.boards[0].lines}
        assert all(board.pin(one.pin.pin).adc for one in each.inputs if one.volts and one.pin)  # type: ignore[union-attr]
    pinned = put_on_pin(build, build.inputs[0].id, "A5")
    assert assign_pins(pinned, build.boards[0].id).inputs[0].pin == pinned.inputs[0].pin


@pytest.mark.parametrize("kind", sorted(INPUT_TYPES.keys() - set(WIRED)))
def test_what_comes_over_the_cable_takes_no_pin_no_wire_and_no_line_of_the_bill(kind: str) -> None:
    build = answering(kind)
    assert build.inputs[0].pin is None
    assert not [need for need in board_needs(build, build.boards[0].id) if need.driver_id == build.inputs[0].id]
    assert not list(input_wires(build))
    assert not list(build.inputs[0].bill())
    assert "held" not in build.rules[0].told(build)


def test_a_new_button_takes_a_pin_that_can_do_nothing_better() -> None:
    build = answering()
    pin = build.shelf.find(BoardPart, build.boards[0].part_id).pin(build.inputs[0].pin.pin)  # type: ignore[union-attr]
    assert pin is not None
    assert not (pin.adc or pin.compare or pin.taken_by)


def test_a_pin_that_only_reads_volts_hears_a_button_too_where_no_other_is_left() -> None:
    build = answering()
    board = build.shelf.find(BoardPart, build.boards[0].part_id)
    line = board.pin(build.boards[0].lines[0].pin)
    pins = (line, revise(board.pin("A0"), output=False, compare=""))
    few = change_parts(change_input(build, "button", pins=()), revise(board, pins=pins))
    assert assign_pins(few, few.boards[0].id).inputs[0].pin.pin == "A0"  # type: ignore[union-attr]


def test_a_rule_says_in_words_what_it_does() -> None:
    build = answering("knob")
    assert build.rules[0].told(build) == "As Knob is turned, the brightness of everything goes from 0% to 100%"
    build = with_deed(build, "speed", "pressed", piece_id=build.pieces[0].id, low=1, high=4, steps=3)
    assert build.rules[0].told(build) == "With each press of Knob, the speed of Strip goes from ×1 to ×4, in 3 steps"


def test_rules_go_with_what_they_are_about_and_with_their_input() -> None:
    build = with_deed(answering("knob"), "brightness", "held", piece_id="strip")
    assert remove_piece(build, "strip").rules == ()
    assert remove_piece(build, "strip").inputs == build.inputs
    assert remove_input(build, build.inputs[0].id).rules == ()
    assert remove_board(build, build.boards[0].id).inputs == ()
    two = add_rule(build, build.inputs[0].id)
    assert [rule.id for rule in shift_rule(two, two.rules[0].id, 1).rules] == [two.rules[1].id, two.rules[0].id]
    assert remove_rule(two, two.rules[0].id).rules == two.rules[1:]


def test_what_cannot_be_is_refused_with_its_place() -> None:
    with pytest.raises(LanternError, match="wants a board"):
        add_input(one_strip(3), "knob")
    build = answering()
    with pytest.raises(LanternError, match="pulls its pins up only"):
        change_input(build, build.inputs[0].id, to="supply")
    with pytest.raises(LanternError, match="scene is for an input that is pressed or released"):
        revise(build, rules=({"id": "r", "input_id": build.inputs[0].id, "when": "turned", "does": {"kind": "scene"}},))
    with pytest.raises(LanternError, match="nothing here has the id"):
        revise(build, rules=({"id": "r", "input_id": "gone", "does": {"kind": "brightness"}},))
    with pytest.raises(LanternError, match="is used at"):
        put_on_pin(build, build.inputs[0].id, build.boards[0].lines[0].pin)
    with pytest.raises(LanternError, match="another resistance"):
        change_input(add_input(build, "light"), "light-sensor", rest_ohm=5000.0, moved_ohm=5000.0)


def test_inputs_and_rules_come_back_from_a_file_and_change_the_stamps_that_depend_on_them() -> None:
    build = every_input()
    assert loads(dumps(build)) == build
    turned = with_deed(build, "brightness", "held", low=0.2)
    assert code_stamp_of(turned) != code_stamp_of(build)
    assert stamp_of(turned) == stamp_of(build), "the wiring is the same"
    assert stamp_of(put_on_pin(build, build.inputs[0].id, "A5")) != stamp_of(build)


def pin_v(build: Build, held: bool) -> float:
    """The volts of the first input's pin in the one circuit."""
    circuit = compile_circuit(build)
    still = Still(frozenset(), held=frozenset({build.inputs[0].id}) if held else frozenset())
    solution = solve_netlist(circuit.netlist(still))
    pin = build.inputs[0].pin
    assert pin is not None
    end = next(each for row in circuit.conductors for each in (row.start, row.end)
               if each.of == build.boards[0].id and each.terminal == f"pin {pin.pin}")  # fmt: skip
    return solution.volts(circuit.node(end)) - solution.volts(circuit.node(circuit.ground))


@pytest.mark.parametrize("kind", WIRED)
def test_the_circuit_gives_a_pin_the_volts_that_the_input_is_said_to_read(kind: str) -> None:
    build = answering(kind)
    one = tables_of(build).hears[0]
    board = build.shelf.find(BoardPart, build.boards[0].part_id)
    steps = 1 << board.adc_bits if one.volts else 1
    for held, reading in ((False, one.rest), (True, one.full)):
        assert pin_v(build, held) / board.logic_v == pytest.approx(reading / steps, abs=0.01)


def test_a_resistor_of_ones_own_is_wired_and_bought() -> None:
    build = change_input(answering(), "button", to="supply", pull_ohm=10e3)
    assert [tables_of(build).hears[0].rest, tables_of(build).hears[0].full] == [0, 1]
    assert pin_v(build, held=False) == pytest.approx(0.0, abs=0.01)
    assert pin_v(build, held=True) == pytest.approx(5.0, abs=0.05)
    names = [line.name for line in whole_bill(build)]
    assert "Button" in names
    assert "Resistor 10.0 kΩ" in names


def test_the_other_circuit_of_a_signal_shares_no_copper_with_this_one() -> None:
    build = answering("signal")
    circuit = compile_circuit(build)
    apart = {"signal wire", "its own 0 V", "anode", "cathode"}
    sides = [(row.start.of == "opto-isolated-signal" and row.start.terminal in apart,
              row.end.of == "opto-isolated-signal" and row.end.terminal in apart)
             for row in circuit.conductors]  # fmt: skip
    assert sum(one and other for one, other in sides) == 2
    assert all(one == other for one, other in sides), "no wire leads from one circuit to the other"
