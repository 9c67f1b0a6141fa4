"""Driven lamps by other methods: bisection, sums, and what must hold whatever the figures are."""

from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import part
from tests.support.driven import driven, flood, hold, lamps, matrix, railed
from tests.support.driven import lit as light_up
from tiny_lantern.electrical.data_level import FirstPixel, data_level
from tiny_lantern.electrical.drive.register import bytes_to_send, outputs_after
from tiny_lantern.electrical.drive.sink import SinkChip, SinkOutput, by_number_lit, sink_state
from tiny_lantern.electrical.driven.contract import NO_LIMIT, Block
from tiny_lantern.electrical.driven.solution import solve_drive, solver_of, source_of, ways
from tiny_lantern.electrical.inputs.knob import Knob
from tiny_lantern.electrical.inputs.press import PressSensor, divider
from tiny_lantern.electrical.lamp.eseries import E12, E24, preferred
from tiny_lantern.electrical.lamp.led import Led, LedString, string_of
from tiny_lantern.electrical.lamp.loop import Loop, choose, fit
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v
from tiny_lantern.electrical.lamp.parallel import on_one_resistor
from tiny_lantern.electrical.lamp.shared_return import Branch, ColourLamp, lit
from tiny_lantern.electrical.power_tree import idle_loads_a, lamp_loads_a, power_tree
from tiny_lantern.model.base import revise
from tiny_lantern.model.edits_drive import change_board, change_channel, change_driver, feed_board
from tiny_lantern.model.edits_layout import shift_pieces
from tiny_lantern.model.edits_pieces import add_piece, change_piece
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.edits_show import change_effect
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.boxed import Boxed, BoxOutput
from tiny_lantern.model.ways.registry import DRIVER_TYPES
from tiny_lantern.plans.resistors import loop_of
from tiny_lantern.plans.told import told_of
from tiny_lantern.plans.ways import WAYS, drive_piece
from tiny_lantern.show.supply_draw import beside_strips_of_show_a

LEDS = st.builds(
    Led,
    forward_v=st.floats(1.6, 3.4),
    test_a=st.just(0.01),
    slope_ohm=st.floats(1, 40),
    count=st.integers(1, 3),
)
OHMS = st.floats(1, 5000)


def bisected(over: object, low: float, high: float) -> float:
    """Where a rising function crosses nothing, by halving."""
    for _ in range(200):
        middle = (low + high) / 2
        low, high = (middle, high) if over(middle) < 0 else (low, middle)  # type: ignore[operator]
    return (low + high) / 2


@given(supply=st.floats(2, 24), out=st.floats(0, 60), ohm=OHMS, leds=st.lists(LEDS, min_size=1, max_size=3))
def test_a_loop_agrees_with_halving(supply: float, out: float, ohm: float, leds: list[Led]) -> None:
    string = string_of(leds)
    solved = fit(Loop(supply, out, string), ohm).current_a
    current = bisected(lambda amps: amps * (ohm + out) + string.voltage_v(amps) - supply, 0.0, supply / ohm + 1)
    assert solved == pytest.approx(max(0.0, current), abs=1e-9)


@given(supply=st.floats(2, 12), source=st.floats(0.1, 500), leds=st.lists(LEDS, min_size=1, max_size=8))
def test_a_shared_node_agrees_with_halving(supply: float, source: float, leds: list[Led]) -> None:
    foot, ohm = np.array([led.foot_v for led in leds]), np.array([led.series_ohm for led in leds])
    node = settled_v(supply, source, foot, ohm, 0.018)

    def over(volts: float) -> float:
        return float(branch_currents(volts, foot, ohm, 0.018).sum()) - (supply - volts) / source

    assert node == pytest.approx(bisected(over, -1.0, supply), abs=1e-8)


@given(wanted=st.floats(0.5, 9e6))
def test_preferred_values_lie_round_what_is_wanted(wanted: float) -> None:
    for series, widest in ((E12, 1.26), (E24, 1.16)):
        found = preferred(wanted, series)
        assert found.down <= wanted * (1 + 1e-9)
        assert found.up >= wanted * (1 - 1e-9)
        assert found.below < wanted
        assert found.up / found.below < widest
        assert found.nearest in (found.up, found.down)
        assert preferred(found.up, series).up == found.up


