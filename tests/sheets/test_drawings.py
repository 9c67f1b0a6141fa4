"""Drawings lie on their sheets, whatever they show."""

from itertools import pairwise

import numpy as np
import pytest

from tests.circuit.test_agreement import BUILDS
from tests.support.drawn import off_sheet, points_of
from tests.support.driven import driven, flood, hold, lamps, lit, matrix
from tiny_lantern.circuit.drive import wired, wired_drive
from tiny_lantern.circuit.paths import paths_of
from tiny_lantern.circuit.river import river_of
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.build import Build
from tiny_lantern.plans.ways import WAYS
from tiny_lantern.sheets.connections import connections
from tiny_lantern.sheets.hold_drawing import hold_svg
from tiny_lantern.sheets.picture import picture_svg
from tiny_lantern.sheets.river import laid_out, river_svg
from tiny_lantern.sheets.schematic import laid_out as schematic_laid_out
from tiny_lantern.sheets.schematic import of_output, of_subject, schematic_svg, subjects
from tiny_lantern.sheets.show_files import steps_svg
from tiny_lantern.sheets.signs import DRAWN, Pen
from tiny_lantern.sheets.step_drawing import step_svg
from tiny_lantern.ui.files import demo_build

PIECES = {"scanned": matrix(), "relay": flood(), "hold": hold(), "pair": lamps(3, "lamp-two-colour-2")}


@pytest.mark.parametrize("kind", [way.kind for way in WAYS])
def test_schematics_and_wiring_steps_of_every_way_lie_on_their_sheets(kind: str) -> None:
    build = driven(kind, PIECES.get(kind))
    result = solve_drive(build).by_driver[build.drivers[0].id]
    paths = paths_of(build)
    drawn = [
        schematic_svg(of_subject(paths, each.key), wires=wires)
        for each in subjects(build, paths)
        for wires in (True, False)
    ]
    assert len(drawn) >= 4
    for drawing in drawn:
        assert off_sheet(drawing) == []
        assert len(points_of(drawing)) > 10
    for row in connections(build):
        assert off_sheet(step_svg(build, row)) == [], row.key
    if kind == "hold":
        assert off_sheet(hold_svg(result.case)) == []


@pytest.mark.parametrize(
    "changes", [{"transistor_id": "mosfet-high"}, {"transistor_id": "bjt-small", "base_ohm": 680.0}]
)
def test_other_transistors_lie_on_the_sheet_too(changes: dict[str, object]) -> None:
    build = driven("switch", **changes)  # type: ignore[arg-type]
    assert off_sheet(schematic_svg(of_output(paths_of(build), build.drivers[0].id, 0))) == []


@pytest.mark.parametrize("name", ["pier", "footbridge", "cloak"])
def test_schematics_of_every_subject_of_a_demo_lie_on_their_sheets(name: str) -> None:
    build = demo_build(name)
    paths = paths_of(build)
    for each in subjects(build, paths):
        assert off_sheet(schematic_svg(of_subject(paths, each.key))) == [], each.name


@pytest.mark.parametrize("name", ["pier", "side by side", "held", "two dies", "matrix", "several"])
def test_nothing_of_a_schematic_lies_on_anything_else_of_its_way_and_ways_join_below_their_foot(name: str) -> None:
    build = demo_build(name) if name == "pier" else BUILDS.get(name, BUILDS["register side by side"])()
    paths = paths_of(build)
    for each in subjects(build, paths):
        columns, _, _ = schematic_laid_out(of_subject(paths, each.key))
        for column in columns:
            seen = [placed for placed in column.placed if placed.sign.shape != "wire"]
            assert all(one.y + one.half <= other.y - other.half for one, other in pairwise(seen)), column.path.key
            if column.joins_below is not None:
                other, node = column.joins_below
                assert (other.height_of(node) or 0.0) >= column.placed[-1].y + column.placed[-1].half, column.path.key
            if column.joins_above is not None:
                other, node = column.joins_above
                assert (other.height_of(node) or 0.0) <= column.placed[0].y - column.placed[0].half, column.path.key


def test_the_second_die_of_a_two_lead_lamp_stands_upside_down_beside_the_first() -> None:
    build = BUILDS["two dies"]()
    both = of_output(paths_of(build), build.drivers[0].id, 0) + of_output(paths_of(build), build.drivers[0].id, 1)
    (first, second), left_out, _ = schematic_laid_out(both)
    assert [sign.shape for sign in first.signs if sign.shape.startswith("led")] == ["led"]
    assert [sign.shape for sign in second.signs if sign.shape.startswith("led")] == ["led up"]
    assert left_out == 0


def test_arrows_of_transistors_say_which_they_are() -> None:
    tips = {}
    for shape in ("npn", "pnp", "nmos", "pmos"):
        (head,) = (each for each in DRAWN[shape](Pen(), 0.0, 0.0, "") if each.startswith("<polygon"))
        (x, y), *feet = points_of(f"<svg>{head}</svg>")
        tips[shape] = x - sum(foot for foot, _ in feet) / 2, y
    assert tips["nmos"][0] < 0 < tips["pmos"][0], "at the channel, which is on the gate's side, and away from it"
    assert tips["npn"][0] > 0, "out of the emitter"
    assert tips["npn"][1] > 0
    assert tips["pnp"][0] < 0, "into the emitter, which stands above"
    assert tips["pnp"][1] < 0


def test_lamps_side_by_side_share_their_resistor_in_the_drawing() -> None:
    build = driven("pin", lamps(3, wired="parallel"))
    drawing = schematic_svg(of_output(paths_of(build), build.drivers[0].id, 0))
    assert drawing.count("Ω<") == 1
    assert drawing.count("<polygon") == 3, "each lamp is drawn"


@pytest.mark.parametrize("name", ["pier", "footbridge", "cloak"])
def test_the_sources_the_picture_and_the_steps_lie_on_their_sheets(name: str) -> None:
    build = demo_build(name)
    assert off_sheet(river_of_demo(build)) == []
    assert off_sheet(picture_svg(build, np.ones((build.line.slot_count, 3)))) == []
    assert off_sheet(steps_svg(lit(build, kind="blink", length_s=5.0))) == []


def test_a_picture_s_scale_and_the_sources_sheet_are_as_wide_as_what_they_show() -> None:
    build = demo_build("pier")
    for drawing in (river_of_demo(build),
                    picture_svg(build, np.ones((build.line.slot_count, 3)))):  # fmt: skip
        across = [x for x, _ in points_of(drawing)]
        wide = float(drawing.partition('width="')[2].partition('"')[0])
        assert max(across) > 0.6 * wide
        assert min(across) < 0.2 * wide


def river_of_demo(build: Build) -> str:
    """The drawing of a build's sources."""
    return river_svg(laid_out(river_of(build, wired(build), wired_drive(build))))
