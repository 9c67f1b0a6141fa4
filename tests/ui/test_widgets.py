"""Fields, pictures and theme, each on its own."""

import numpy as np
import pytest
from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QColor, QFontDatabase, QFontMetricsF
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QDialog, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import type_into
from tiny_lantern.catalogue.starters import KINDS, starter
from tiny_lantern.findings.check import check
from tiny_lantern.findings.evidence import find_flashes, gather
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import LOOKS, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.quantities import metres
from tiny_lantern.model.working import Step, Working
from tiny_lantern.show.weave import render
from tiny_lantern.ui import theme
from tiny_lantern.ui.axis import LineAxis
from tiny_lantern.ui.background import Background
from tiny_lantern.ui.colours import image_of, screen_table
from tiny_lantern.ui.declared.registry import commands
from tiny_lantern.ui.files import DEMOS, demo_build
from tiny_lantern.ui.key_sheet import key_sheet_html
from tiny_lantern.ui.stations.feed_table import both, out_and_back
from tiny_lantern.ui.stations.time_axis import TimeAxis
from tiny_lantern.ui.stations.weave_axis import WeaveAxis
from tiny_lantern.ui.stations.weave_raster import View, WeaveRaster
from tiny_lantern.ui.widgets import calm, in_view
from tiny_lantern.ui.widgets.quantity import QuantityEdit
from tiny_lantern.ui.widgets.row_table import fitting_height
from tiny_lantern.ui.widgets.working_card import working_html


@pytest.fixture
def field(qtbot: QtBot) -> QuantityEdit:
    """A length field that shows two metres."""
    made = QuantityEdit("length", "m", metres)
    qtbot.addWidget(made)
    made.show_value(2.0)
    made.show()
    return made


def test_a_field_takes_what_people_write_and_tells_the_value(field: QuantityEdit) -> None:
    got: list[float] = []
    field.entered.connect(got.append)
    type_into(field, "5ft")
    assert got == [pytest.approx(1.524)]
    assert field.text() == "1.52 m"
    assert field.value == pytest.approx(1.524)


def test_a_field_keeps_what_it_cannot_read_until_it_is_mended(field: QuantityEdit) -> None:
    faults: list[LanternError] = []
    got: list[float] = []
    field.faulty.connect(faults.append)
    field.entered.connect(got.append)
    type_into(field, "five")
    assert faults[0].where == "length"
    assert field.text() == "five"
    assert field.property("fault") is True
    type_into(field, "5")
    assert got == [5.0]
    assert field.property("fault") is False


def test_escape_brings_the_value_back(field: QuantityEdit) -> None:
    field.setFocus()
    QTest.keyClicks(field, "99")
    QTest.keyClick(field, Qt.Key.Key_Escape)
    assert field.text() == "2.00 m"


def test_leaving_a_field_untouched_tells_nothing(field: QuantityEdit) -> None:
    got: list[float] = []
    field.entered.connect(got.append)
    field.setFocus()
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert got == []


def contrast(one: str, other: str) -> float:
    """Contrast ratio of two colours as WCAG 2 defines it."""

    def luminance(colour: str) -> float:
        parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in QColor(colour).getRgbF()[:3]]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("palette", [theme.PAPER, theme.NIGHT], ids=["paper", "night"])
@pytest.mark.parametrize("text", ["ink", "faint", "amber_text", "teal", "danger"])
@pytest.mark.parametrize("ground", ["paper", "panel", "field"])
def test_text_stands_out_from_its_ground(palette: theme.Palette, text: str, ground: str) -> None:
    assert contrast(getattr(palette, text), getattr(palette, ground)) >= 4.5


def test_text_on_night_surfaces_and_buttons_stands_out() -> None:
    assert contrast(theme.NIGHT_INK, theme.NIGHT_GROUND) >= 4.5
    assert contrast(theme.NIGHT_FAINT, theme.NIGHT_GROUND) >= 4.5
    assert contrast("#ffffff", theme.PAPER.amber_text) >= 4.5


def test_the_shipped_font_has_figures_of_one_width(opened: Opened) -> None:
    opened()
    assert theme.FAMILY in QFontDatabase.families()
    metrics = QFontMetricsF(theme.font(11))
    widths = {round(metrics.horizontalAdvance(figure * 8), 2) for figure in "0123456789"}
    assert len(widths) == 1