@pytest.mark.parametrize(("side", "free_v", "loaded_v"), [("supply", 2.5, 5 / 3), ("ground", 2.5, 5 / 3)])
def test_an_input_of_few_ohms_loads_a_press_sensor_s_lower_resistor(side: str, free_v: float, loaded_v: float) -> None:
    sensor = PressSensor(10_000.0, 1000.0, 5.0, side, 5.0, 10)
    assert divider(sensor, 10_000.0).rest_v == pytest.approx(free_v)
    assert divider(replace(sensor, input_ohm=10_000.0), 10_000.0).rest_v == pytest.approx(loaded_v)


@given(led=LEDS, wanted=st.floats(0.002, 0.02))
def test_a_resistor_rounded_up_never_gives_more_than_was_wanted(led: Led, wanted: float) -> None:
    choice = choose(Loop(12.0, 25.0, string_of([led])), wanted)
    if choice.fits is not None:
        for series in ("e12", "e24"):
            assert choice.fits[f"{series}_up"].current_a <= wanted * (1 + 1e-9)
            assert choice.fits[f"{series}_below"].current_a >= wanted * (1 - 1e-9)
            found = choice.fits[f"{series}_up"]
            assert found.least_a <= found.current_a <= found.most_a
            assert found.resistor_worst_w >= found.resistor_w


def test_the_lowest_of_lamps_side_by_side_takes_most() -> None:
    found = on_one_resistor(5.0, 0.0, 100.0, [Led(1.8, 0.01, 10.0), Led(2.0, 0.01, 10.0), Led(2.0, 0.01, 10.0)])
    assert found.led_a[0] > 5 * found.led_a[1]
    assert found.share is not None
    assert found.share.sum() == pytest.approx(1.0)


def test_an_off_pin_of_lower_voltage_lets_a_common_anode_glow() -> None:
    red = Branch(Led(1.9, 0.01, 10.0), 100.0)
    lamp = ColourLamp("anode", 5.0, 25.0, 0.0, {"red": red}, off_pin_v=3.3)
    assert lit(lamp, ()).colour_a["red"] == 0.0
    near = ColourLamp("anode", 5.0, 25.0, 0.0, {"red": Branch(Led(1.5, 0.01, 10.0), 100.0)}, off_pin_v=3.3)
    assert lit(near, ()).colour_a["red"] > 0.001


def test_a_shared_resistor_before_a_sink_chip_makes_brightness_depend_on_how_many_are_lit() -> None:
    outputs = [SinkOutput(Led(1.9, 0.01, 10.0))] * 16
    alone = by_number_lit(SinkChip(), outputs, 5.0, 0.0, 25.0)
    shared = by_number_lit(SinkChip(), outputs, 5.0, 22.0, 25.0)
    assert len({round(float(state.output_a[0]), 9) for state in alone[1:]}) == 1
    currents = [float(state.output_a[0]) for state in shared[1:]]
    assert currents == sorted(currents, reverse=True)
    assert currents[-1] < currents[0] / 2


@given(bits=st.lists(st.booleans(), min_size=8, max_size=40).filter(lambda bits: len(bits) % 8 == 0))
def test_bytes_sent_arrive_as_what_was_wanted(bits: list[bool]) -> None:
    wanted = np.array(bits)
    for order in ("msb_first", "lsb_first"):
        assert (outputs_after(bytes_to_send(wanted, order), order) == wanted).all()  # type: ignore[arg-type]


@given(offset=st.integers(0, 60), full=st.integers(100, 4095), reading=st.integers(0, 5000))
def test_a_knob_is_dark_at_rest_and_full_only_at_its_end(offset: int, full: int, reading: int) -> None:
    knob = Knob(12, offset, full, 8)
    assert 0 <= knob.level(reading) <= 255
    assert knob.level(offset) == 0
    assert knob.level(full) == 255
    assert knob.level(full - 1) < 255
    assert knob.level(reading) <= knob.level(reading + 1)


