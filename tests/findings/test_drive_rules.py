"""Verdicts on driving, from both sides of each limit and with the right amounts."""

import re

import pytest

from tests.findings.test_findings import apart, clashing, counted, found, jointed, thick_railed, weak_coils
from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, OFFSET, driven, first, flood, hold, lamps, lit, matrix, railed, with_channel
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.driven.scanned import pattern
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.lamp.eseries import E24, preferred
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_build, change_parts, with_part
from tiny_lantern.model.edits_drive import add_board, change_driver, feed_board
from tiny_lantern.model.edits_pieces import add_strip, change_strip
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.steer import NEW, steer
from tiny_lantern.plans.ways import set_wanted
from tiny_lantern.sheets.connections import connections
from tiny_lantern.show.loads import duties_for


def verdict(build: Build, code: str) -> Finding | None:
    """What a rule says."""
    return found(build).get(code)


@pytest.mark.parametrize("limited_by", ["itself", "module", "chip"])
def test_a_lamp_that_limits_itself_needs_no_resistor(limited_by: str) -> None:
    build = with_channel(driven("pin"), resistor_ohm=None)
    assert verdict(build, "no-resistor").severity is Severity.DANGER
    part = build.shelf.of(LampPart)[0]
    assert verdict(change_parts(build, revise(part, limited_by=limited_by)), "no-resistor") is None
    assert verdict(change_parts(build, revise(part, limited_by="unknown")), "no-resistor") is not None


def test_an_output_is_judged_by_what_it_should_and_by_what_it_may_carry() -> None:
    """A red LED on a 5 V pin of 25 ohm: 3.2 V over R + 35 ohm and 0.05 ohm of wires, so 125 ohm carry 20 mA and 45 ohm
    40 mA; the supply's wires, which four lamps share, take a little."""
    assert verdict(with_channel(driven("pin"), resistor_ohm=125.0), "output-current") is None
    weak = verdict(with_channel(driven("pin"), resistor_ohm=123.5), "output-current")
    assert weak.severity is Severity.WEAK_SPOT
    assert verdict(with_channel(driven("pin"), resistor_ohm=46.0), "output-current").severity is Severity.WEAK_SPOT
    over = verdict(with_channel(driven("pin"), resistor_ohm=44.0), "output-current")
    assert over.severity is Severity.DANGER
    assert "0.3 mA too much" in over.message


def test_a_board_is_judged_by_the_sum_of_its_pins() -> None:
    """Each of 24 lamps at 330 ohm carries 3.2 V / 365 ohm = 8.77 mA; 200 mA are 22 of them."""
    assert verdict(driven("pin", lamps(22)), "board-current") is None
    assert "10.4 mA too much" in verdict(driven("pin", lamps(24)), "board-current").message


def test_a_chip_is_judged_by_the_sum_of_its_outputs() -> None:
    """Seven white LEDs of 9.33 mA are 65 mA of 70, eight are 75."""
    assert verdict(driven("register", lamps(7, "led-white-5mm")), "chip-current") is None
    assert "4.7 mA too much" in verdict(driven("register", lamps(8, "led-white-5mm")), "chip-current").message


def test_a_missing_base_resistor_is_told_with_what_the_pin_would_give() -> None:
    """(5 − 0.7) V over 25 ohm is 172 mA."""
    build = driven("switch", transistor_id="bjt-small", base_ohm=None)
    assert "172.0 mA" in verdict(build, "no-base-resistor").message
    assert verdict(driven("switch", transistor_id="bjt-small", base_ohm=1000.0), "no-base-resistor") is None
    assert verdict(driven("switch", base_ohm=None), "no-base-resistor").severity is Severity.WEAK_SPOT


def test_a_gate_is_well_on_from_a_volt_and_a_half_over_its_threshold() -> None:
    assert verdict(driven("switch"), "barely-on") is None
    build = driven("switch", transistor_id="mosfet-tall")
    assert "5.50 V turn it on well" in verdict(build, "barely-on").message
    lower = driven("switch", transistor_id="mosfet-tall", board=OFFSET)
    assert verdict(lower, "barely-on").severity is Severity.WONT_WORK
    (result,) = solve_drive(lower).by_driver.values()
    assert not result.on_a.any()
    assert not result.pin_a.any()


