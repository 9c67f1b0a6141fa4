"""A circuit rebuilt from the printed wiring list alone gives every lamp the current that Drive shows."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, ROUTED, driven, flood, hold, lamps, matrix
from tests.support.rebuilt import rebuilt, solved
from tiny_lantern.circuit.bill import whole_bill
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.findings.check import check, stops_the_build
from tiny_lantern.findings.evidence import gather
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.clip import parts_of
from tiny_lantern.model.edits import change_parts, with_part
from tiny_lantern.model.edits_drive import add_board, add_rail, change_driver, feed_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_plugs import add_plug
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.piece import Piece
from tiny_lantern.model.sources import every_source, named_sources, source_of
from tiny_lantern.plans.steer import steer
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.sheets.wiring_sheet import wiring_csv
from tiny_lantern.ui.files import demo_build

TURNS = {"scanned": lambda driver, output: output // driver.columns, "pair": lambda _, output: output % 2,
         "demux": lambda _, output: output}  # fmt: skip


def agrees(build: Build) -> None:
    """Every lamp's current from outside is the one that the program has, in every turn."""
    results = wired_drive(build).by_driver
    turns = {
        (driver.id, channel.output): TURNS[driver.kind](driver, channel.output)
        for driver in build.drivers
        for channel in (build.channels_of[driver.id] if driver.kind in TURNS else ())
    }
    for turn in range(1 + max(turns.values(), default=0)):
        on = {
            (channel.driver_id, channel.output)
            for channel in build.channels
            if turns.get((channel.driver_id, channel.output), turn) == turn
        }
        circuit = rebuilt(build, lambda driver_id, output, on=on: (driver_id, output) in on)
        amps = solved(circuit)
        for driver in build.drivers:
            for at, channel in enumerate(results[driver.id].case.channels):
                compare(results[driver.id], at, amps[circuit.lamps[driver.id, channel.output]],
                        (driver.id, channel.output) in on, first=turn == 0)  # fmt: skip


def compare(result: ChannelResult, at: int, branches_a: np.ndarray, lit: bool, first: bool) -> None:
    """A channel's current from outside against the program's: while it is lit in the first turn or its own; and none
    while it is dark."""
    takes_turns = result.case.driver.kind in TURNS
    through = branches_a[0] if result.case.lamps[at].in_series > 1 else branches_a.sum()
    if lit and (first or takes_turns):
        assert through == pytest.approx(result.on_a[at], rel=1e-6, abs=1e-9), result.case.driver.name
        assert through > 1e-4, "it lights"
    if not lit:
        assert through < 1e-5, "it stays dark"


BUILDS: dict[str, Callable[[], Build]] = {
    "pin": lambda: driven("pin"),
    "pin that sinks": lambda: driven("pin", sink=True),
    "pwm in series": lambda: driven("pwm", lamps(2, wired="series")),
    "register": lambda: driven("register", lamps(10)),
    "register side by side": lambda: driven("register", lamps(3, wired="parallel")),
    "register with a resistor each": lambda: driven("register", lamps(3, wired="branches")),
    "switch with a resistor each": lambda: driven("switch", lamps(4, wired="branches"), led_v=5.0),
    "register that sinks": lambda: driven("register", lamps(3), sink=True),
    "common anode": lambda: driven("switch", lamps(2, "lamp-rgb-anode")),
    "common cathode": lambda: driven("pin", lamps(2, "lamp-rgb-cathode")),
    "sink": lambda: driven("sink", lamps(3)),
    "sink with a common resistor": lambda: driven("sink", lamps(3), common_ohm=15.0),
    "demultiplexer": lambda: driven("demux", lamps(3)),
    "bipolar switch": lambda: driven("switch", transistor_id="bjt-small", base_ohm=470.0),
    "low-side switch": lambda: driven("switch", transistor_id="mosfet-logic"),
    "high-side switch": lambda: driven("switch", transistor_id="mosfet-high", pull_ohm=10e3, led_v=5.0),
    "relay": lambda: driven("relay", flood()),
    "two dies": lambda: driven("pair", lamps(2, "lamp-two-colour-2")),
    "matrix": lambda: driven("scanned", matrix(4, 4), rows=4, columns=4),
    "matrix by registers": lambda: driven("scanned", matrix(4, 4), rows=4, columns=4, rows_by="register"),
    "matrix with transistors": lambda: driven("scanned", matrix(4, 4), rows=4, columns=4, rows_by="transistor"),
}