def test_bad_figures_are_refused_in_words() -> None:
    with pytest.raises(LanternError, match="setting resistor"):
        _ = SinkChip(rext_ohm=0.0).set_a
    with pytest.raises(LanternError, match="not above the offset"):
        Knob(12, 100, 100, 8)
    with pytest.raises(LanternError, match="no byte"):
        outputs_after([256], "msb_first")
    with pytest.raises(LanternError, match="do not fill"):
        bytes_to_send(np.ones(7, bool), "msb_first")


PIECES = {"pair": lamps(2, "lamp-two-colour-2"), "hold": hold(), "relay": flood(), "scanned": matrix()}


class TestEveryWay:
    """What every way to drive must keep to."""

    @pytest.fixture(params=[way.kind for way in WAYS])
    def kind(self, request: pytest.FixtureRequest) -> str:
        return request.param

    def test_it_answers_the_contract(self, kind: str) -> None:
        build = driven(kind, PIECES.get(kind))
        result = solve_drive(build).by_driver[build.drivers[0].id]
        count = len(build.channels)
        for each in (result.on_a, result.average_a, result.most_a, result.absolute_a, result.lamp_v, result.resistor_w):
            assert each.shape == (count,)
        assert (result.on_a > 0).all()
        assert (result.average_a <= result.on_a * (1 + 1e-9)).all()
        assert (result.most_a <= result.absolute_a).all()
        assert result.blocks
        assert result.lamp_a > 0

    def test_less_duty_is_less_light_and_no_more_peak(self, kind: str) -> None:
        build = driven(kind, PIECES.get(kind))
        driver = build.drivers[0]
        half = solve_drive(build, {driver.id: np.full(len(build.channels), 0.5)}).by_driver[driver.id]
        full = solve_drive(build).by_driver[driver.id]
        assert (half.average_a < full.average_a).all()
        assert (half.on_a <= full.on_a * (1 + 1e-9)).all()

    def test_a_solution_near_by_is_taken_only_where_nothing_changed(self, kind: str) -> None:
        build = driven(kind, PIECES.get(kind))
        driver = build.drivers[0]
        before = solve_drive(build)
        assert solve_drive(build, near=before).by_driver[driver.id] is before.by_driver[driver.id]
        moved = shift_pieces(build, [build.pieces[-1].id], 0.3, 0.1)
        assert solve_drive(moved, near=before).build is moved
        assert solve_drive(moved, near=before).by_driver[driver.id].case.build is moved
        dim = solve_drive(build, {driver.id: np.full(len(build.channels), 0.5)})
        assert (solve_drive(moved, near=dim).by_driver[driver.id].case.duties == 1).all()
        warm = change_board(build, build.boards[0].id, ambient_c=60.0)
        taken, afresh = (solve_drive(warm, near=near).by_driver[driver.id] for near in (before, None))
        assert taken.case.build is warm
        assert taken.case.board.ambient_c == 60.0
        assert (taken.on_a == afresh.on_a).all()
        assert [block.value for block in taken.blocks] == [block.value for block in afresh.blocks]
        channel = change_channel(build, build.channels[0].id, wanted_a=0.0042)
        assert solve_drive(channel, near=before).by_driver[driver.id] is not before.by_driver[driver.id]
        field = next(name for name in ("name", "led_v", "out_v") if hasattr(driver, name))
        renamed = change_driver(build, driver.id, **{field: "Other" if field == "name" else 7.0})
        assert solve_drive(renamed, near=before).by_driver[driver.id].case.driver == renamed.drivers[0]

    def test_it_survives_driving_the_piece_again_with_the_wanted_currents_kept(self, kind: str) -> None:
        build = driven(kind, PIECES.get(kind))
        asked = change_channel(build, build.channels[0].id, wanted_a=0.0042)
        again = drive_piece(asked, asked.pieces[0].id, kind)
        assert again.channels[0].wanted_a == 0.0042
        assert len(again.drivers) == 1