def test_a_high_side_gate_is_turned_off_by_a_pin_of_its_own_supply() -> None:
    parts = {"transistor_id": "mosfet-high", "pull_ohm": 10_000.0}
    assert verdict(driven("switch", led_v=5.0, **parts), "high-side-stays-on") is None
    assert verdict(driven("switch", led_v=12.0, **parts), "high-side-stays-on") is not None
    assert verdict(driven("switch", led_v=12.0, has_driver=True, **parts), "high-side-stays-on") is None


def test_a_sink_is_in_compliance_from_its_least_voltage_on() -> None:
    """At 10 mA a red LED drops 1.9 V and the output needs 0.436 V."""
    assert verdict(driven("sink", led_v=2.34), "out-of-compliance") is None
    told = verdict(driven("sink", led_v=2.30), "out-of-compliance")
    assert "0.03 V too little" in told.message


def fitted_with(build: Build, part_id: str) -> Build:
    """The build with another part for its first piece."""
    piece = revise(build.pieces[0], part_id=part_id)
    return revise(with_part(build, part(part_id)), pieces=(piece, *build.pieces[1:]))


def test_a_common_lead_is_judged_against_outputs_that_sink_or_source() -> None:
    assert verdict(driven("register", lamps(1, "lamp-rgb-anode")), "common-type") is None
    assert verdict(driven("register", lamps(1, "lamp-rgb-cathode")), "common-type") is None
    assert verdict(driven("register", lamps(1, "lamp-rgb-cathode"), sink=True), "common-type") is not None
    wrong = fitted_with(driven("sink", lamps(1, "lamp-rgb-anode")), "lamp-rgb-cathode")
    assert verdict(wrong, "common-type") is not None
    assert verdict(driven("sink", lamps(1, "lamp-rgb-anode")), "common-type") is None


def test_a_row_is_judged_by_what_carries_it() -> None:
    carried = driven("scanned", matrix())
    assert verdict(carried, "row-overload") is None
    by_register = change_driver(carried, carried.drivers[0].id, rows_by="register", row_ohm=35.0)
    row_a = float(solve_drive(by_register).by_driver[carried.drivers[0].id].on_a[:8].sum())
    just = change_driver(by_register, carried.drivers[0].id, row_limit_a=row_a * 1.0001)
    assert verdict(just, "row-overload") is None
    barely = change_driver(by_register, carried.drivers[0].id, row_limit_a=row_a * 0.9999)
    assert verdict(barely, "row-overload") is not None
    over = change_driver(by_register, carried.drivers[0].id, row_limit_a=row_a - 0.010)
    assert "10.0 mA too much" in verdict(over, "row-overload").message


@pytest.mark.parametrize(("rate_hz", "told"), [(800.0, False), (792.0, True)])
def test_rows_stand_still_from_a_hundred_times_a_second(rate_hz: float, told: bool) -> None:
    assert (verdict(driven("scanned", matrix(), row_rate_hz=rate_hz), "refresh-low") is not None) == told


def test_lamps_on_one_compare_channel_clash_only_where_the_show_asks_unlike_things() -> None:
    assert verdict(clashing("chase"), "compare-clash") is not None
    alike = clashing("steady")
    assert verdict(alike, "compare-clash") is None
    first_lit, second_dimmer = look_of("steady", colour="#ff0000"), look_of("steady", colour="#e00000")
    unlike = add_effect(revise(alike, effects=()), first_lit, 0, 0, 0.0, 5.0)
    assert verdict(add_effect(unlike, first_lit, 1, 1, 0.0, 5.0), "compare-clash") is None
    assert verdict(add_effect(unlike, second_dimmer, 1, 1, 0.0, 5.0), "compare-clash") is not None


