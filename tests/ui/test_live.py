"""Live tuning as a person does it: what is dragged or held is seen on the simulated board at once."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QColorDialog
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, weave_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FrameLoad, FullWhite
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import look_of
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.board_window import BoardWindow
from tiny_lantern.ui.stations.night_window import NightWindow
from tiny_lantern.ui.widgets.tuner import Tuner, scales
from tiny_lantern.ui.widgets.words import WordsEdit


def lit_strip() -> Build:
    """A strip under one breathing light, and a steady red above its last third for the second half."""
    build = add_effect(one_strip(60), look_of("breathe", colour="#ffffff", low=0.2, period_s=4), 0, 59, 0.0, 60.0)
    return add_effect(build, look_of("steady", colour="#ff0000"), 40, 59, 30.0, 30.0)


def board_of(shell: Shell, qtbot: QtBot) -> BoardWindow:
    """The simulated board, opened by its command, with its first frame."""
    shell.actions_by_id["board"].trigger()
    window = shell.findChild(BoardWindow)
    qtbot.waitUntil(lambda: window.live.board.frames > 0)
    return window


def test_a_dragged_level_is_on_the_board_at_once_and_one_step_when_it_is_let_go(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, form = shell.session, weave_of(shell).form
    session.select("effects", session.build.effects[0].id)
    window = board_of(shell, qtbot)
    board = window.live.board
    assert board.lamps.max() == 51  # the lowest level of the breath
    tuner = form.tuners["low"]
    tuner.setSliderDown(True)
    for place in (120, 160, 200):
        tuner.setSliderPosition(place)
        wanted = round(255 * tuner.number(place))
        qtbot.waitUntil(lambda wanted=wanted: board.lamps.max() == wanted)
        assert session.history.undo_label is None
    tuner.setSliderDown(False)
    assert session.history.undo_label == "Changed the lowest of breathe"
    assert session.build.effects[0].look.values["low"] == 1.0
    session.undo()
    assert session.history.undo_label is None
    qtbot.waitUntil(lambda: board.lamps.max() == 51)


def test_a_curve_is_drawn_by_hand_and_by_keys(opened: Opened) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, form = shell.session, weave_of(shell).form
    session.select("effects", session.build.effects[0].id)
    pad = form.pads["curve"]
    pad.resize(90, 56)

    def curve() -> list[float]:
        """The levels of the curve as the build has them now."""
        return [float(word) for word in session.build.effects[0].look.values["curve"].split()]

    QTest.mousePress(pad, LEFT, pos=QPoint(5, 5))
    QTest.mouseMove(pad, QPoint(45, 51))
    assert curve()[:9] == pytest.approx([1 - number / 8 for number in range(9)], abs=0.006)
    assert curve()[9:] == pytest.approx([number / 16 for number in range(9, 17)], abs=0.006)  # as it was: straight
    assert session.history.undo_label is None
    QTest.mouseMove(pad, QPoint(85, 28))
    QTest.mouseRelease(pad, LEFT, pos=QPoint(85, 28))
    assert curve()[8:] == pytest.approx([number / 16 for number in range(9)], abs=0.006)
    assert session.history.undo_label == "Changed the curve of breathe"
    session.undo()
    assert session.build.effects[0].look.values["curve"] == "straight"
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Down, Qt.Key.Key_Down):
        QTest.keyClick(pad, key)
    assert curve() == pytest.approx([*[n / 16 for n in range(15)], 15 / 16 - 0.1, 1], abs=0.006)
    QTest.mousePress(pad, LEFT, pos=QPoint(5, 5))
    assert curve()[0] == 1
    QTest.keyClick(pad, Qt.Key.Key_Escape)
    assert curve()[0] == 0
    assert not session.dragging


def test_escape_gives_a_dragged_level_up(opened: Opened) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, form = shell.session, weave_of(shell).form
    session.select("effects", session.build.effects[0].id)
    tuner = form.tuners["period_s"]
    tuner.setSliderDown(True)
    tuner.setSliderPosition(3)
    assert session.build.effects[0].look.values["period_s"] < 1
    QTest.keyClick(tuner, Qt.Key.Key_Escape)
    assert session.build.effects[0].look.values["period_s"] == 4
    assert not session.dragging
    assert session.history.undo_label is None
    QTest.keyClick(tuner, Qt.Key.Key_Right)
    assert session.history.undo_label == "Changed the period of breathe"
    assert session.build.effects[0].look.values["period_s"] > 4


def test_a_colour_is_seen_while_it_is_being_chosen(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, form = shell.session, weave_of(shell).form
    session.select("effects", session.build.effects[1].id)
    session.set_time(31.0)
    board = board_of(shell, qtbot).live.board
    form._looks["colour"].click()
    dialog = shell.findChild(QColorDialog)
    dialog.setCurrentColor(QColor("#00ff00"))
    qtbot.waitUntil(lambda: board.lamps[50].tolist() == [0, 255, 0])
    assert session.dragging
    dialog.reject()
    qtbot.waitUntil(lambda: board.lamps[50].tolist() == [255, 0, 0])
    assert session.build.effects[1].look.values["colour"] == "#ff0000"


def test_hold_keeps_the_selection_at_the_value_under_the_pointer(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, station = shell.session, weave_of(shell)
    board = board_of(shell, qtbot).live.board
    session.select("effects", session.build.effects[0].id)
    before = session.build
    QTest.mouseClick(station.hold, LEFT)
    canvas = station.canvas
    red = QPoint(canvas.width() - 40, round(canvas.height() * 0.75))
    QTest.mouseMove(canvas, red)
    qtbot.waitUntil(lambda: board.lamps[0].tolist() == [255, 0, 0])
    assert (board.lamps == [255, 0, 0]).all()
    assert shell.frames.frame()[0].tolist() == [255, 0, 0]
    assert session.build is before
    QTest.mouseClick(canvas, LEFT, pos=red)
    assert session.build.effects[0].look.values["colour"] == "#ff0000"
    assert session.history.undo_label.startswith("Kept #ff0000")
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    assert session.held is None
    assert not station.hold.isChecked()
    session.undo()
    qtbot.waitUntil(lambda: board.lamps[0].tolist() == [51, 51, 51])


def test_hold_by_keyboard_follows_the_caret(opened: Opened) -> None:
    shell = opened(lit_strip(), station="Weave")
    session, canvas = shell.session, weave_of(shell).canvas
    session.select("pieces", "strip")
    canvas.setFocus()
    session.select_slot(50)
    session.set_time(31.0)
    QTest.keyClick(canvas, Qt.Key.Key_H)
    assert session.held.rgb == (255, 0, 0)
    assert (session.held.first, session.held.stop) == (0, 60)
    session.set_time(0.0)
    assert session.held.rgb == (51, 51, 51)
    QTest.keyClick(canvas, Qt.Key.Key_H)
    assert session.held is None


def test_nothing_is_sent_once_the_board_is_closed(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    window = board_of(shell, qtbot)
    live = window.live
    window.window().close()
    assert not live.on
    assert live.board.handle == -1
    assert live.board.lamps.max() == 0
    shell.session.set_time(5.0)
    board_of(shell, qtbot)


def test_the_board_goes_with_the_window(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    live = board_of(shell, qtbot).live
    shell.window().close()
    assert live.board.handle == -1


def test_the_picture_by_night_plays_and_counts_its_frames(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(lit_strip(), station="Weave")
    shell.actions_by_id["by-night"].trigger()
    night = shell.alone
    assert isinstance(night, NightWindow)
    qtbot.waitUntil(night.isVisible)
    QTest.keyClick(night, Qt.Key.Key_Space)
    assert shell.transport.playing
    qtbot.waitUntil(lambda: night.counter.rate_hz > 15)
    QTest.keyClick(night, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: night.counter.rate_hz == 0)
    image = night.picture.grab().toImage()
    colours = {image.pixelColor(x, image.height() - y).name() for x in range(0, 400, 3) for y in range(1, 40, 2)}
    assert len(colours) == 1, "no metres, no names: light alone"
    at = shell.session.time_s
    QTest.keyClick(night, Qt.Key.Key_Right)
    assert shell.session.time_s == pytest.approx(at + 1)
    QTest.keyClick(night, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: shell.alone is None)


def test_nothing_is_drawn_of_a_window_that_the_night_lies_over_until_it_is_in_front_again(
    opened: Opened, qtbot: QtBot
) -> None:
    shell = opened(lit_strip(), station="Weave")
    shell.actions_by_id["by-night"].trigger()
    night = shell.alone
    assert isinstance(night, NightWindow)
    qtbot.waitUntil(lambda: night.isActiveWindow() and not shell.updatesEnabled())
    shell.window().raise_()
    shell.window().activateWindow()
    qtbot.waitUntil(shell.updatesEnabled)
    night.activateWindow()
    qtbot.waitUntil(lambda: not shell.updatesEnabled())
    for other in (night.showNormal, night.showMinimized):
        other()
        qtbot.waitUntil(shell.updatesEnabled)
    night.showFullScreen()
    qtbot.waitUntil(lambda: not shell.updatesEnabled())
    QTest.keyClick(night, Qt.Key.Key_Escape)
    qtbot.waitUntil(shell.updatesEnabled)


def test_words_are_kept_until_they_can_be_used(opened: Opened) -> None:
    shell = opened(add_effect(one_strip(30), look_of("steps"), 0, 29, 0.0, 10.0), station="Weave")
    session, form = shell.session, weave_of(shell).form
    session.select("effects", session.build.effects[0].id)
    table = form._looks["table"]
    assert isinstance(table, WordsEdit)
    told = []
    session.refused.connect(told.append)
    table.field.setFocus()
    table.field.setPlainText("101\n10")
    QTest.keyClick(table.field, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert "row 2 has 2 levels" in told[-1].what
    assert table.text() == "101\n10"
    session.set_time(1.0)
    assert table.text() == "101\n10"
    table.field.setPlainText("101\n010")
    QTest.keyClick(table.field, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert session.build.effects[0].look.values["table"] == "101\n010"
    session.undo()
    assert table.text().startswith("1000")


@pytest.mark.parametrize(("low", "high"), [(0, 1), (0.02, 3600), (-1000, 1000), (1, 60)])
def test_a_tuner_reaches_both_ends_and_comes_back_to_where_it_was(low: float, high: float, qtbot: QtBot) -> None:
    forth, back = scales(low, high)
    assert (back(0), back(1)) == (pytest.approx(low), pytest.approx(high))
    for share in np.linspace(0, 1, 9):
        assert forth(back(share)) == pytest.approx(share)
    tuner = Tuner("level", low, high)
    qtbot.addWidget(tuner)
    tuner.show_value(high)
    assert tuner.value() == tuner.maximum()


def test_strips_are_seen_as_they_sag_while_the_load_is_the_frame_under_the_caret(opened: Opened) -> None:
    build = add_effect(one_strip(250), look_of("steady", colour="#ffffff"), 0, 249, 0.0, 10.0)
    shell = opened(build, station="Weave")
    session = shell.session
    session.set_time(1.0)
    assert (shell.frames.seen() == 255).all()
    session.set_load(FrameLoad(time_s=1.0))
    seen = shell.frames.seen().astype(int)
    assert seen[0].min() > 235
    assert seen[-1, 2] < 150  # blue goes first
    assert seen[-1, 0] > seen[-1, 2] + 50
    assert shell.frames.seen() is shell.frames.seen()
    session.set_time(11.0)
    assert shell.frames.seen().max() == 0
    session.set_load(FullWhite())
    session.set_time(1.0)
    assert (shell.frames.seen() == 255).all()


def test_a_board_that_is_hidden_and_shown_again_lives_again_and_can_be_hidden_again(
    opened: Opened, qtbot: QtBot
) -> None:
    shell = opened(lit_strip(), station="Weave")
    window = board_of(shell, qtbot)
    window.hide()
    assert not window.live.on
    window.show()
    qtbot.waitUntil(lambda: window.live.board.lamps.max(initial=0) > 0)
    window.hide()
    assert not window.live.on


def test_what_no_board_can_take_is_told_once_and_again_only_of_another_build(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(one_strip(10), station="Weave")
    live = board_of(shell, qtbot).live
    told: list[object] = []
    shell.session.refused.connect(told.append)
    many = revise(shell.session.build.pieces[0], pixel_count=4000)
    pieces = tuple(revise(many, id=f"s{number}", name=f"S{number}") for number in range(6))
    build = revise(shell.session.build, pieces=pieces, feeds=(), effects=())
    for count in (24_000, 23_999):
        change = revise(pieces[0], pixel_count=4000 - (24_000 - count))
        shell.session.apply("Many", lambda _, change=change: revise(build, pieces=(change, *pieces[1:])))
        live._send()
        for moment in range(1, 20):
            shell.session.set_time(moment / 10)
            live._send()
    assert len([error for error in told if "bytes a frame" in str(error)]) == 2