def test_images_hold_the_bytes_they_were_made_of() -> None:
    rgb = np.array([[[255, 0, 0], [0, 255, 0]], [[0, 0, 255], [9, 8, 7]]], np.uint8)
    image = image_of(rgb)
    assert [image.pixelColor(x, y).getRgb()[:3] for y in (0, 1) for x in (0, 1)] == [
        (255, 0, 0), (0, 255, 0), (0, 0, 255), (9, 8, 7),
    ]  # fmt: skip
    table = screen_table()
    assert (table[0], table[255]) == (0, 255)
    assert all(np.diff(table.astype(int)) >= 0)


def test_the_raster_shows_the_very_frames_of_the_weave(qtbot: QtBot) -> None:
    build = add_effect(one_strip(40), look_of("chase"), 0, 39, 0, 30)
    build = add_effect(build, look_of("blink"), 10, 19, 5, 20)
    axis, time = LineAxis(), TimeAxis(build.show_s)
    axis.follow(build)
    raster = WeaveRaster(WeaveAxis(axis), time)
    image = raster.image(build, 400, 600)
    assert (image.width(), image.height()) == (400, 300)
    for row in (0, 77, 150, 299):
        tick = int((row + 0.5) * build.show_s / 300 * build.tick_hz)
        frame = screen_table()[render(build, np.array([tick]))[0]]
        got = [image.pixelColor(slot * 10 + 5, row).getRgb()[:3] for slot in range(40)]
        assert got == [tuple(int(value) for value in light) for light in frame]
    assert raster.image(build, 400, 600) is image
    assert raster.image(add_effect(build, look_of("steady"), 0, 3, 0, 5), 400, 600) != image
    assert raster.image(build, 400, 600, dragged=True).height() == 150


def test_a_zoomed_raster_holds_only_what_is_in_view(qtbot: QtBot) -> None:
    build = add_effect(one_strip(600), look_of("steady", colour="#ffffff"), 300, 599, 0, 60)
    axis, time = LineAxis(), TimeAxis(build.show_s)
    axis.follow(build)
    axis.zoom(0.1, 5.0)
    image = WeaveRaster(WeaveAxis(axis), time).image(build, 500, 100)
    edge = int(axis.to_screen(5.0, 500))
    assert 0 < edge < 499
    assert [image.pixelColor(x, 25).red() for x in (0, edge - 2, edge + 2, 499)] == [0, 0, 255, 255]


def test_very_many_effects_are_rendered_in_the_background_and_look_the_same(qtbot: QtBot) -> None:
    build = one_strip(60)
    lit = [add_effect(build, look, n % 50, n % 50 + 9, n / 8, 2.0).effects[0] for n, look in enumerate(LOOKS * 60)]
    build = revise(build, effects=tuple(revise(effect, id=f"e{n}") for n, effect in enumerate(lit)))
    axis, time, background = LineAxis(), TimeAxis(build.show_s), Background()
    axis.follow(build)
    done: list[bool] = []
    raster = WeaveRaster(WeaveAxis(axis), time, background, lambda: done.append(True))
    assert raster.image(build, 300, 200) is None
    qtbot.waitUntil(lambda: bool(done))
    assert raster.image(build, 300, 200) == WeaveRaster(WeaveAxis(axis), time).image(build, 300, 200)
    before = raster.passing(build, 300, 200).copy()
    time.zoom(0.9, 0.0)
    raster.image(build, 300, 200)  # still the old one, while the new one is being rendered
    time.zoom(1 / 0.9, 0.0)
    after = raster.passing(build, 300, 200)
    same = [before.pixel(x, y) == after.pixel(x, y) for x in range(5, 300, 10) for y in range(5, 200, 5)]
    assert np.mean(same) > 0.95
    background.close()