def test_every_kind_of_driver_has_one_way_and_one_solver() -> None:
    assert [way.kind for way in WAYS] == [
        "pin", "pwm", "switch", "register", "sink", "scanned", "demux", "relay", "pair", "hold",
    ]  # fmt: skip
    assert {way.driver for way in WAYS} == set(DRIVER_TYPES.values()) == set(ways()) - {Boxed}


@pytest.mark.parametrize(("kind", "wired"), [
    ("pin", "apart"), ("pwm", "series"), ("switch", "apart"), ("register", "apart"), ("demux", "apart"), ("pair", None),
    ("pin", "parallel"), ("pwm", "parallel"), ("switch", "parallel"), ("register", "parallel"), ("demux", "parallel"),
])  # fmt: skip
def test_a_resistor_is_chosen_for_the_loop_that_the_way_is_solved_with(kind: str, wired: str | None) -> None:
    build = driven(kind, lamps(2, wired=wired) if wired else PIECES[kind])
    result = solve_drive(build).by_driver[build.drivers[0].id]
    for at, channel in enumerate(result.case.channels):
        loop = loop_of(result.case, at)
        assert fit(loop, channel.resistor_ohm).current_a == pytest.approx(result.on_a[at], rel=1e-3)
        assert told_of(result, at).fit.current_a == pytest.approx(result.on_a[at], rel=1e-3)
        assert result.on_a[at] <= channel.wanted_a * 1.001
        behind = result.case.driver.behind_one_resistor(channel.output)
        most_a = max(a for a, each in zip(result.on_a, result.case.channels, strict=True) if each.output in behind)
        assert channel.wanted_a * 1.001 < 1.3 * most_a, "rounded up by a step at most"


@pytest.mark.parametrize("count", [1, 2, 5])
def test_lamps_side_by_side_are_one_that_carries_their_current(count: int) -> None:
    led = Led(1.9, 0.01, 10.0)
    one = fit(Loop(5.0, 25.0, LedString((led.side_by_side(count),))), 330.0)
    assert one.current_a == pytest.approx(on_one_resistor(5.0, 25.0, 330.0, [led] * count).total_a)
    sunk = driven("sink", lamps(count, wired="parallel"))
    result = solve_drive(sunk).by_driver[sunk.drivers[0].id]
    own = result.case.lamps[0].led
    assert result.lamp_v[0] == pytest.approx(own.voltage_v(float(result.on_a[0]) / count))


def test_a_scanned_column_lies_behind_its_row_s_resistance_and_what_holds_and_relays_set_lies_behind_none() -> None:
    build = driven("scanned", matrix(), rows_by="register", row_ohm=7.0)
    case = solve_drive(build).by_driver[build.drivers[0].id].case
    chip = build.shelf.find(ChipPart, case.driver.chip_id)
    assert (source_of(case).voltage_v, source_of(case).output_ohm) == (case.driver.led_v, 7.0 + chip.out_ohm)
    for kind in ("sink", "relay", "hold"):
        other = driven(kind, PIECES.get(kind))
        assert source_of(solve_drive(other).by_driver[other.drivers[0].id].case) is None


def test_a_driver_whose_piece_only_moved_is_not_solved_anew_though_another_changed() -> None:
    build = add_piece(driven("pin", lamps(2)), part("led-red-5mm"), revise(lamps(2), id="more", name="More"))
    build = drive_piece(build, "more", "pin")
    before = solve_drive(build)
    moved = shift_pieces(build, ("lamps",), 0.3, 0.1)
    moved = change_channel(moved, moved.channels_of["more-pin"][0].id, resistor_ohm=1000.0)
    after, anew = solve_drive(moved, near=before), solve_drive(moved)
    assert after.by_driver["lamps-pin"].on_a is before.by_driver["lamps-pin"].on_a
    assert after.by_driver["lamps-pin"].case.build is moved
    assert after.by_driver["more-pin"].on_a.tolist() == anew.by_driver["more-pin"].on_a.tolist()
    longer = change_piece(moved, "lamps", wired="series")
    assert solve_drive(longer, near=before).by_driver["lamps-pin"].on_a.tolist() == solve_drive(longer).by_driver[
        "lamps-pin"].on_a.tolist()  # fmt: skip