@pytest.mark.parametrize(("out_v", "words"), [(1.502, "forgets"), (1.55, None), (1.63, "glows")])
def test_a_hold_voltage_is_judged_at_both_ends_of_the_window(out_v: float, words: str | None) -> None:
    told = verdict(driven("hold", hold(), out_v=out_v), "hold-missed")
    assert (told is None) == (words is None)
    assert words is None or words in told.title


def test_a_regulator_needs_its_dropout() -> None:
    assert verdict(driven("hold", hold(), in_v=2.80), "no-headroom") is None
    assert "0.01 V too little" in verdict(driven("hold", hold(), in_v=2.79), "no-headroom").message


@pytest.mark.parametrize(("period_s", "severity"), [(0.1, Severity.WONT_WORK), (0.3, Severity.WEAK_SPOT)])
def test_a_relay_that_the_show_switches_often_wears_out(period_s: float, severity: Severity) -> None:
    build = lit(driven("relay", flood(), shows_per_night=1000.0), kind="blink", period_s=period_s, duty=0.5)
    assert verdict(build, "relay-life").severity is severity


def test_a_relay_that_closes_once_a_show_lasts() -> None:
    build = lit(driven("relay", flood(), shows_per_night=10.0))
    assert verdict(build, "relay-life") is None


def test_coils_pull_in_from_their_voltage_on() -> None:
    """The driver loses 0.2 V; 3.75 V at the coil want 3.95 V and what the supply's resistance loses."""
    assert verdict(weak_coils(4.0), "relay-coil") is None
    assert "0.0" in verdict(weak_coils(3.9), "relay-coil").message


def test_a_supply_is_judged_with_the_lamps_that_hang_on_it() -> None:
    """Two hundred lamps of 10 mA and their chips stay under 3.2 A; at 18 mA they do not."""
    build = add_supply(driven("sink", lamps(200)), part("mains-5v-4a"), "Supply")
    build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    assert verdict(build, "supply-share") is None
    more = change_driver(build, build.drivers[0].id, rext_ohm=1000.0)
    told = verdict(more, "supply-share")
    assert "lamps and boards with 3.8" in told.message


def test_asking_for_a_current_fits_the_resistor_for_it() -> None:
    build = driven("pin")
    channel = first(build)[1]
    less = set_wanted(build, channel.id, 0.005)
    assert first(less)[1].resistor_ohm == 680.0
    assert first(less)[1].wanted_a == 0.005
    assert set_wanted(driven("sink"), "lamps-sink-0", 0.018).drivers[0].rext_ohm == 1000.0


def knobbed(board: str = OFFSET, **changes: object) -> Build:
    """Lamps that dim, with a knob."""
    build = driven("pwm", board=board)
    return change_way(build, build.drivers[0].id, knob=True, **changes)


def test_a_knob_that_rests_above_nothing_makes_lamps_glow() -> None:
    """A rest of 22 of 4095 counts is level 5 of 1023, 1 of 255, and 0 of 127: what rounds to nothing is dark."""
    told = verdict(knobbed(), "offset-glow")
    assert "reads 22 of 4096" in told.message
    assert verdict(knobbed(rest_off=True), "offset-glow") is None
    assert verdict(driven("pwm", board=OFFSET), "offset-glow") is None
    assert verdict(knobbed(LARGE), "offset-glow") is None
    build = knobbed()
    part = build.shelf.of(BoardPart)[0]
    assert "level 1 of 255, 0.39%" in verdict(change_parts(build, revise(part, pwm_bits=8)), "offset-glow").message
    assert verdict(change_parts(build, revise(part, pwm_bits=7)), "offset-glow") is None


def test_an_int_overflows_where_the_product_has_more_bits() -> None:
    """1023 readings times 31 are 31713 of 32767; times 63 they are 64449, over from reading 521 on."""
    build = knobbed(LARGE, levels_in="int")
    part = build.shelf.of(BoardPart)[0]
    assert verdict(change_parts(build, revise(part, pwm_bits=5)), "int-overflow") is None
    told = verdict(change_parts(build, revise(part, pwm_bits=6)), "int-overflow")
    assert "goes up to 64449" in told.message
    assert "from reading 521 on" in told.message
    assert verdict(change_parts(build, revise(part, int_bits=32)), "int-overflow") is None
    assert verdict(knobbed(LARGE), "int-overflow") is None


