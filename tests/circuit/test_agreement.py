"""A circuit rebuilt from the printed wiring list alone gives every lamp the current that Drive shows."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.builds import one_strip, part
from tests.support.driven import LARGE, ROUTED, driven, flood, hold, lamps, matrix
from tests.support.rebuilt import rebuilt, solved
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import add_board, add_rail, feed_board
from tiny_lantern.model.edits_pieces import add_piece
from tiny_lantern.model.edits_power import add_supply, change_supply
from tiny_lantern.model.edits_sources import hang_on
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.plans.ways import drive_piece
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
        assert through == pytest.approx(result.on_a[at], rel=2e-6, abs=1e-9), result.case.driver.name
        assert through > 1e-4, "it lights"
    if not lit:
        assert through < 1e-5, "it stays dark"


BUILDS: dict[str, Callable[[], Build]] = {
    "pin": lambda: driven("pin"),
    "pin that sinks": lambda: driven("pin", sink=True),
    "pwm in series": lambda: driven("pwm", lamps(2, wired="series")),
    "register": lambda: driven("register", lamps(10)),
    "register side by side": lambda: driven("register", lamps(3, wired="parallel")),
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


@pytest.mark.parametrize("name", list(BUILDS))
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


BUILDS |= {
    "held": lambda: add_supply(driven("hold", hold(4), full_v=5.0), part("mains-5v-4a"), "Source"),
    "fed in stages": fed_in_stages,
    "raised": raised,
    "on the board": on_the_board,
    "beside a strip": beside_a_strip,
    "several": several,
}


@pytest.mark.parametrize("name", ["held", "fed in stages", "raised", "on the board", "beside a strip", "several"])
def test_builds_of_several_sources_and_ways_agree_too(name: str) -> None:
    agrees(BUILDS[name]())


@pytest.mark.parametrize("name", ["pier", "cloak", "footbridge"])
def test_every_demo_agrees(name: str) -> None:
    agrees(demo_build(name))


KINDS = st.sampled_from(["pin", "pwm", "register", "sink", "switch", "demux"])
PARTS = st.sampled_from(["led-red-5mm", "led-white-5mm", "lamp-rgb-anode", "lamp-rgb-cathode"])
WIRED = st.sampled_from(["apart", "series", "parallel"])


@given(
    kind=KINDS,
    lamp=PARTS,
    wired=WIRED,
    count=st.integers(1, 5),
    board=st.sampled_from([LARGE, ROUTED]),
    fed=st.booleans(),
)
@settings(max_examples=40, deadline=None)
def test_random_builds_agree_too(kind: str, lamp: str, wired: str, count: int, board: str, fed: bool) -> None:
    several = lamp.startswith("lamp-rgb")
    if several and (wired != "apart" or (lamp.endswith("cathode") and kind in ("sink", "switch"))):
        return  # dies of one lamp are wired by themselves; a common cathode cannot be sunk
    if several and lamp.endswith("anode") and kind in ("pin", "pwm", "register", "demux"):
        return  # a common anode cannot be given to
    build = driven(kind, lamps(count, lamp, wired=wired), board=board)
    if fed:
        build = add_supply(build, part("mains-5v-10a"), "Source")
        build = feed_board(build, build.boards[0].id, build.supplies[0].id)
    result = wired_drive(build).by_driver[build.drivers[0].id]
    if np.all(result.on_a > 1e-3):
        agrees(build)