def test_a_rail_hangs_on_its_own_supply_in_the_tree() -> None:
    build = railed()
    for name in ("A first one", "Z last one"):
        build = add_supply(build, part("bench-30v-5a"), name)
    tree = power_tree(build, None, solve_drive(build))
    with_rail = [root.name for root in tree if any(child.kind == "rail" for child in root.children)]
    assert with_rail == ["Source"]


class Array(Boxed):
    """Two sinking outputs a box."""

    kind: Literal["array"] = "array"
    word: ClassVar[str] = "an array"
    output: ClassVar[BoxOutput] = BoxOutput(
        drop_v=0.9, ohm=2.0, each_a=0.3, most_a=0.5, per_box=2, box_a=0.025, pin_a=0.001
    )


def test_outputs_in_boxes_lose_their_drop_and_each_box_sums_its_own() -> None:
    build = driven("pin", lamps(3))
    case = solve_drive(build).by_driver[build.drivers[0].id].case
    array = Array(id="array", name="Array", board_id=case.driver.board_id, led_v=5.0)
    channels = tuple(
        revise(channel, resistor_ohm=ohm) for channel, ohm in zip(case.channels, (100.0, 200.0, 300.0), strict=True)
    )
    result = solver_of(array)(replace(case, driver=array, channels=channels))
    led = case.lamps[0].led
    for at, ohm in enumerate((100.0, 200.0, 300.0)):
        amps = float(result.on_a[at])
        assert led.voltage_v(amps) + amps * (ohm + 2.0) + 0.9 == pytest.approx(5.0)
        assert result.lamp_v[at] == pytest.approx(led.voltage_v(amps))
        assert result.resistor_w[at] == pytest.approx(amps**2 * ohm)
    first, second = result.blocks
    assert (first.name, first.first, first.stop, first.words) == ("Array 1", 0, 2, "2 of 2")
    assert (second.name, second.first, second.stop, second.words) == ("Array 2", 2, 3, "1 of 2")
    assert (first.value, first.over) == (pytest.approx(result.on_a[:2].sum()), True)
    assert (second.value, second.over) == (pytest.approx(result.on_a[2]), False)
    assert (result.lamp_a, result.logic_a) == (pytest.approx(result.on_a.sum()), 0.0)
    assert result.pin_a.tolist() == [0.001] * 3


def test_the_power_tree_sums_what_hangs_on_a_supply() -> None:
    build = add_supply(driven("sink", lamps(16)), part("mains-5v-4a"), "Supply")
    build = feed_board(build, build.boards[0].id, "supply")
    (root,) = power_tree(build, None, solve_drive(build))
    assert root.allowed_a == pytest.approx(3.2)
    assert root.worst_a == pytest.approx(16 * 0.01 + 0.05 + 0.012, rel=1e-6)
    assert root.idle_a == pytest.approx(0.05 + 0.012)
    assert {child.name for child in root.children} == {"Board", "Lamps", "Lamps, chips"}
    lost = power_tree(driven("relay", flood()), None, solve_drive(driven("relay", flood())))
    assert lost[-1].name == "nothing yet"


@pytest.mark.parametrize(("value", "limit", "share", "over"), [
    (30.0, 120.0, 0.25, False), (120.0, 120.0, 1.0, False), (126.0, 120.0, 1.05, True), (5.0, NO_LIMIT, 0.0, False),
])  # fmt: skip
def test_a_bracket_tells_how_much_of_its_limit_is_used(value: float, limit: float, share: float, over: bool) -> None:
    block = Block("Chip 1", 0, 8, value, limit, "mA")
    assert (block.share, block.over) == (pytest.approx(share), over)