def test_a_pin_that_is_pulled_up_while_its_board_boots_is_told_what_it_bears() -> None:
    """A board of 5 V bears 5.3 V at a pin that reads; one of 3.3 V bears 3.6 V."""
    parts = {"transistor_id": "mosfet-high", "pull_ohm": 1e5}
    assert verdict(driven("switch", led_v=5.3, **parts), "pin-over") is None
    over = verdict(driven("switch", led_v=5.5, **parts), "pin-over")
    assert (over.severity, over.title) == (Severity.DANGER, "A pin of Lamps is pulled up to 5.50 V")
    assert "0.20 V too much" in over.message
    assert "pin-over" not in found(over.tries[0].edit(driven("switch", led_v=5.5, **parts)))
    small = driven("switch", led_v=5.0, board=OFFSET, **parts)
    assert "1.40 V too much" in verdict(small, "pin-over").message
    low = driven("switch", led_v=12.0, transistor_id="mosfet-logic")
    assert verdict(low, "pin-over") is None, "the gate of a low side is pulled down"
    behind = steer(driven("switch", led_v=12.0, **parts), "lamps-switch", NEW)
    assert verdict(behind, "pin-over") is None, "a register's output is driven at all times"


def test_a_counter_led_to_a_reset_starts_where_it_should() -> None:
    build = counted()
    assert "by up to 7 rows" in verdict(build, "counter-start").message
    mended = change_way(build, build.drivers[0].id, reset_wired=True)
    assert verdict(mended, "counter-start") is None
    assert [pin.role for pin in mended.drivers[0].pins][-2:] == ["step", "reset"]


def test_a_counter_reset_by_its_own_output_comes_round_and_starts_anywhere() -> None:
    build = change_way(counted(), counted().drivers[0].id, reset_wired=True, reset_by="output")
    told = verdict(build, "counter-start")
    assert (told.severity, told.tries[0].label) == (Severity.WEAK_SPOT, "Reset by a pin")
    assert "says nothing of where it starts" in told.message
    row = next(row for row in connections(build) if row.key.endswith("counter/reset"))
    assert (row.start.terminal, row.end.terminal) == ("row 8", "reset")
    assert "reset" not in [pin.role for pin in build.drivers[0].pins]
    assert verdict(told.tries[0].edit(build), "counter-start") is None


def test_rows_on_registers_may_have_transistors_or_larger_column_resistors() -> None:
    """Eight columns of 5 V behind 35 ohm of a row's output that may give 35 mA in all."""
    build = driven("scanned", matrix(), rows_by="register", row_ohm=35.0, row_limit_a=0.035)
    told = verdict(build, "row-overload")
    assert [each.beside for each in told.tries] == [False, True]
    dim = told.tries[1].edit(build)
    assert dim.drivers[0].rows_by == "register"  # type: ignore[union-attr]
    assert verdict(dim, "row-overload") is None
    row_a = pattern(solve_drive(dim).by_driver[dim.drivers[0].id].case).row_line_a.max()
    assert 0.9 * 0.035 < row_a <= 0.035, "as bright as the row bears, and no brighter"


def changed(build: Build, kind: type[Part], **changes: object) -> Build:
    """The first part of a kind changed."""
    return change_parts(build, revise(build.shelf.of(kind)[0], **changes))


def test_a_column_is_judged_by_what_an_output_should_carry() -> None:
    build = driven("scanned", matrix())
    peak_a = float(wired_drive(build).by_driver[build.drivers[0].id].on_a.max())
    assert verdict(changed(build, ChipPart, output_limit_a=peak_a * 1.0001), "column-overload") is None
    told = verdict(changed(build, ChipPart, output_limit_a=peak_a - 0.001), "column-overload")
    assert "1.0 mA too much" in told.message


