"""A circuit rebuilt from the printed wiring list alone gives every lamp the current that Drive shows."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.support.builds import part
from tests.support.driven import LARGE, ROUTED, driven, flood, lamps, matrix
from tests.support.rebuilt import rebuilt, solved
from tiny_lantern.circuit.drive import wired_drive
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.model.edits_power import add_supply

TURNS = {"scanned": lambda driver, output: output // driver.columns, "pair": lambda _, output: output % 2,
         "demux": lambda _, output: output}  # fmt: skip


def agrees(build: Build) -> None:
    """Every lamp's current from outside is the one that the program has, in every turn."""
    (driver,) = build.drivers
    result = wired_drive(build).by_driver[driver.id]
    turn = TURNS.get(driver.kind, lambda *_: 0)
    turns: dict[int, list[int]] = {}
    for at, channel in enumerate(result.case.channels):
        turns.setdefault(turn(driver, channel.output), []).append(at)
    for own in turns.values():
        lit = {result.case.channels[at].output for at in own}
        circuit = rebuilt(build, lambda _, output, lit=lit: output in lit)
        amps = solved(circuit)
        for at, channel in enumerate(result.case.channels):
            numbers = circuit.lamps[driver.id, channel.output]
            through = amps[numbers[0]] if result.case.lamps[at].in_series > 1 else amps[numbers].sum()
            if at in own:
                assert through == pytest.approx(result.on_a[at], rel=2e-6, abs=1e-9)
                assert through > 1e-4, "it lights"
            else:
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


@pytest.mark.parametrize("name", BUILDS)
def test_a_build_rebuilt_from_its_printed_rows_lights_its_lamps_alike(name: str) -> None:
    agrees(BUILDS[name]())


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
        build = change_board(build, build.boards[0].id, supply_id=build.supplies[0].id)
    result = wired_drive(build).by_driver[build.drivers[0].id]
    if np.all(result.on_a > 1e-3):
        agrees(build)