FIRST = frozenset(BUILDS)


@pytest.mark.parametrize("name", sorted(FIRST))
def test_a_build_rebuilt_from_its_printed_rows_lights_its_lamps_alike(name: str) -> None:
    agrees(BUILDS[name]())


def fed_in_stages() -> Build:
    """Lamps on a step-down behind a mains supply, their chip on a linear rail behind that, their board on its own."""
    build = add_supply(driven("sink", lamps(6), led_v=6.0), part("mains-12v-5a"), "Source")
    build = add_rail(build, part("step-down-3a"), "source", 6.0)
    build = add_rail(build, part("regulator-adjustable"), "source", 5.0)
    build = feed_board(build, build.boards[0].id, "rail-2")
    return hang_on(build, "chips_fed_by", build.drivers[0].id, FedBy(id="rail-2"))


def raised() -> Build:
    """A load of twelve volts on a step-up from five."""
    build = add_supply(driven("switch", flood()), part("bench-30v-5a"), "Source")
    build = change_supply(build, "source", set_v=5.0)
    return add_rail(build, part("step-up-2a"), "source", 12.0)


def on_the_board() -> Build:
    """Lamps on a board's own pins of supply: its five volts and what its regulator makes."""
    build = add_supply(driven("switch", lamps(3), led_v=5.0, board=ROUTED), part("mains-5v-4a"), "Source")
    build = feed_board(build, build.boards[0].id, "source")
    return hang_on(build, "fed_by", build.drivers[0].id, FedBy(id=build.boards[0].id, pin="fed"))


def beside_a_strip() -> Build:
    """Lamps on a soft supply that a strip, fed at both ends, draws from."""
    build = one_strip(24, feeds=(0.0, 0.8))
    build = add_board(build, part(LARGE))
    build = drive_piece(add_piece(build, part("led-white-5mm"), lamps(4, "led-white-5mm")), "lamps", "register")
    return change_parts(build, revise(build.shelf.of(SupplyPart)[0], output_ohm=0.05))


def several() -> Build:
    """Ways beside each other on one board and one supply, loose lamps among them."""
    build = driven("register", lamps(5))
    for kind, piece in (("sink", lamps(4)), ("switch", lamps(2, "lamp-rgb-anode")), ("hold", hold(4)),
                        ("pair", lamps(2, "lamp-two-colour-2"))):  # fmt: skip
        build = add_piece(build, part(piece.part_id), revise(piece, name=f"By {kind}"))
        build = drive_piece(build, build.pieces[-1].id, kind)
    build = add_piece(
        build, part("lamp-addressable-8mm"), revise(lamps(5, "lamp-addressable-8mm", colour_order="RGB"), name="Loose")
    )
    return add_supply(build, part("mains-5v-10a"), "Source")


def behind_a_connector() -> Build:
    """Some lamps on the other half, some on this one."""
    build = driven("switch", lamps(4, "lamp-rgb-anode"))
    build = add_piece(build, part("led-red-5mm"), revise(lamps(3, tie="along"), name="Near"))
    build = drive_piece(build, build.pieces[-1].id, "register")
    return add_plug(build, part("plug-24way"), "lamps")


def behind_registers(kind: str, steered: Piece | None = None, **changes: object) -> Build:
    """Lamps on a register, and others behind transistors or relays whose inputs hang on it too."""
    build = driven("register", lamps(3))
    piece = revise(steered or lamps(4), id="more", name="More")
    build = add_piece(build, part(piece.part_id), piece)
    if "transistor_id" in changes:
        build = with_part(build, part(str(changes["transistor_id"])))
    build = change_driver(drive_piece(build, "more", kind), f"more-{kind}", **changes)
    return steer(build, f"more-{kind}", build.drivers[0].id)