@pytest.mark.parametrize("kind", [way.kind for way in WAYS])
def test_the_show_draws_what_is_told_with_all_lit_and_with_all_dark(kind: str) -> None:
    build = add_supply(driven(kind, PIECES.get(kind)), part("bench-30v-5a"), "Bench")
    driver = build.drivers[0]
    lamps_v = getattr(driver, "in_v", None) or solve_drive(build).by_driver[driver.id].lamp_rail_v
    build = change_supply(feed_board(build, build.boards[0].id, "bench"), "bench", set_v=lamps_v)
    if kind == "hold":
        build = change_driver(build, driver.id, full_v=lamps_v)
    build = change_effect(light_up(build), "effect-steady", start_s=2.0, length_s=2.0)
    drive = solve_drive(build)
    drawn = beside_strips_of_show_a(build, drive=drive)["bench"]
    assert drawn[0] == pytest.approx(idle_loads_a(build, drive)["bench"])
    nearly = 0.06 if kind == "pair" else 0.01  # two dies take turns, and the weaker one draws less
    assert drawn[100] == pytest.approx(lamp_loads_a(build, drive)["bench"], rel=nearly)
    assert drawn[100] > drawn[0]


def test_a_sink_s_output_without_enough_volts_to_conduct_is_at_nought() -> None:
    """Two white LEDs in series conduct from 5.8 V; on 5 V nothing flows, and the output is drawn down to its zero."""
    state = sink_state(SinkChip(18.0, 1000.0), [SinkOutput(Led(3.0, 0.01, 10.0, 2))], np.array([True]), 5.0, 0.0, 25.0)
    assert state.output_v.tolist() == [0.0]
    assert state.output_a.tolist() == [0.0]
    assert not state.in_compliance[0]


def test_a_data_input_that_draws_divides_the_high_with_pin_and_resistor() -> None:
    """3.3 V behind 40 + 330 ohm into 3,700 ohm: ten elevenths, 3.0 V. A return of 1 ohm with 0.1 A through it lifts the
    pixel's zero by 0.1 V, and the data line's own current comes back through it."""
    assert data_level(FirstPixel(3.3, 5.0, 0, 0, 0, 0.06, 0, 370, 3700)).high_v == pytest.approx(3.0)
    lifted = data_level(FirstPixel(3.3, 5.0, 0.0, 1.0, 0.04, 0.06, 0, 369, 3700))
    data_a = 3.2 / 4070
    assert lifted.high_v == pytest.approx(data_a * 3700)
    assert lifted.pixel_v == pytest.approx(5.0 - 0.1 - data_a)
    assert data_level(FirstPixel(3.3, 5.0, 0, 0, 0, 0.06, 0, 370, None)).high_v == 3.3


def test_a_knob_s_dead_band_tells_which_reading_it_holds() -> None:
    knob = Knob(12, 22, 4095, 8, 4)
    assert knob.held([100, 104, 105, 109, 110, 90]) == [100, 100, 105, 105, 110, 90]


def test_base_currents_are_drawn_through_the_board_from_what_feeds_it() -> None:
    build = driven("switch", lamps(4), transistor_id="bjt-small", base_ohm=1000.0, led_v=5.0)
    build = feed_board(add_supply(build, part("mains-5v-4a"), "Supply"), build.boards[0].id, "supply")
    drive = solve_drive(build)
    board = next(node for node in power_tree(build, None, drive)[0].children if node.name == "Board")
    bases = next(node for node in board.children if node.name == "Lamps, control pins")
    assert bases.worst_a == pytest.approx(4 * (5.0 - 0.7) / (1000.0 + 25.0), rel=0.01)
    assert board.worst_a == pytest.approx(0.05 + bases.worst_a)
    lit_all = change_effect(light_up(build), "effect-steady", start_s=2.0, length_s=2.0)
    drawn = beside_strips_of_show_a(lit_all, drive=solve_drive(lit_all))["supply"]
    assert drawn[100] == pytest.approx(lamp_loads_a(build, drive)["supply"], rel=0.01)