@pytest.mark.parametrize("share", [0.3, 0.55, 0.8])
def test_a_column_gets_the_least_resistor_that_is_enough(share: float) -> None:
    build = driven("scanned", matrix())

    def peak_a(build: Build) -> float:
        return float(wired_drive(build).by_driver[build.drivers[0].id].on_a.max())

    limit_a = share * peak_a(build)
    tight = changed(build, ChipPart, output_limit_a=limit_a)
    told = verdict(tight, "column-overload")
    assert f"{(1 - share) * peak_a(build) * 1000:.1f} mA too much" in told.message
    mended = told.tries[0].edit(tight)
    smaller_ohm = preferred(mended.drivers[0].column_ohm, E24).below
    assert peak_a(mended) <= limit_a < peak_a(change_driver(mended, mended.drivers[0].id, column_ohm=smaller_ohm))


def test_a_demultiplexer_lights_one_and_not_two() -> None:
    one = lit(driven("demux", lamps(2)), kind="chase", length_px=1, tail_px=0, spacing_px=2)
    assert verdict(one, "one-at-a-time") is None
    assert verdict(lit(driven("demux", lamps(2))), "one-at-a-time") is not None


def test_a_resistor_needs_its_third_of_a_volt() -> None:
    """A red LED at 10 mA drops 1.9 V; with 0.3 V for the resistor 2.2 V are needed."""
    assert verdict(driven("register", led_v=2.21), "supply-too-low") is None
    assert "0.01 V too little" in verdict(driven("register", led_v=2.19), "supply-too-low").message


@pytest.mark.parametrize(("spread_v", "told"), [(0.024, False), (0.027, True)])
def test_lamps_share_a_resistor_where_they_are_alike(spread_v: float, told: bool) -> None:
    """Two lamps of 5 mA each over 10 ohm even out 0.05 V between the highest and the lowest."""
    build = with_channel(driven("pin", lamps(2, wired="parallel")), wanted_a=0.01, resistor_ohm=290.0)
    part = build.shelf.of(LampPart)[0]
    die = revise(part.dies[0], spread_v=spread_v)
    found = verdict(changed(build, LampPart, dies=(die,)), "shared-resistor")
    assert (found is not None) == told


@pytest.mark.parametrize(("ohm", "told"), [(3950.0, False), (3850.0, True)])
def test_a_quarter_watt_resistor_makes_an_eighth(ohm: float, told: bool) -> None:
    """22.1 V over 3.9 kilohm are 0.125 W."""
    build = with_channel(driven("switch", lamps(1), led_v=24.0), resistor_ohm=ohm)
    assert (verdict(build, "resistor-heat") is not None) == told


def test_a_relay_s_contact_is_judged_by_current_and_volts() -> None:
    """10 W at 12 V are 0.833 A."""
    build = driven("relay", flood())
    assert verdict(changed(build, RelayPart, contact_a=0.834), "relay-contact") is None
    assert verdict(changed(build, RelayPart, contact_a=0.832), "relay-contact") is not None
    assert verdict(changed(build, RelayPart, contact_v=12.0), "relay-contact") is None
    assert "1 V too much" in verdict(changed(build, RelayPart, contact_v=11.0), "relay-contact").message


@pytest.mark.parametrize(("light_operations", "told"), [(365_100.0, False), (364_900.0, True)])
def test_a_contact_lasts_a_year_of_nights(light_operations: float, told: bool) -> None:
    """Ten seconds of a blink of one second close it ten times a show, a hundred shows a night a thousand times."""
    build = lit(driven("relay", flood(), shows_per_night=100.0), kind="blink", period_s=1.0, duty=0.5)
    found = verdict(changed(build, RelayPart, light_operations=light_operations), "relay-life")
    assert (found is not None) == told


def test_a_relay_stays_off_below_half() -> None:
    bright = lit(driven("relay", flood()), kind="blink", period_s=0.1, duty=0.5)
    dim = lit(driven("relay", flood()), kind="blink", period_s=0.1, duty=0.5, colour="#808080")
    assert verdict(bright, "relay-life") is not None
    assert verdict(dim, "relay-life") is None


