"""The ways of the current: whatever is wired is drawn, from the source down, with what Drive says of it."""

from itertools import pairwise

import pytest

from tests.circuit.test_agreement import BUILDS
from tests.support.driven import driven, flood, hold, lamps, matrix
from tiny_lantern.circuit.drive import Wired, wired, wired_drive
from tiny_lantern.circuit.paths import paths_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.quantities import amps, engineering
from tiny_lantern.ui.files import demo_build

SOURCES, ENDS = {"rail", "box", "supply"}, {"zero", "box"}
CARRIES_A, NEARLY_V = 1e-3, 1e-9


def built(name: str) -> Build:
    """A demo, or one of the builds of every way."""
    return BUILDS[name]() if name in BUILDS else demo_build(name)


@pytest.mark.parametrize("name", [*BUILDS, "pier", "footbridge", "cloak"])
def test_every_wire_that_carries_current_is_drawn(name: str) -> None:
    build = built(name)
    found: Wired = wired(build)
    drawn = {key for path in paths_of(build) for key in path.rows}
    carrying = [row for row in found.circuit.conductors if found.lit.conductor_a.get(row.key, 0.0) > CARRIES_A
                and not row.key.startswith(("bus/", "joint/"))]  # fmt: skip
    assert carrying
    assert [row.words for row in carrying if row.key not in drawn] == []


@pytest.mark.parametrize("name", [*BUILDS, "pier"])
def test_the_way_through_a_lamp_falls_from_a_source_to_0_v_and_says_what_drive_says(name: str) -> None:
    build = built(name)
    drive = wired_drive(build)
    lit = [path for path in paths_of(build) if path.output is not None]
    assert {path.output for path in lit} == {(each.driver_id, each.output) for each in build.channels}
    for path in lit:
        assert path.output is not None
        assert path.signs[0].shape in SOURCES, path.key
        assert path.signs[-1].shape in ENDS, path.key
        told = [volts for sign in path.signs for volts in (sign.above_v, sign.below_v) if volts is not None]
        assert all(one >= other - NEARLY_V for one, other in pairwise(told)), path.key
        result = drive.by_driver[path.output[0]]
        channel = next(each for each in result.case.channels if each.output == path.output[1])
        at = result.case.channels.index(channel)
        own = next(sign for sign in path.signs if sign.owner == path.key)
        if len(channel.slots) == 1:
            assert amps(float(result.on_a[at])) in own.words[1], path.key
        resistors = [sign.words[0] for sign in path.signs if sign.shape == "resistor"]
        if channel.resistor_ohm:
            assert engineering(channel.resistor_ohm, "ohm") in resistors, path.key


@pytest.mark.parametrize(
    ("build", "shapes"),
    [
        (driven("switch"), ["rail", "led", "resistor", "nmos", "zero"]),
        (driven("switch", transistor_id="mosfet-high"), ["rail", "pmos", "resistor", "led", "zero"]),
        (driven("switch", transistor_id="bjt-small", base_ohm=680.0), ["rail", "led", "resistor", "npn", "zero"]),
        (driven("pin"), ["box", "resistor", "led", "zero"]),
        (driven("sink"), ["rail", "led", "box"]),
        (driven("relay", flood()), ["rail", "contact", "load", "zero"]),
        (driven("hold", hold()), ["rail", "nmos", "load", "zero"]),
        (driven("scanned", matrix()), ["rail", "contact", "led", "resistor", "box"]),
        (driven("pin", lamps(2, wired="series")), ["box", "resistor", "led", "led", "zero"]),
    ],
)
def test_each_way_has_its_signs_from_above(build: Build, shapes: list[str]) -> None:
    path = next(path for path in paths_of(build) if path.output is not None)
    assert [sign.shape for sign in path.signs if sign.shape not in ("wire", "through")] == shapes


def test_what_steers_a_sign_is_followed_to_its_pin() -> None:
    path = next(path for path in paths_of(driven("switch")) if path.output is not None)
    (transistor,) = (sign for sign in path.signs if sign.shape == "nmos")
    pull, gate = transistor.side
    assert [sign.words[0] for sign in pull] == ["100 kΩ", "to the source"]
    assert [sign.words[0] for sign in gate] == ["220 Ω", "Board"]
    relay = next(path for path in paths_of(driven("relay", flood())) if path.output is not None)
    (contact,) = (sign for sign in relay.signs if sign.shape == "contact")
    assert [sign.shape for sign in contact.side[0]] == ["coil", "flag"]
    assert "pulls in" in contact.side[0][0].words
    high = driven("switch", transistor_id="mosfet-high", has_driver=True)
    top = next(path for path in paths_of(high) if path.output is not None)
    steered = next(sign for sign in top.signs if sign.shape == "pmos").side
    assert ["Lamps gate driver 1", "Board"] in [[s.words[0] for s in row if s.shape == "flag"] for row in steered]


def test_a_fuse_stands_next_to_its_source() -> None:
    rail = next(path for path in paths_of(BUILDS["fed in stages"]()) if path.key.startswith("lamp rail 6"))
    shapes = [sign.shape for sign in rail.signs]
    assert shapes == ["supply", "fuse", "wire", "regulator", "fuse", "wire", "rail"]


def test_a_chip_tells_its_legs_and_its_board() -> None:
    build = driven("register")
    chip = next(path for path in paths_of(build) if path.key == "lamps-register chip")
    legs = next(sign.legs for sign in chip.signs if sign.legs)
    assert any("clock" in leg and "Board, pin" in leg for leg in legs)
    assert any("100 nF" in leg for leg in legs)
    assert {"board"} <= next(path for path in paths_of(driven("switch")) if path.output is not None).touches
