"""What a broken program once did unnoticed: each of these fails where that mistake is made again."""

from dataclasses import replace

import numpy as np
import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip, part
from tests.support.compiled import by_python
from tests.support.driven import driven, flood, hold, lamps, lit, matrix
from tiny_lantern.catalogue.shelf import shelf, supplies_for
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.findings import mends
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import gather
from tiny_lantern.findings.finding import Finding, Severity
from tiny_lantern.kernel import nodes
from tiny_lantern.kernel.program import Program
from tiny_lantern.light.own import of_one_hue
from tiny_lantern.live.loaded import whole
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import FullWhite
from tiny_lantern.model.edits import change_build, change_parts
from tiny_lantern.model.edits_layout import mirror_pieces
from tiny_lantern.model.edits_pieces import add_piece, change_strip
from tiny_lantern.model.edits_scenes import add_scene, change_scene
from tiny_lantern.model.edits_show import add_effect, duplicate_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.layout import slot_places
from tiny_lantern.model.layouts import AsGrid
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.place import Place
from tiny_lantern.model.strip import Panel
from tiny_lantern.sheets.connections import connections
from tiny_lantern.sheets.wiring_sheet import wiring_csv, wiring_html
from tiny_lantern.show.weave import render
from tiny_lantern.ui.widgets.tuner import Tuner


@pytest.mark.parametrize("start_s", [0.0, 45.0, 50.0, 58.0])
def test_a_copy_of_an_effect_ends_within_the_show(start_s: float) -> None:
    build = add_effect(one_strip(10), look_of("blink"), 0, 9, start_s, min(10.0, 60.0 - start_s))
    copied = duplicate_effect(build, build.effects[0].id).effects[-1]
    assert copied.start_s >= 0
    assert copied.start_s + copied.length_s <= build.show_s


@pytest.mark.parametrize("piece", [
    matrix(3, 5), Panel(id="panel", name="Panel", part_id="rgb-5v-60", rows=3, columns=4, pitch_m=0.02,
                        cross_pitch_m=0.03, colour_order="GRB"),
])  # fmt: skip
def test_a_grid_is_mirrored_about_the_middle_of_what_is_mirrored_with_it(piece) -> None:
    grid = revise(piece, layout=AsGrid(x_m=0.4, y_m=0.1))
    build = add_piece(one_strip(30), part(piece.part_id), grid)
    ids = [each.id for each in build.pieces]
    before = np.concatenate([slot_places(each) for each in build.pieces])
    after = slot_places(mirror_pieces(build, ids).pieces[1])
    low, high = before[:, 0].min(), before[:, 0].max()
    wanted = slot_places(build.pieces[1]) * [-1, 1] + [low + high, 0]
    assert sorted(map(tuple, np.round(after, 6))) == sorted(map(tuple, np.round(wanted, 6)))


@pytest.mark.parametrize("part_id", ["battery-5v-3a", "battery-12v-lead", "mains-12v-5a"])
def test_supplies_in_place_of_another_have_its_voltage_and_its_source(part_id: str) -> None:
    like = shelf().find(SupplyPart, part_id)
    offered = supplies_for(shelf(), like)
    assert like in offered
    assert {(each.nominal_v, each.source) for each in offered} == {(like.nominal_v, like.source)}
    assert [each.rated_a for each in offered] == sorted(each.rated_a for each in offered)


@pytest.mark.parametrize(("sealed", "share"), [(False, 0.8), (True, 0.6)])
@pytest.mark.parametrize("side", [0.99, 1.01])
def test_a_supply_keeps_its_reserve_and_not_more(sealed: bool, share: float, side: float) -> None:
    build = one_strip(40)
    supply = revise(build.supplies[0], sealed=sealed)
    drawn_a = gather(build, FullWhite(), ()).white.supplies[supply.id].current_a
    rated = revise(build.shelf.of(SupplyPart)[0], rated_a=drawn_a / share / side)
    build = revise(change_parts(build, rated), supplies=(supply,))
    told = [each for each in check(gather(build, FullWhite(), ())) if each.code == "supply-share"]
    assert bool(told) == (side > 1)


@pytest.mark.parametrize("kind", ["pwm", "switch"])
def test_a_dimmed_resistor_makes_its_share_of_heat(kind: str) -> None:
    build = driven(kind, lamps(2))
    driver = build.drivers[0].id
    full, tenth = (solve_drive(build, {driver: np.full(2, duty)}).by_driver[driver].resistor_w for duty in (1.0, 0.1))
    assert full.min() > 0
    assert tenth == pytest.approx(0.1 * full)


def test_held_lamps_draw_what_holds_them_while_they_are_dark() -> None:
    build = driven("hold", hold(5))
    driver = build.drivers[0]
    dark = solve_drive(build, {driver.id: np.zeros(1)}).by_driver[driver.id]
    assert dark.average_a.sum() == pytest.approx(5 * driver.hold_lamp_a)  # type: ignore[attr-defined]
    assert driver.hold_lamp_a > 0  # type: ignore[attr-defined]