@pytest.mark.parametrize(("bears_a", "severity"), [(0.173, Severity.WONT_WORK), (0.171, Severity.DANGER)])
def test_a_bare_base_endangers_what_cannot_bear_its_current(bears_a: float, severity: Severity) -> None:
    """(5 - 0.7) V over 25 ohm is 172 mA."""
    build = driven("switch", transistor_id="bjt-small", base_ohm=None)
    bjt = next(part for part in build.shelf.of(TransistorPart) if part.sort == "bjt")
    build = change_parts(build, revise(bjt, base_limit_a=1.0))
    assert verdict(changed(build, BoardPart, pin_absolute_a=bears_a), "no-base-resistor").severity is severity


def test_a_transistor_is_judged_by_amps_and_volts() -> None:
    build = driven("switch", led_v=12.0)
    assert verdict(changed(build, TransistorPart, most_v=12.0), "transistor-limit") is None
    assert "0.5 V too much" in verdict(changed(build, TransistorPart, most_v=11.5), "transistor-limit").message
    drawn_a = float(solve_drive(build).by_driver[build.drivers[0].id].on_a[0])
    assert verdict(changed(build, TransistorPart, most_a=drawn_a * 1.001), "transistor-limit") is None
    assert verdict(changed(build, TransistorPart, most_a=drawn_a * 0.999), "transistor-limit") is not None


def test_a_chip_is_judged_by_the_voltage_that_it_gets() -> None:
    assert verdict(driven("register", led_v=6.0), "chip-voltage") is None
    assert "0.10 V too much" in verdict(driven("register", led_v=6.1), "chip-voltage").message
    sinks = driven("sink", led_v=18.7)
    assert verdict(sinks, "chip-voltage") is None, "a dark red lamp takes its 1.8 V"
    assert "0.10 V too much" in verdict(change_driver(sinks, "lamps-sink", led_v=18.9), "chip-voltage").message


def test_a_dark_die_is_judged_by_what_it_gets_backwards() -> None:
    build = driven("scanned", matrix(), rows_by="register", led_v=5.0)
    assert verdict(build, "reverse-voltage") is None
    assert "0.30 V too much" in verdict(change_driver(build, "matrix-scanned", led_v=5.3), "reverse-voltage").message
    floating = driven("scanned", matrix(), rows_by="transistor", row_transistor_id="mosfet-high", led_v=5.3)
    assert verdict(floating, "reverse-voltage") is None, "a row that is off floats"
    pair = driven("pair", lamps(1, "lamp-two-colour-2"))
    assert verdict(pair, "reverse-voltage") is None, "its other die holds it at 2 V"
    weak = change_parts(pair, revise(pair.shelf.of(LampPart)[0], reverse_v=1.5))
    assert verdict(weak, "reverse-voltage") is not None


def test_a_return_left_apart_is_told_only_where_something_else_controls_the_lamps() -> None:
    split = apart()
    assert "1 of them" in verdict(split, "no-common-return").message
    assert verdict(change_supply(split, "lamps-supply", joined=True), "no-common-return") is None
    alone = feed_board(split, split.boards[0].id, "lamps-supply")
    assert verdict(alone, "no-common-return") is None, "the board hangs on the same supply"
    strip = change_supply(one_strip(10), "supply", joined=False)
    assert verdict(strip, "no-common-return") is None, "nothing else is there"
    two = add_supply(strip, part("mains-5v-4a"), "Board's")
    assert "Strip" in verdict(two, "no-common-return").message


def test_a_hot_regulator_is_fed_from_what_it_needs_and_a_little_more() -> None:
    hot = driven("hold", hold(150), in_v=24.0)
    finding = verdict(hot, "too-hot")
    assert "52 K too much" in finding.message
    (mend,) = finding.tries
    cool = mend.edit(hot)
    regulator = cool.shelf.find(RegulatorPart, cool.drivers[0].regulator_id)
    assert 0 < cool.drivers[0].in_v - cool.drivers[0].out_v - regulator.dropout_v < 0.4
    assert verdict(cool, "too-hot") is None
    assert verdict(driven("hold", hold(90), in_v=24.0), "too-hot") is None


