"""What lamps get in Drive is what their circuit gives them; what lies in its rows is on the bill."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest

from tests.electrical.test_loose import loose
from tests.support.driven import driven, flood, hold, lamps, matrix
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.conductor import FEEDS
from tiny_lantern.circuit.drive import solve_lit, whole_circuit, wired_drive
from tiny_lantern.circuit.elements.loads import HoldLamp, HoldReading
from tiny_lantern.circuit.elements.outputs import Output
from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.netlist import solve_netlist
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.plans.ways import WAYS
from tiny_lantern.ui.files import demo_build

PIECES = {"pair": lamps(2, "lamp-two-colour-2"), "hold": hold(), "relay": flood(), "scanned": matrix()}
CHANGED = [
    driven("pin", sink=True), driven("register", lamps(5), sink=True), driven("switch", lamps(2, "lamp-rgb-anode")),
    driven("switch", transistor_id="mosfet-high", pull_ohm=10e3, base_ohm=220.0, led_v=5.0),
    driven("switch", transistor_id="mosfet-high", has_driver=True, led_v=24.0), driven("sink", common_ohm=15.0),
    driven("scanned", matrix(), rows_by="register"), driven("scanned", matrix(), rows_by="counter"),
    driven("pin", lamps(3, wired="parallel")), driven("pwm", lamps(2, wired="series")),
]  # fmt: skip


def only(build: Build) -> ChannelResult:
    return wired_drive(build).by_driver[build.drivers[0].id]


@pytest.mark.parametrize("kind", [way.kind for way in WAYS])
def test_with_stiff_rails_and_no_wires_a_way_is_what_it_is_by_itself(kind: str) -> None:
    stands_alone(driven(kind, PIECES.get(kind)))


@pytest.mark.parametrize("number", range(len(CHANGED)))
def test_so_are_its_other_forms(number: int) -> None:
    stands_alone(CHANGED[number])


def stands_alone(build: Build) -> None:
    result = solve_drive(build).by_driver[build.drivers[0].id]
    lit = solve_lit(build, compile_circuit(build), wires=0.0, stiff=True, leak_ohm=1e13).channel_a
    found = [lit[channel.driver_id, channel.output] for channel in result.case.channels]
    assert found == pytest.approx(result.on_a.tolist(), rel=1e-9)


def test_two_dies_behind_one_resistor_get_unlike_currents_half_of_the_time() -> None:
    """Two pins of 25 ohm, 270 ohm and the die's 10: 3.2 V of 5 are left for them behind red, 2.1 V behind green."""
    build = driven("pair", lamps(1, "lamp-two-colour-2"))
    result = only(build)
    assert result.on_a[0] == pytest.approx(0.0097, rel=0.01)
    assert result.on_a[1] == pytest.approx(0.00636, rel=0.01)
    assert result.average_a == pytest.approx(result.on_a / 2)
    ohm = result.case.channels[0].resistor_ohm
    assert result.resistor_w[0] == pytest.approx(result.on_a[0] ** 2 * ohm / 2)
    assert np.all(result.pin_a == result.on_a)


def test_a_lamp_that_cannot_be_switched_so_shows_what_that_does_to_it() -> None:
    """Dies on a common cathode behind low-side transistors: the first takes all, through every resistor."""
    result = only(driven("switch", lamps(1, "lamp-rgb-cathode"), transistor_id="mosfet-logic", has_driver=False))
    assert result.on_a[0] > 0.03
    assert max(result.on_a[1:]) < 1e-5


def test_a_relay_s_pin_is_low_while_it_is_on() -> None:
    build = driven("relay", flood())
    driver = build.drivers[0]
    pin = f"board|pin {driver.pins[0].pin}"
    for lit, state in ((frozenset({(driver.id, 0)}), "low"), (frozenset(), "high")):
        elements = compile_circuit(build).netlist(Still(lit)).elements
        assert [each.state for each in elements if isinstance(each, Output) and each.id == pin] == [state]


def test_a_held_rail_is_full_while_it_is_lit_and_held_while_it_is_not() -> None:
    """Its n-channel switches follow their gates: the full rail loses the threshold, the hold rail nothing."""
    build = driven("hold", hold(), transistor_id="mosfet-logic")
    states = {}
    for lit in (True, False):
        still = Still(frozenset({(build.drivers[0].id, 0)} if lit else ()))
        solution = solve_netlist(compile_circuit(build).netlist(still))
        lamps_of = [solution.readings[each.id] for each in solution.netlist.elements if isinstance(each, HoldLamp)]
        states[lit] = {reading.state for reading in lamps_of if isinstance(reading, HoldReading)}
        assert len(lamps_of) == 5
    assert states == {True: {"full"}, False: {"hold"}}


DEMOS = tuple(map(demo_build, ("pier", "cloak")))


@pytest.mark.parametrize(
    "build", [*(driven(way.kind, PIECES.get(way.kind)) for way in WAYS), *CHANGED, loose(60), *DEMOS]
)
def test_the_bill_has_every_part_that_the_rows_name_as_often(build: Build) -> None:
    bill = {line.name: line for line in whole_bill(build)}
    rows = [row for row in whole_circuit(build).conductors if not row.licensed]
    inside = [each for row in rows for each in row.in_line]
    ohms = Counter(each.ohm for each in inside if "Ω" in each.words)
    assert sum(line.amount for name, line in bill.items() if name.startswith("Resistor")) == sum(ohms.values())
    capacitors = sum(each.words.startswith("100 nF") for each in inside)
    assert (bill["Capacitor 100 nF"].amount if capacitors else 0) == capacitors
    fuses = Counter(each.words for row in rows if row.group != FEEDS for each in row.in_line if "fuse" in each.words)
    assert all(bill[name].amount >= count for name, count in fuses.items())
    for gauge in {row.gauge for row in rows if row.group != FEEDS}:
        cut_m = sum(row.cut_m for row in rows if row.gauge == gauge and row.group != FEEDS)
        (line,) = (line for name, line in bill.items() if name.startswith(f"Wire, {gauge}:"))
        assert cut_m < line.amount < 1.2 * cut_m + 20.0


def test_parts_without_resistance_and_a_build_of_nothing_are_solved() -> None:
    ideal = driven("register", lamps(2))
    chip = ideal.shelf.of(ChipPart)[0]
    assert only(change_parts(ideal, revise(chip, out_ohm=0.0))).on_a[0] == pytest.approx(0.0094, rel=0.01)
    assert whole_circuit(Build(name="Nothing")).conductors == ()
    assert wired_drive(Build(name="Nothing")).by_driver == {}