BUILDS |= {
    "transistors behind a register": lambda: behind_registers("switch", led_v=5.0),
    "bipolar ones behind a register": lambda: behind_registers(
        "switch", transistor_id="bjt-small", base_ohm=1000.0, led_v=5.0
    ),
    "high sides behind a register": lambda: behind_registers(
        "switch", transistor_id="mosfet-high", pull_ohm=10e3, led_v=5.0
    ),
    "relays behind a register": lambda: behind_registers("relay", flood()),
    "held": lambda: add_supply(driven("hold", hold(4), full_v=5.0), part("mains-5v-4a"), "Source"),
    "fed in stages": fed_in_stages,
    "raised": raised,
    "on the board": on_the_board,
    "beside a strip": beside_a_strip,
    "several": several,
    "behind a connector": behind_a_connector,
    "tied along": lambda: driven("register", lamps(6, tie="along", spacing_m=0.3)),
    "tied along a rail": lambda: driven("sink", lamps(6, tie="along", spacing_m=0.3)),
    "dies tied along": lambda: driven("register", lamps(3, "lamp-rgb-anode", tie="along"), sink=True),
    "tied on a board": lambda: driven("switch", lamps(4, tie="board", spacing_m=0.3)),
}


@pytest.mark.parametrize("name", sorted(BUILDS.keys() - FIRST))
def test_builds_of_several_sources_and_ways_agree_too(name: str) -> None:
    agrees(BUILDS[name]())


@pytest.mark.parametrize("name", ["pier", "cloak", "footbridge"])
def test_every_demo_agrees(name: str) -> None:
    agrees(demo_build(name))


KINDS = st.sampled_from(["pin", "pwm", "register", "sink", "switch", "demux"])
PARTS = st.sampled_from(["led-red-5mm", "led-white-5mm", "lamp-rgb-anode", "lamp-rgb-cathode"])
WIRED = st.sampled_from(["apart", "series", "parallel", "branches"])


@given(
    kind=KINDS,
    lamp=PARTS,
    wired=WIRED,
    tie=st.sampled_from(["star", "along", "board"]),
    count=st.integers(1, 5),
    board=st.sampled_from([LARGE, ROUTED]),
    fed=st.booleans(),
)
@settings(max_examples=40, deadline=None)
def test_random_builds_agree_too(kind: str, lamp: str, wired: str, tie: str, count: int, board: str, fed: bool) -> None:
    several = lamp.startswith("lamp-rgb")
    if several and (wired != "apart" or (lamp.endswith("cathode") and kind in ("sink", "switch"))):
        return  # dies of one lamp are wired by themselves; a common cathode cannot be sunk
    if several and lamp.endswith("anode") and kind in ("pin", "pwm", "register", "demux"):
        return  # a common anode cannot be given to
    build = driven(kind, lamps(count, lamp, wired=wired, tie=tie), board=board)
    if fed:
        build = add_supply(build, part("mains-5v-10a"), "Source")
        build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    result = wired_drive(build).by_driver[build.drivers[0].id]
    if np.all(result.on_a > 1e-3):
        agrees(build)


WAYS = st.sampled_from(
    ["pin", "pwm", "register", "register low", "sink", "switch", "switch low", "switch high", "demux", "relay", "pair",
     "hold", "scanned"]
)  # fmt: skip
SUPPLIES = st.sampled_from(["none", "five", "twelve and rails", "two"])


def piece_for(way: str, number: int, count: int) -> tuple[Piece, str, dict[str, object]]:
    """A piece that a way suits, the way's kind, and fields of it."""
    named = {"id": f"p{number}", "name": f"Group {number}"}
    if way == "relay":
        return revise(flood(), **named), "relay", {}
    if way == "hold":
        return revise(hold(count), **named), "hold", {"full_v": 5.0}
    if way == "scanned":
        return revise(matrix(4, 4), **named), "scanned", {"rows": 4, "columns": 4}
    if way == "pair":
        return revise(lamps(count, "lamp-two-colour-2"), **named), "pair", {}
    more: dict[str, object] = {
        "register low": {"sink": True}, "switch low": {"led_v": 5.0},
        "switch high": {"transistor_id": "mosfet-high", "pull_ohm": 10e3, "led_v": 5.0},
        "switch": {"transistor_id": "bjt-small", "base_ohm": 470.0},
    }.get(way, {})  # fmt: skip
    return revise(lamps(count), **named), way.split(" ")[0], more