@pytest.mark.parametrize(
    ("rail_a", "return_a", "side", "over_a"), [(5.0, 9.0, "positive", 0.52), (9.0, 5.3, "return", 0.22)]
)
def test_each_rail_of_a_strip_is_judged_by_what_it_may_carry(
    rail_a: float, return_a: float, side: str, over_a: float
) -> None:
    build = thick_railed()
    strip = build.shelf.of(StripPart)[0]
    judged = verdict(change_parts(build, revise(strip, rail_limit_a=rail_a, return_limit_a=return_a)), "strip-copper")
    assert f"this strip's {side} rail" in judged.message
    assert f"{over_a:.2f} A less" in judged.message
    assert verdict(change_parts(build, revise(strip, rail_limit_a=9.0, return_limit_a=6.0)), "strip-copper") is None


def test_a_joint_is_told_by_the_side_that_carries_more() -> None:
    """Beyond a cut, and a feed of its own, the return shares what the positive side of the joint carries alone."""
    build = change_strip(jointed(), "next", cuts=(30,))
    feed = build.feeds[0]
    own = revise(feed, id="own", attach=revise(feed.attach, strip_id="next", position_m=build.strips[1].length_m))
    build = revise(build, feeds=(feed, own), joints=(revise(build.joints[0], limit_a=0.2, pos_ohm=0.05, neg_ohm=0.05),))
    solved = solve_power(build, duties_for(build, FullWhite())).runs["next"]
    carried_a = float(solved.pixel_a[:30].sum())
    told = verdict(build, "joint-current")
    assert f"carries {carried_a:.2f} A" in told.title
    assert f"{carried_a - 0.2:.2f} A less" in told.message


@pytest.mark.parametrize(("low_v", "high_v", "offered"), [(4.7, 4.95, True), (0.7, 0.95, False), (12.2, 12.45, False)])
def test_a_rail_is_trimmed_only_to_what_its_regulator_gives(low_v: float, high_v: float, offered: bool) -> None:
    told = verdict(railed(output_ohm=1.0, low_v=low_v, high_v=high_v), "rail-window")
    assert bool(told.tries) == offered


def test_a_show_that_asks_for_far_too_much_is_told_by_how_much() -> None:
    build = lit(one_strip(300, supply="mains-5v-4a"))
    told = verdict(build, "show-peak")
    asked_a = float(re.search(r"for ([\d.]+) A", told.title)[1])
    assert asked_a > 7.0
    assert f"{asked_a - 3.2:.2f} A too much" in told.message