def test_a_mend_that_makes_another_snag_worse_is_not_offered(monkeypatch: pytest.MonkeyPatch) -> None:
    build = one_strip(30)
    evidence = gather(build, FullWhite(), ())
    mended = Finding(Severity.WEAK_SPOT, "a", Place.on("feeds", "x"), "mended", "")
    other = Finding(Severity.HINT, "b", Place.on("feeds", "y"), "other", "")
    before = mends.severities([mended, other])
    outcome = change_build(build, name="Outcome")

    def holds(*after: Finding) -> bool:
        monkeypatch.setattr(mends, "check", lambda *_: list(after))
        return mends.holds(evidence, mended, outcome, before)

    assert holds(other)
    assert holds()
    assert not holds(mended)
    assert not holds(replace(other, severity=Severity.DANGER))
    assert not holds(replace(other, severity=Severity.WEAK_SPOT))
    assert not holds(other, replace(other, place=Place.on("feeds", "z"), severity=Severity.WEAK_SPOT))


def test_mains_behind_a_relay_is_by_a_licensed_person_on_every_sheet() -> None:
    build = driven("relay", mains())
    (row,) = (row for row in connections(build) if row.key.endswith("/contact"))
    assert row.through == "by a licensed person, to local code"
    assert "by a licensed person" in wiring_csv(build)
    assert "by a licensed person" in wiring_html(build)
    low = driven("relay", flood("floodlight-12v"))
    assert "by a licensed person" not in wiring_csv(low)


def mains():
    """A load on the mains."""
    return flood(next(each.id for each in shelf() if getattr(each, "mains", False)))


@pytest.mark.parametrize("rank", [0, 1, 2, 3])
def test_lamps_of_one_hue_are_those_whose_matrix_is_of_rank_one(rank: int) -> None:
    chance = np.random.default_rng(rank)
    made = chance.uniform(-1, 1, (200, 3, rank)) @ chance.uniform(-1, 1, (200, rank, 3))
    assert of_one_hue(made).tolist() == [rank == 1] * 200
    assert of_one_hue(np.zeros((0, 3, 3))).shape == (0,)


@pytest.mark.parametrize("name", ["-cmd|run", "=1+1", "+x", "@y"])
def test_no_table_runs_a_name_as_a_formula(name: str) -> None:
    build = change_strip(one_strip(10), "strip", name=name)
    for line in wiring_csv(build).splitlines()[1:]:
        assert not [cell for cell in line.split(",") if cell.strip('"')[:1] in "=+-@" and cell.strip('"')]


def test_a_changed_order_of_colours_is_that_of_the_next_frame() -> None:
    build = one_strip(1)
    for order, body in (("GRB", (1, 200, 2)), ("RGB", (200, 1, 2)), ("BRG", (2, 200, 1))):
        loaded = whole(change_strip(build, "strip", colour_order=order))
        assert tuple(loaded.frame(np.array([[200, 1, 2]], np.uint8)).body) == body


def test_escape_that_a_slider_has_no_use_for_goes_on_to_what_is_around_it(qapp: QApplication, qtbot: QtBot) -> None:
    tuner = Tuner("speed", 0.0, 10.0)
    qtbot.addWidget(tuner)
    given_up: list[bool] = []
    tuner.given_up.connect(lambda: given_up.append(True))

    def escape() -> bool:
        event = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_Escape, Qt.KeyboardModifier.NoModifier)
        tuner.keyPressEvent(event)
        return event.isAccepted()

    assert not escape()
    assert not given_up
    tuner.setSliderDown(True)
    assert escape()
    assert given_up == [True]


def test_the_first_of_two_scenes_is_gone_once_the_second_has_faded_in() -> None:
    build = revise(lit(one_strip(4), "#ff0000", length_s=30.0), show_s=60.0)
    build = add_effect(build, look_of("steady", colour="#0000ff"), 0, 3, 30.0, 30.0)
    build = add_scene(build, 0.0)
    build = add_scene(build, 30.0)
    build = change_scene(build, build.scenes[1].id, fade_s=2.0)
    ticks = np.array([29, 31, 33]) * round(build.tick_hz)
    before, amid, after = render(build, ticks)[:, 0].astype(int)
    assert before.tolist() == [255, 0, 0]
    assert 60 < amid[0] < 195
    assert amid[2] == pytest.approx(255 - amid[0], abs=2)
    assert after.tolist() == [0, 0, 255]


def test_whole_numbers_of_32_bits_go_round_in_printed_python_as_on_a_board() -> None:
    number = nodes.given("u", 0, 2**32 - 1, nodes.Type.U32)
    program = Program("f", (number * number + number,))
    rows = [{"u": each} for each in (2**32 - 1, 2**31, 65_537, 3)]
    assert by_python(program, rows) == [(0,), (2_147_483_648,), (196_610,), (12,)]