@st.composite
def fed_builds(draw: st.DrawFn) -> Build:
    """One to three groups on one board, in ways and on sources of all sorts."""
    build = add_board(Build(), part(draw(st.sampled_from([LARGE, ROUTED]))))
    for number, way in enumerate(draw(st.lists(WAYS, min_size=1, max_size=3, unique=True)), 1):
        piece, kind, more = piece_for(way, number, draw(st.integers(1, 4)))
        build = add_piece(build, part(piece.part_id), piece)
        build = drive_piece(build, build.pieces[-1].id, kind)
        for name, value in more.items():
            build = with_part(build, part(str(value))) if name.endswith("_id") else build
        build = change_driver(build, build.drivers[-1].id, **more)
    supplies = draw(SUPPLIES)
    if supplies in ("five", "two"):
        build = add_supply(build, part("mains-5v-10a"), "Five")
    if supplies == "two":
        build = add_supply(build, part("bench-30v-5a"), "Twelve")
        build = change_supply(build, "twelve", set_v=12.0)
    if supplies == "twelve and rails":
        build = add_supply(build, part("mains-12v-5a"), "Twelve")
        regulators = st.sampled_from(["step-down-3a", "regulator-adjustable"])
        build = add_rail(build, part(draw(regulators)), "twelve", 5.0)
    for where, fed_by in list(named_sources(build)):
        volts = source_of(build, fed_by).volts  # type: ignore[union-attr]
        fitting = [each for each in every_source(build) if each.volts == volts]
        number, field = int(where.partition("[")[2].partition("]")[0]), where.rpartition(".")[2]
        thing = getattr(build, where.partition("[")[0])[number]
        chosen = draw(st.sampled_from(fitting))
        if chosen.id != thing.id and not where.startswith("rails"):
            build = hang_on(build, field, thing.id, chosen.fed_by)
    if draw(st.booleans()) and supplies != "none":
        build = feed_board(build, build.boards[0].id, draw(st.sampled_from(
            [each.id for each in every_source(build) if each.volts == 5.0 and each.fed_by.pin is None])))  # fmt: skip
    return build


@given(build=fed_builds())
@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much])
def test_random_builds_of_several_ways_and_sources_agree_and_their_bill_has_what_their_rows_name(build: Build) -> None:
    assume(not stops_the_build(check(gather(build, FullWhite(), ()))))
    agrees(build)
    named_parts_are_billed(build)


def named_parts_are_billed(build: Build) -> None:
    """Every resistor, fuse and capacitor in line, and every chip, transistor and regulator that an end names."""
    rows = list(csv.DictReader(io.StringIO(wiring_csv(build))))
    bill = {line.name.partition(":")[0]: line.amount for line in whole_bill(build)}
    by_part = {line.part_id: line.amount for line in whole_bill(build)}
    words = Counter(word for row in rows for word in row["through"].split(", ") if word.endswith(("Ω", "nF")))
    for word, count in words.items():
        name = "Capacitor 100 nF" if word.endswith("nF") else f"Resistor {word}"
        assert bill[name] == count, name
    fuses = Counter(name for row in rows for name in re.findall(r"Blade fuse, [0-9.]+ A", row["through"]))
    for name, count in fuses.items():
        assert bill[name] == count, name
    ends = {row[end].partition(", ")[0] for row in rows for end in ("from", "to")}
    for driver in build.drivers:
        for field, part_id in parts_of(driver).items():
            word = {"transistor_id": "transistor ", "chip_id": "chip", "relay_id": "relay", "regulator_id": "regulator",
                    "row_transistor_id": "row transistor "}[field]  # fmt: skip
            own = {end.partition(", leg")[0] for end in ends if end.startswith(f"{driver.name} {word}")}
            if own and driver.kind != "hold":
                assert by_part[part_id] >= len(own), part_id
