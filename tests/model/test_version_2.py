"""Builds of format 2, which found by voltage what feeds lamps, open as what they were: equal voltages and currents with
wires of no resistance, equal frames, and whatever feeds something named."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tiny_lantern.circuit.compiled import compile_circuit
from tiny_lantern.circuit.drive import solve_lit
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.sources import named_sources
from tiny_lantern.model.store import dumps, from_dict, load, loads
from tiny_lantern.show.loads import duties_for
from tiny_lantern.show.weave import render

FOLDER = Path(__file__).parent / "version_2"
DEMOS = ("footbridge", "cloak", "pier")
KEPT: dict[str, Any] = json.loads((FOLDER / "ways.json").read_text(encoding="utf-8"))


def opened(name: str) -> Build:
    """A build of then, as it opens now."""
    if name.startswith("demo "):
        return load(FOLDER / f"{name.removeprefix('demo ')}.lantern")
    return from_dict(KEPT[name]["build"])


@pytest.mark.parametrize("name", DEMOS)
def test_voltages_and_frames_are_equal(name: str) -> None:
    build, frozen = load(FOLDER / f"{name}.lantern"), np.load(FOLDER / f"{name}.npz")
    solved = solve_power(build, duties_for(build, FullWhite()))
    found = np.concatenate([solved.runs[strip.id].pixel_v for strip in build.strips])
    assert np.abs(found - frozen["pixel_v"]).max() < 1e-12
    assert np.array_equal(render(build, frozen["ticks"]), frozen["frames"])


@pytest.mark.parametrize("name", KEPT)
def test_lamps_get_what_they_got(name: str) -> None:
    build = opened(name)
    lit = solve_lit(build, compile_circuit(build), 0.0, stiff=True, leak_ohm=10e6).channel_a
    found = {f"{driver_id}/{output}": amps for (driver_id, output), amps in lit.items()}
    assert found.keys() == KEPT[name]["amps"].keys()
    for channel, amps in KEPT[name]["amps"].items():
        assert found[channel] == pytest.approx(amps, rel=1e-9, abs=1e-12), channel


@pytest.mark.parametrize("name", KEPT)
def test_what_was_opened_is_kept_as_it_is(name: str) -> None:
    assert loads(dumps(opened(name))) == opened(name)


def test_what_fed_by_voltage_is_named_now() -> None:
    named = {where: fed_by.id for where, fed_by in named_sources(opened("several"))}
    assert named == {
        "rails[0].fed_by": "source", "boards[0].fed_by": "rail-1", "drivers[0].fed_by": "rail-1",
        "drivers[0].chips_fed_by": "rail-1", "pieces[1].fed_by": "rail-1",
    }  # fmt: skip
    assert opened("relay").drivers[0].fed_at_v(opened("relay").shelf, ())  # nothing here feeds it, and it says so
    assert [fed_by for _, fed_by in named_sources(opened("relay"))] == []


@pytest.mark.parametrize("field", ["rails", "boards", "drivers", "pieces", "channels", "supplies", "parts"])
@pytest.mark.parametrize("spoilt", [None, 3, "text", {}, [None], [3], [[]], [{"id": []}], [{"slots": [3]}]])
def test_what_is_not_as_it_should_be_is_left_for_the_reader_to_refuse(field: str, spoilt: object) -> None:
    data = json.loads((FOLDER / "pier.lantern").read_text(encoding="utf-8"))
    with pytest.raises(LanternError):
        from_dict({**data, field: spoilt})
