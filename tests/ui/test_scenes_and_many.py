"""Scenes and several effects at once, by mouse and by keys."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, type_into, weave_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.stations.figures_window import FiguresWindow

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def two() -> Build:
    """Two effects beside one another."""
    build = add_effect(one_strip(60), look_of("steady", colour="#ff0000"), 5, 20, 6.0, 12.0)
    return add_effect(build, look_of("steady", colour="#00ff00"), 30, 45, 25.0, 12.0)


def test_scenes_are_begun_named_faded_and_played_alone(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two(), station="Weave")
    session, form = shell.session, weave_of(shell).scenes
    session.set_time(20.0)
    form.new()
    assert [scene.name for scene in session.build.scenes] == ["Scene 1", "Scene 2"]
    type_into(form.name, "Night")
    type_into(form.fade, "2 s")
    assert (session.build.scenes[1].name, session.build.scenes[1].fade_s) == ("Night", 2.0)
    form.alone.click()
    assert session.loop_s == (20.0, 60.0)
    session.set_time(59.95)
    shell.transport.toggle()
    qtbot.waitUntil(lambda: 20.0 <= session.time_s < 25.0)
    shell.transport.toggle()
    form.earlier.click()
    assert session.build.scenes[0].name == "Night"
    assert session.time_s == 0.0
    assert session.build.effects[1].start_s == 5.0
    for _ in range(4):
        session.undo()
    assert session.build == two()


def test_several_effects_are_chosen_moved_and_removed_together(opened: Opened) -> None:
    shell = opened(two(), station="Weave")
    session, canvas = shell.session, weave_of(shell).canvas
    first, second = (canvas.effect_box(effect).center().toPoint() for effect in session.build.effects)
    QTest.mouseClick(canvas, LEFT, pos=first)
    QTest.mouseClick(canvas, LEFT, SHIFT, second)
    assert len(session.selection.all("effects")) == 2
    starts = [effect.start_s for effect in session.build.effects]
    drag(canvas, second, second + QPoint(0, 40))
    moved = [effect.start_s - start for effect, start in zip(session.build.effects, starts, strict=True)]
    assert moved[0] == pytest.approx(moved[1])
    assert moved[0] > 1
    assert session.history.undo_label == "Moved 2 effects"
    QTest.keyClick(canvas, Qt.Key.Key_M)
    assert all(effect.mirrored for effect in session.build.effects)
    QTest.keyClick(canvas, Qt.Key.Key_Left)
    assert session.build.line.covered(session.build.effects[0])[0] == 4
    QTest.mouseClick(canvas, LEFT, SHIFT, canvas.effect_box(session.build.effects[0]).center().toPoint())
    assert session.selection.all("effects") == (session.build.effects[1].id,)
    QTest.keyClick(canvas, Qt.Key.Key_A, CONTROL)
    QTest.keyClick(canvas, Qt.Key.Key_Delete)
    assert session.build.effects == ()
    for _ in range(4):
        session.undo()
    assert session.build == two()


def test_effects_are_copied_cut_and_pasted_at_the_caret(opened: Opened) -> None:
    shell = opened(two(), station="Weave")
    session, canvas = shell.session, weave_of(shell).canvas
    QTest.mouseClick(canvas, LEFT, pos=canvas.effect_box(session.build.effects[0]).center().toPoint())
    shell.actions_by_id["copy"].trigger()
    session.select_slot(40)
    session.set_time(30.0)
    shell.actions_by_id["paste"].trigger()
    new = session.build.effects[-1]
    assert (session.build.line.covered(new), new.start_s) == ((40, 56), 30.0)
    assert session.selection.all("effects") == (new.id,)
    shell.actions_by_id["cut-pieces"].trigger()
    assert len(session.build.effects) == 2
    assert "steady" in QApplication.clipboard().text()


def test_an_edge_snaps_to_where_another_effect_begins(opened: Opened) -> None:
    shell = opened(two(), station="Weave")
    session, canvas = shell.session, weave_of(shell).canvas
    box, other = (canvas.effect_box(effect) for effect in session.build.effects)
    edge = QPoint(round(box.center().x()), round(box.bottom()) - 2)
    by = round(other.top() - box.bottom()) + 3
    drag(canvas, edge, edge + QPoint(0, by))
    effect = session.build.effects[0]
    assert effect.start_s + effect.length_s == pytest.approx(25.0)


def test_a_named_colour_is_kept_used_and_changed_everywhere(opened: Opened) -> None:
    shell = opened(two(), station="Weave")
    session, form = shell.session, weave_of(shell).colours
    session.select("effects", session.build.effects[0].id)
    form.add.click()
    type_into(form.name, "Port")
    assert [(one.name, one.colour) for one in session.build.palette] == [("Port", "#ff0000")]
    session.select("effects", session.build.effects[1].id)
    form.chips[0].click()
    assert session.build.effects[1].look.values["colour"] == "#ff0000"
    form.colour._chosen("#aa2200")
    assert [effect.look.values["colour"] for effect in session.build.effects] == ["#aa2200"] * 2
    form.let_go.click()
    assert session.build.palette == ()
    for _ in range(5):
        session.undo()
    assert session.build == two()


def test_the_show_in_figures_goes_to_the_moment_of_a_row(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(two(), station="Weave")
    qtbot.waitUntil(lambda: shell.session.draw is not None)
    shell.actions_by_id["figures"].trigger()
    window = shell.findChild(FiguresWindow)
    qtbot.waitUntil(lambda: len(window.rows) == 2)
    assert "the lowest pixel is" in window._word.text()
    window.table.setCurrentCell(1, 0)
    assert shell.session.selection.one("feeds") == "feed"
    assert shell.session.time_s == pytest.approx(shell.session.build.timeline.begins_s(window.rows[1].tick))
