"""Inputs and rules in the window: added, turned, pressed, written down, and all of it taken back."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog
from pytestqt.qtbot import QtBot

from tests.support.answering import OF_INPUTS, answering, with_deed
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tests.ui.test_drive import choose
from tiny_lantern.code.files import code_files
from tiny_lantern.model.edits_inputs import add_input
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.inputs_window import InputsWindow
from tiny_lantern.ui.widgets.turned import Dial, Pad, Press


def inputs_of(shell: Shell) -> InputsWindow:
    """The window of inputs and rules, opened by its command."""
    shell.actions_by_id["inputs"].trigger()
    found = shell.findChild(InputsWindow)
    assert isinstance(found, InputsWindow)
    return found


def turn(dial: Dial, by: int) -> None:
    """Drag a knob to the right."""
    middle = dial.rect().center()
    QTest.mousePress(dial, LEFT, pos=middle)
    QTest.mouseMove(dial, middle + QPoint(by, 0))
    QTest.mouseRelease(dial, LEFT, pos=middle + QPoint(by, 0))


def play(shell: Shell, qtbot: QtBot, frames: int) -> int:
    """Let the show play so many frames, by its own clock; how far its own frame went."""
    answerer = shell.session.answerer
    before = answerer.state.frame
    answerer.runs = True
    for _ in range(frames):
        answerer.play(1 / shell.session.build.tick_hz)
    answerer.runs = False
    return answerer.state.frame - before


def test_a_knob_is_added_made_to_pace_the_show_turned_and_taken_back(opened: Opened, qtbot: QtBot) -> None:
    build = answering()
    shell = opened(with_deed(build, "scene", "pressed"), station="Weave")
    start = shell.session.build
    window = inputs_of(shell)
    add = {action.text(): action for action in window.add.menu().actions()}
    add["Knob"].trigger()
    assert [one.kind for one in shell.session.build.inputs] == ["button", "knob"]
    assert window.input_form.isVisible()
    window.choose(shell.session.build.rules[-1].id)
    choose(window.rule_form.does, "speed")
    high = window.rule_form.fields.fields["high"]
    high.setFocus()
    high.selectAll()  # type: ignore[attr-defined]
    QTest.keyClicks(high, "3")
    QTest.keyClick(high, Qt.Key.Key_Return)
    assert shell.session.build.rules[-1].does.high == 3.0  # type: ignore[attr-defined]
    assert "×3" in window.rule_form.words.text()
    assert window.rule_form.caution.isVisible(), "faster than it was checked for flashes"
    assert "the speed of the show goes from ×0.5 to ×3" in "".join(code_files(shell.session.build).values())
    dial = shell.inputs.controls[shell.session.build.inputs[-1].id]
    assert isinstance(dial, Dial)
    assert play(shell, qtbot, 20) == 10
    turn(dial, 200)
    assert dial.way == 1.0
    assert play(shell, qtbot, 20) == 60
    while shell.session.history.undo_label:
        shell.actions_by_id["undo"].trigger()
    assert shell.session.build == start
    assert set(shell.inputs.controls) == {"button"}


def test_a_press_is_seen_while_the_show_stands_and_a_short_one_is_not_lost_while_it_plays(
    opened: Opened, qtbot: QtBot
) -> None:
    build = with_deed(answering(), "brightness", "pressed", low=1.0, high=0.0, even=False)
    shell = opened(build, station="Weave")
    press = shell.inputs.controls["button"]
    assert isinstance(press, Press)
    lit = shell.frames.frame().copy()
    assert lit.max() > 0
    QTest.mouseClick(press, LEFT)
    assert shell.frames.frame().max() == 0
    QTest.mouseClick(press, LEFT)
    assert np.array_equal(shell.frames.frame(), lit)
    shell.session.answerer.runs = True
    QTest.mouseClick(press, LEFT)  # pressed and let go within one frame
    play(shell, qtbot, 5)
    assert shell.frames.frame().max() == 0


def test_the_transport_plays_the_show_as_it_answers_and_the_caret_may_be_put_elsewhere(
    opened: Opened, qtbot: QtBot
) -> None:
    build = with_deed(answering("knob"), "speed", "turned", low=0.0, high=1.0)
    shell = opened(build, station="Weave")
    shell.session.set_time(1.0)
    assert shell.session.answerer.state.frame == 40
    shell.transport.toggle()
    qtbot.wait(120)
    assert shell.session.time_s == 1.0, "a speed of nothing"
    turn(shell.inputs.controls["knob"], 200)  # type: ignore[arg-type]
    qtbot.waitUntil(lambda: shell.session.time_s > 1.1)
    shell.transport.toggle()


def test_a_show_that_does_not_repeat_stops_at_its_end(opened: Opened, qtbot: QtBot) -> None:
    build = with_deed(answering("knob", after_end="hold"), "speed", "turned", low=10.0, high=10.0)
    shell = opened(build, station="Weave")
    shell.transport.toggle()
    qtbot.waitUntil(lambda: not shell.transport.playing)
    assert shell.session.time_s == shell.session.build.show_s


def test_what_inputs_read_is_written_down_and_read_once_more(opened: Opened, qtbot: QtBot) -> None:
    build = with_deed(answering("press"), "speed", "turned", low=1.0, high=4.0)
    shell = opened(build, station="Weave")
    pad = shell.inputs.controls[build.inputs[0].id]
    assert isinstance(pad, Pad)
    QTest.mouseClick(shell.inputs.write, LEFT)
    first = [play(shell, qtbot, 10)]
    QTest.mousePress(pad, LEFT, pos=QPoint(pad.width() - 3, 10))
    first.append(play(shell, qtbot, 10))
    QTest.mouseRelease(pad, LEFT, pos=QPoint(pad.width() - 3, 10))
    first.append(play(shell, qtbot, 10))
    QTest.mouseClick(shell.inputs.write, LEFT)
    assert first == [10, 40, 10]
    assert len(shell.session.answerer.recorded) == 30
    shell.session.set_time(0.0)
    QTest.mouseClick(shell.inputs.again, LEFT)
    assert [play(shell, qtbot, 10) for _ in range(3)] == first
    assert not shell.session.answerer.replaying


def test_a_dial_is_turned_by_keys_and_says_what_it_reads(opened: Opened) -> None:
    shell = opened(answering("knob"), station="Weave")
    dial = shell.inputs.controls["knob"]
    dial.setFocus()
    QTest.keyClick(dial, Qt.Key.Key_End)
    assert shell.session.answerer.reading(shell.session.answerer.tables.hears[0]) == 1023
    assert "1023 counts" in [label.text() for label in shell.inputs._told.values()]
    for _ in range(5):
        QTest.keyClick(dial, Qt.Key.Key_Left)
    assert shell.session.answerer.reading(shell.session.answerer.tables.hears[0]) == pytest.approx(1023 * 0.9, abs=4)


def test_forms_change_pins_and_parts_and_tell_what_cannot_be(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(add_input(answering(), "signal"), station="Drive")
    window = inputs_of(shell)
    window.choose("opto-isolated-signal")
    assert "licensed person" in window.input_form.caution.text()
    choose(window.input_form.pin, "30")
    assert shell.session.build.inputs[1].pin.pin == "30"  # type: ignore[union-attr]
    window.choose("button")
    before = shell.session.build
    choose(window.input_form.fields.fields["to"], "supply")
    assert shell.session.build is before
    assert "pulls its pins up only" in shell.transport.status.toolTip()
    window.choose(shell.session.build.rules[0].id)
    assert not window.rule_form.caution.isVisible(), "a scene flashes no faster"
    window.rule.click()
    assert len(shell.session.build.rules) == 3
    window.remove.click()
    window.choose("button")
    window.remove.click()
    assert [one.id for one in shell.session.build.inputs] == ["opto-isolated-signal"]


def test_the_pier_demo_answers_its_knob_and_its_button(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("pier"), station="Weave")
    shell.session.set_time(30.0)
    flood = next(span for span in shell.session.build.line.spans if span.piece.name == "Flood")
    assert shell.frames.frame()[flood.first].max() > 0
    press = next(each for each in shell.inputs.controls.values() if isinstance(each, Press))
    QTest.mouseClick(press, LEFT)
    assert shell.frames.frame()[flood.first].max() == 0
    assert not shell.findChildren(QDialog)


def test_space_plays_and_pauses_with_a_knob_in_hand(opened: Opened) -> None:
    shell = opened(answering("knob"), station="Weave")
    dial = shell.inputs.controls["knob"]
    QTest.mouseClick(dial, LEFT)
    QTest.keyClick(dial, Qt.Key.Key_Space)
    assert shell.transport.playing
    QTest.keyClick(dial, Qt.Key.Key_Space)
    assert not shell.transport.playing


def test_a_snag_on_an_input_shows_it_where_it_is_changed(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(OF_INPUTS["sensor-swing"](), station="Weave")
    qtbot.waitUntil(lambda: any(finding.code == "sensor-swing" for finding in shell.session.findings))
    shell.jump_to(next(finding for finding in shell.session.findings if finding.code == "sensor-swing"))
    window = shell.findChild(InputsWindow)
    assert isinstance(window, InputsWindow)
    assert window.chosen == ("inputs", shell.session.build.inputs[0].id)
    assert shell.station == "Drive"
