"""Forms and surfaces beside the plots: layouts, looks, the ruler, the picture, snags, sheets."""

from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, pieces_of, power_of, type_into, weave_of
from tiny_lantern.effects.kind import ColourParameter, TextParameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.electrical.shorts.study import short_at
from tiny_lantern.findings.finding import Severity
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import LOOKS, Look
from tiny_lantern.model.layouts import AlongArc, AlongPath
from tiny_lantern.sheets.connections import connections
from tiny_lantern.ui import theme
from tiny_lantern.ui.declared.registry import commands
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.find import choices_for
from tiny_lantern.ui.stations.build_form import BuildForm
from tiny_lantern.ui.widgets.board_marks import board_spot
from tiny_lantern.ui.widgets.fields import ColourButton
from tiny_lantern.ui.widgets.finder import MOST_SHOWN
from tiny_lantern.ui.widgets.words import WordsEdit


def wheel(widget: QWidget, at: QPoint, turn: int, keys: Qt.KeyboardModifier) -> None:
    """Turn the wheel over a place."""
    event = QWheelEvent(
        QPointF(at), QPointF(widget.mapToGlobal(at)), QPoint(), QPoint(0, turn), Qt.MouseButton.NoButton, keys,
        Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


def test_an_arcs_figures_are_typed_and_its_bend_chosen(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    form = pieces_of(shell).form
    type_into(form.fields["radius"], "20 m")
    type_into(form.fields["angle"], "-10")
    form.fields["bend"].activated.emit(0)
    layout = shell.session.build.strips[0].layout
    assert layout == AlongArc(x_m=0, y_m=0, angle_deg=-10, radius_m=20, rightward=False)
    type_into(form.fields["radius"], "0")
    assert shell.session.build.strips[0].layout == layout
    assert "out of range" in shell.transport.status.toolTip()


@pytest.mark.parametrize(("number", "shape"), [(0, "line"), (2, "ring"), (3, "path")])
def test_another_shape_begins_where_the_strip_lay(opened: Opened, number: int, shape: str) -> None:
    shell = opened(demo_build("footbridge"))
    form = pieces_of(shell).form
    form.fields["shape"].activated.emit(number)
    assert shell.session.build.strips[0].layout.shape == shape
    assert not form.fields["radius"].isVisible()
    shell.session.undo()
    assert shell.session.build == demo_build("footbridge")


def test_corners_are_typed_as_points(opened: Opened) -> None:
    shell = opened(demo_build("cloak"))
    form = pieces_of(shell).form
    type_into(form.fields["corners"], "0,0  1.5,0.25  1.5,1")
    assert shell.session.build.strips[0].layout == AlongPath(points_m=((0, 0), (1.5, 0.25), (1.5, 1)))
    before = shell.session.build
    for wrong in ("0,0", "0,0 x", "1,1 1,1"):
        type_into(form.fields["corners"], wrong)
        assert shell.session.build is before
        assert "corners" in shell.transport.status.toolTip()


def test_the_builds_own_fields_are_changed(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    QTest.mouseClick(shell.title.name, LEFT)
    (build_form,) = shell.findChildren(BuildForm)
    type_into(build_form.build_name, "Otter Bridge")
    type_into(build_form.show_length, "1:30")
    type_into(build_form.tick, "25")
    build_form.outdoor.activated.emit(0)
    build_form.wires.activated.emit(1)
    build = shell.session.build
    assert (build.name, build.show_s, build.tick_hz) == ("Otter Bridge", 90, 25)
    assert (build.site.outdoor, build.data.parallel) == (False, True)
    assert shell.title.name.toolTip().startswith("Otter Bridge")
    build_form.notes.setPlainText("Mind the herons.")
    build_form.notes.left.emit()
    assert shell.session.build.notes == "Mind the herons."


@pytest.mark.parametrize("look", LOOKS, ids=lambda look: look.kind)
def test_every_look_shows_its_parameters_and_takes_typing(opened: Opened, look: Look) -> None:
    shell = opened(add_effect(one_strip(60), look, 0, 59, 0, 10), station="Weave")
    form = weave_of(shell).form
    shell.session.select("effects", shell.session.build.effects[0].id)
    parameters = effect_kinds()[look.kind].parameters
    assert list(form._looks) == [parameter.name for parameter in parameters]
    for parameter, field in zip(parameters, form._looks.values(), strict=True):
        if isinstance(parameter, ColourParameter):
            assert isinstance(field, ColourButton)
            field._chosen("#123456")
            assert field.text() == "#123456"
            assert shell.session.build.effects[0].look.values[parameter.name] == "#123456"
        elif isinstance(parameter, TextParameter):
            assert isinstance(field, WordsEdit)
            written = OTHER_WORDS.get(parameter.name, "ease")
            field.set_text(written)
            assert shell.session.build.effects[0].look.values[parameter.name] == written
        elif parameter.words:
            assert isinstance(field, QComboBox)
            assert [field.itemText(number) for number in range(field.count())] == list(parameter.words)
            field.activated.emit(field.count() - 1)
            assert shell.session.build.effects[0].look.values[parameter.name] == parameter.high
        else:
            value = {"ratio": 0.25, "s": 2.5}.get(parameter.unit, parameter.default + 1)
            type_into(field, {"ratio": "25%", "s": "2.5 s"}.get(parameter.unit, f"{value:g}"))
            assert shell.session.build.effects[0].look.values[parameter.name] == value


OTHER_WORDS = {"text": "SOS", "table": "10\n01", "picture": "#ff0000 #00ff00"}


def test_effects_are_raised_lowered_layered_and_doubled(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    form = weave_of(shell).form
    first = shell.session.build.effects[0]
    shell.session.select("effects", first.id)
    buttons = {b.text(): b for b in form.findChildren(QPushButton)}
    QTest.mouseClick(buttons["Raise"], LEFT)
    assert shell.session.build.effects[1].id == first.id
    QTest.mouseClick(buttons["Lower"], LEFT)
    assert shell.session.build == demo_build("footbridge")
    form.layer.activated.emit(2)
    assert shell.session.build.effects[0].layer == "lighten"
    QTest.mouseClick(buttons["Duplicate"], LEFT)
    assert len(shell.session.build.effects) == 9
    assert shell.session.selection.one("effects") == shell.session.build.effects[-1].id
    QTest.mouseClick(buttons["Remove"], LEFT)
    assert len(shell.session.build.effects) == 8


def test_the_wheel_zooms_and_scrolls_line_and_time(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    at = QPoint(theme.LINE_LEFT + 300, 38)
    wheel(shell.ruler, at, 120, Qt.KeyboardModifier.ControlModifier)
    span = shell.axis.right_m - shell.axis.left_m
    assert span == pytest.approx(0.8 * shell.axis.total_m)
    left = shell.axis.left_m
    wheel(shell.ruler, at, -120, Qt.KeyboardModifier.NoModifier)
    assert shell.axis.left_m > left
    station = weave_of(shell)
    wheel(station.canvas, QPoint(300, 100), 120, Qt.KeyboardModifier.ControlModifier)
    assert station.time.bottom_s - station.time.top_s == pytest.approx(48)
    top = station.time.top_s
    wheel(station.canvas, QPoint(300, 100), -120, Qt.KeyboardModifier.NoModifier)
    assert station.time.top_s > top
    left = shell.axis.left_m
    wheel(station.canvas, QPoint(300, 100), 120, Qt.KeyboardModifier.ShiftModifier)
    assert shell.axis.left_m != left
    wheel(power_of(shell).posts, QPoint(300, 100), 120, Qt.KeyboardModifier.ControlModifier)
    assert shell.axis.right_m - shell.axis.left_m < span


def test_the_margin_of_the_weave_scrubs(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"), station="Weave")
    canvas = weave_of(shell).canvas
    drag(canvas, QPoint(10, 10), QPoint(10, canvas.height() // 2))
    assert shell.session.time_s == pytest.approx(30, abs=0.5)


def test_a_board_is_dragged_to_its_place_and_its_wires_are_as_long_as_from_there(opened: Opened) -> None:
    shell = opened(demo_build("pier"))
    picture, session = pieces_of(shell).picture, shell.session
    picture.grab()
    before = session.build
    start = (board_spot(before, before.boards[0], picture.spot_at) + QPointF(34, 0)).toPoint()
    drag(picture, start, start + QPoint(120, -60))
    at_m = session.build.boards[0].at_m
    assert at_m is not None
    assert at_m[0] > before.boards[0].at_m[0] + 0.05  # type: ignore[index]
    assert session.selection.one("boards") == before.boards[0].id
    key = "deck-lamps-register/0/lamp"
    cut = [next(row.cut_m for row in connections(build) if row.key == key) for build in (before, session.build)]
    assert cut[0] != cut[1]
    session.undo()
    assert session.build == before


def test_a_supply_is_dragged_and_a_strip_moves_with_arrows(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    picture = pieces_of(shell).picture
    picture.grab()
    supply = shell.session.build.supplies[0]
    start = (picture.spot_at(supply.x_m, supply.y_m) + QPointF(34, 0)).toPoint()
    drag(picture, start, start + QPoint(60, 0))
    assert shell.session.build.supplies[0].x_m > supply.x_m
    assert shell.session.history.undo_label == "Moved Bank box in the picture"
    shell.session.select_slot(0)
    QTest.keyClick(picture, Qt.Key.Key_Up)
    assert shell.session.build.strips[0].layout.y_m == pytest.approx(0.05)
    QTest.keyClick(picture, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert shell.session.build.strips[0].layout.x_m == pytest.approx(0.5)


def test_supplies_are_added_changed_and_removed(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    station = power_of(shell)
    type_into(station._set_v, "5.1 V")
    assert shell.session.build.supplies[0].set_v == 5.1
    QTest.mouseClick(next(b for b in station.findChildren(QPushButton) if b.text() == "Add supply"), LEFT)
    assert len(shell.session.build.supplies) == 2
    index = station._supply_part.findData("mains-5v-40a")
    station._supply_part.activated.emit(index)
    assert shell.session.build.supplies[1].part_id == "mains-5v-40a"
    QTest.mouseClick(station._remove_one, LEFT)
    assert len(shell.session.build.supplies) == 1
    station._school.activated.emit(0)
    assert shell.session.build.limits.light_loss_max == 0.05
    type_into(station._loss, "20%")
    type_into(station._floor, "4 V")
    assert (shell.session.build.limits.light_loss_max, shell.session.build.limits.v_min_v) == (0.2, 4.0)


def test_snags_stand_worst_first_with_working_and_fix(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    qtbot.waitUntil(lambda: len(shell.snags.cards) > 5)
    severities = [card.finding.severity for card in shell.snags.cards]
    assert severities == sorted(severities)
    assert severities[0] is Severity.DANGER
    card = next(card for card in shell.snags.cards if card.finding.code == "short-stands")
    QTest.mouseClick(next(b for b in card.findChildren(QPushButton) if b.text() == "working"), LEFT)
    (window,) = [child for child in shell.children() if type(child).__name__ == "WorkingCard"]
    course = short_at(shell.session.build, "west-rail", card.finding.place.index + 1)
    assert f"{course.end.short_a:.2f} A" in window.text.toPlainText()
    assert "own positive rail" in window.text.toPlainText()
    window.close()
    QTest.mouseClick(card, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(4, 4))
    assert shell.session.slot == card.finding.place.index
    QTest.keyClick(card, Qt.Key.Key_Return)
    assert shell.station == "Power"


def test_an_edit_that_mends_is_one_step(opened: Opened, qtbot: QtBot) -> None:
    build = demo_build("cloak")
    shell = opened(build)
    qtbot.waitUntil(lambda: bool(shell.snags.cards))
    card = next(card for card in shell.snags.cards if card.finding.code == "fuse-share")
    qtbot.waitUntil(lambda: card.finding.fix is not None)
    QTest.mouseClick(next(b for b in card.findChildren(QPushButton) if b.text().startswith("Fuse it")), LEFT)
    qtbot.waitUntil(lambda: all(f.code != "fuse-share" for f in shell.session.findings))
    shell.session.undo()
    assert shell.session.build == build


def test_the_menu_names_what_undo_takes_back_and_what_was_opened(opened: Opened, tmp_path) -> None:
    shell = opened(demo_build("footbridge"))
    shell.files.save_to(tmp_path / "bridge.lantern")
    shell.session.apply("Renamed", lambda build: build.model_copy(update={"name": "Other"}))
    shell.title._fill_menu()
    groups = {action.text(): action.menu() for action in shell.title.menu.actions()}
    assert "Undo: Renamed" in [action.text() for action in groups["Edit"].actions()]
    recent = next(action for action in groups["Build"].actions() if action.text() == "Recent")
    assert [action.text() for action in recent.menu().actions()] == ["bridge.lantern"]
    assert not shell.actions_by_id["redo"].isEnabled()
    shell.title.menu.aboutToHide.emit()
    assert shell.actions_by_id["redo"].isEnabled()


def test_the_menu_is_short_named_groups_that_fit_a_small_window(opened: Opened) -> None:
    shell = opened(demo_build("pier"), size=(1024, 700))
    shell.title._fill_menu()
    groups = [action.menu() for action in shell.title.menu.actions()]
    assert [menu.title() for menu in groups] == [
        "Build", "Edit", "Pieces", "Power", "Drive", "Weave", "Sheets", "View", "Help",
    ]  # fmt: skip
    entries = [action for menu in groups for action in menu.actions()]
    assert {shell.actions_by_id[command.id] for command in commands()} <= set(entries)
    for menu in (shell.title.menu, *groups):
        assert len(menu.actions()) <= 14
        assert menu.sizeHint().height() < 700
        assert menu.sizeHint().width() < 600


def test_find_reaches_every_command(opened: Opened) -> None:
    look_up = choices_for(opened())
    for command in commands():
        assert command.title in [choice.title for choice in look_up(command.title)[:MOST_SHOWN]], command.title


def test_the_window_is_called_after_its_build_and_marked_while_that_is_not_saved(
    opened: Opened, tmp_path: Path
) -> None:
    shell = opened(one_strip(5))
    window = shell.window()
    shell.files.save_to(tmp_path / "a.lantern")
    assert window.windowTitle() == f"{shell.session.build.name}[*] — Tiny Lantern"
    assert not window.isWindowModified()
    shell.session.apply("Named", lambda build: change_build(build, name="Quay"))
    assert window.windowTitle() == "Quay[*] — Tiny Lantern"
    assert window.isWindowModified()
    shell.files.save_to(tmp_path / "a.lantern")
    assert not window.isWindowModified()