class TestTheHighOfTheData:
    """A board of 3.3 V before a strip of 5 V: seven tenths of what its first pixel stands at are needed."""

    def at(self, set_v: float, logic_v: float = 3.3) -> Build:
        build = add_board(change_supply(one_strip(20), "supply", set_v=set_v), part("board-paired-3v3"))
        return change_parts(build, revise(build.shelf.of(BoardPart)[0], logic_v=logic_v))

    def test_it_is_judged_from_both_sides_at_the_first_pixel_as_solved(self) -> None:
        build = self.at(5.0)
        solved = solve_power(build, duties_for(build, FullWhite())).runs["strip"]
        pixel_v, lifted_v = float(solved.pixel_v[0]), float(solved.rail_neg_v[1])
        assert pixel_v < 4.98
        low = verdict(build, "data-high")
        assert low.severity is Severity.WEAK_SPOT
        assert f"{0.7 * pixel_v - (3.3 - lifted_v):.2f} V too little" in low.message
        just_v = 0.7 * pixel_v + lifted_v
        assert verdict(self.at(5.0, just_v + 0.001), "data-high") is None
        assert "0.00 V too little" in verdict(self.at(5.0, just_v - 0.001), "data-high").message
        half_v = 0.5 * pixel_v + lifted_v
        assert verdict(self.at(5.0, half_v + 0.001), "data-high").severity is Severity.WEAK_SPOT
        assert verdict(self.at(5.0, half_v - 0.001), "data-high").severity is Severity.WONT_WORK

    def test_each_mend_takes_it_away(self) -> None:
        build = self.at(5.0)
        shifter, lower = verdict(build, "data-high").tries
        assert verdict(shifter.edit(build), "data-high") is None
        assert shifter.edit(build).data.shifted
        assert lower.edit(build).supplies[0].set_v == pytest.approx(4.70)
        assert verdict(lower.edit(build), "data-high") is None

    def test_a_high_of_next_to_nothing_is_not_mended_by_a_supply_of_nothing(self) -> None:
        lost = verdict(self.at(5.0, logic_v=0.01), "data-high")
        assert lost.severity is Severity.WONT_WORK
        assert [fix.label for fix in lost.tries] == ["A level shifter"]

    def test_only_first_pixels_of_strips_that_run_on_the_supply_itself_are_judged(self) -> None:
        build = add_strip(self.at(5.0), part("rgb-5v-60"), 20, "Next")
        feed = revise(build.feeds[0], id="next-feed", attach=revise(build.feeds[0].attach, strip_id="next"))
        build = revise(build, feeds=(*build.feeds, feed))
        told = [one for one in check(gather(build, FullWhite())) if one.code == "data-high"]
        assert [one.place.piece_id for one in told] == ["strip"]
        each = change_build(build, data=revise(build.data, parallel=True))
        told = [one for one in check(gather(each, FullWhite())) if one.code == "data-high"]
        assert [one.place.piece_id for one in told] == ["strip", "next"]
        assert verdict(add_board(one_strip(20, "rgb-12v-60"), part("board-paired-3v3")), "data-high") is None
        assert verdict(add_board(one_strip(20), part(LARGE)), "data-high") is None


@pytest.mark.parametrize(
    ("amps", "dims", "rate_hz", "warm_c"),
    [(8.2, True, 1000.0, 167), (8.2, False, 1000.0, 0), (7.4, True, 1000.0, 0), (5.0, True, 20_000.0, 330)],
)
def test_a_dimmed_switch_is_judged_at_its_worst_duty(
    amps: float, dims: bool, rate_hz: float, warm_c: int | None
) -> None:
    """29 milliohm at 62 K/W and 3.5 us of edges, 25 degrees around it: 8.2 A of 24 V make 1.95 W by conducting and
    0.34 W by switching a thousand times a second."""
    build = driven(
        "switch", flood(), transistor_id="mosfet-logic", led_v=24.0, dims=dims, dim_hz=rate_hz, pull_ohm=None
    )
    hot = verdict(changed(build, LoadPart, nominal_v=24.0, power_w=24.0 * amps), "too-hot")
    assert (hot is None) == (warm_c == 0)
    if hot is not None:
        assert f"{warm_c} °C" in hot.title


@pytest.mark.parametrize(("bits", "refresh_hz"), [(8, 80), (7, 0)])
def test_sinks_that_dim_come_round_as_often_as_their_sixteen_bits_a_chip_let_them(bits: int, refresh_hz: int) -> None:
    """48 lamps on three chips: 48 bits of a microsecond and a latch, 255 times for each round of 8 bits."""
    told = verdict(driven("sink", lamps(48), levels_bits=bits), "refresh-low")
    assert (told is None) == (refresh_hz == 0)
    if told is not None:
        assert f"{refresh_hz} times a second" in told.title


def test_what_comes_round_too_seldom_is_offered_what_lets_it_come_round_often_enough() -> None:
    dimming = verdict(driven("sink", lamps(48), levels_bits=8), "refresh-low")
    assert [mend.label for mend in dimming.tries] == ["7 bits of dimming"], "80 a second, 160 with one bit less"
    dwelling = verdict(driven("demux", lamps(16)), "refresh-low")
    assert [mend.label for mend in dwelling.tries] == ["156 µs each"], "sixteen turns four hundred times a second"
    scanned = verdict(driven("scanned", matrix(), row_rate_hz=400.0, blank_s=0.0), "refresh-low")
    assert [mend.label for mend in scanned.tries] == ["3200 rows a second"]