def test_a_view_covers_what_lies_in_it_on_every_side() -> None:
    view = View(None, 1.0, 5.0, 10.0, 20.0)
    assert view.covers(view)
    assert view.covers(View(None, 1.5, 4.5, 11.0, 19.0))
    for outside in ((0.9, 5.0, 10.0, 20.0), (1.0, 5.1, 10.0, 20.0), (1.0, 5.0, 9.9, 20.0), (1.0, 5.0, 10.0, 20.1)):
        assert not view.covers(View(None, *outside))
    assert not view.covers(View("ring", 1.5, 4.5, 11.0, 19.0))


@pytest.mark.parametrize("kind", range(len(KINDS)), ids=[kind[0] for kind in KINDS])
def test_each_kind_of_start_is_fed_lit_and_sound(opened: Opened, kind: int) -> None:
    build = starter(kind)
    shell = opened(build)
    assert shell.session.solved.solution is not None
    assert shell.session.solved.refusal is None
    lowest = min(run.pixel_v.min() for run in shell.session.solved.solution.runs.values())
    assert lowest > build.shelf.of(StripPart)[0].v_logic_min_v
    found = check(gather(build, FullWhite(), find_flashes(build)))
    assert {f.code for f in found if f.severity < Severity.HINT} <= {"short-by-supply", "short-lingers"}
    assert render(build, np.arange(0, 400, 7)).max() > 200


@pytest.mark.parametrize("name", [name for name, _ in DEMOS])
def test_each_demo_opens_and_is_solved(opened: Opened, name: str) -> None:
    shell = opened(demo_build(name))
    assert shell.session.solved.refusal is None
    assert dict(DEMOS)[name] == shell.session.build.name


ASKING = ("open", "save", "save-as", "save-curves", "save-code", "quit", "photo")


@pytest.mark.parametrize("empty", [True, False], ids=["empty", "demo"])
def test_every_command_can_be_given_whatever_is_open(opened: Opened, qtbot: QtBot, empty: bool) -> None:
    start = Build() if empty else demo_build("cloak")
    shell = opened(start)
    for command in commands():
        if command.id in ASKING:
            continue
        shell.session.open(start)
        with qtbot.captureExceptions() as defects:
            shell.actions_by_id[command.id].trigger()
            shell.long_work.stop()
            shell.transport.stop()
            QApplication.processEvents()
            for dialog in shell.findChildren(QDialog):
                dialog.close()
        assert not defects, command.id


def test_the_key_sheet_and_workings_are_complete() -> None:
    sheet = key_sheet_html()
    assert all(command.keys in sheet and command.title in sheet for command in commands())
    html = working_html(Working("A <b>", (Step("x = a", "1", "2 V"), Step("y", "", "3")), "a text"))
    assert "A &lt;b&gt;" in html
    assert "= 2 V" in html
    assert "Source: a text" in html


def test_cells_for_both_conductors_read_back() -> None:
    assert both("3 m", "3 m") == "3 m"
    assert out_and_back(both("3 m", "4 m")) == ("3 m", "4 m")
    assert out_and_back("1.5 mm2") == ("1.5 mm2", "1.5 mm2")
    assert fitting_height(0) == fitting_height(1) < fitting_height(5) == fitting_height(50)


def test_what_was_slow_is_refreshed_once_for_many_changes_and_what_is_out_of_view_when_it_comes(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(in_view, "SLOW_S", -1.0)
    widget, seen = QWidget(), [0]

    def refresh() -> None:
        seen[0] += 1

    shown = in_view.InView(widget, refresh)
    shown.refresh()
    assert seen == [0], "not in view yet"
    qtbot.addWidget(widget)
    widget.show()
    qtbot.waitUntil(lambda: seen == [1])
    for _ in range(3):
        shown.refresh()
    assert seen == [1], "it was slow: a moment later, once"
    qtbot.waitUntil(lambda: seen == [2])


def test_slow_drawing_waits_for_a_pause_and_quick_drawing_does_not(
    qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    drawn: list[bool] = []
    owner = QObject()
    waits = calm.Calm(owner, lambda: drawn.append(True))
    with waits.measured():
        pass
    waits.ask()
    assert not waits.waiting
    monkeypatch.setattr(calm, "SLOW_S", 0.0)
    for _ in range(3):
        waits.ask()
    assert waits.waiting
    qtbot.waitUntil(lambda: not waits.waiting)
    assert drawn == [True]
