"""The program tried out in its window: lamps light, traces are read, a wire that is put wrong is seen."""

import gc
import os
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QDialog
from pytestqt.qtbot import QtBot

from tests.code.test_at_pins import glowing
from tests.support.driven import driven, lamps
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tests.ui.test_drive import choose
from tiny_lantern.model.edits_drive import change_board
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.tried_window import TriedWindow
from tiny_lantern.ui.widgets.traces import HEAD, LANE, NAMES


def shown(shell: Shell, qtbot: QtBot) -> TriedWindow:
    """The window, after the first frame."""
    shell.actions_by_id["try-program"].trigger()
    (dialog,) = (each for each in shell.findChildren(QDialog) if each.windowTitle() == "Try the program")
    window = dialog.findChild(TriedWindow)
    qtbot.waitUntil(lambda: len(window.lamps.light) > 0, timeout=120_000)
    return window


def test_lamps_light_as_the_program_says_and_a_wire_that_is_off_leaves_one_dark(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(glowing(driven("register", lamps(4)), ("#ffffff", "#000000")), station="Sheets")
    window = shown(shell, qtbot)
    assert np.round(window.lamps.light.max(axis=1)).tolist() == [1, 0, 1, 0]
    choose(window.off, "lamps-register/0/lamp")
    qtbot.waitUntil(lambda: np.round(window.lamps.light.max(axis=1)).tolist() == [0, 0, 1, 0], timeout=120_000)
    choose(window.off, None)
    choose(window.swapped, "lamps-register/0/lamp")
    choose(window.other, "lamps-register/1/lamp")
    qtbot.waitUntil(lambda: np.round(window.lamps.light.max(axis=1)).tolist() == [0, 1, 1, 0], timeout=120_000)


def test_a_pin_that_is_clicked_says_where_its_wire_leads_and_the_view_zooms(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(glowing(driven("register", lamps(4))), station="Sheets")
    window = shown(shell, qtbot)
    traces = window.traces
    QTest.mouseClick(traces, LEFT, pos=QPointF(NAMES / 2, HEAD + LANE / 2).toPoint())
    assert "Lamps chip, leg" in window.pin_words.text()
    assert "step " in window.pin_words.text()
    whole = traces.view_us
    QTest.keyClick(traces, Qt.Key.Key_Plus)
    assert traces.view_us[1] - traces.view_us[0] < whole[1] - whole[0]
    before = traces.all_us
    QTest.mouseClick(window.one, LEFT)
    qtbot.waitUntil(lambda: traces.all_us != before, timeout=120_000)
    data = next(pin for pin in traces._clock_of)
    assert [byte for _, byte in traces._bytes[data]][:1] == [0], "dark is sent first"


def test_it_plays_pauses_begins_again_and_ends_with_its_window(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(glowing(driven("pwm", lamps(2))), station="Sheets")
    window = shown(shell, qtbot)
    began = window.traces.all_us[1]
    QTest.mouseClick(window.play, LEFT)
    qtbot.waitUntil(lambda: window.traces.all_us[1] > began + 40_000, timeout=120_000)
    QTest.mouseClick(window.play, LEFT)
    assert window.play.text() == "Play"
    QTest.mouseClick(window.anew, LEFT)
    qtbot.waitUntil(lambda: window.running and window.traces.all_us[0] == 0.0, timeout=120_000)
    shell.session.apply("Renamed", lambda build: change_board(build, build.boards[0].id, name="Other"))
    qtbot.waitUntil(lambda: window.running, timeout=120_000)
    trial = window._trial
    window.window().close()
    assert trial.program._process.poll() is not None, "nothing goes on running"
    qtbot.wait(10)


def test_a_window_that_is_closed_while_it_starts_leaves_nothing_running(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(glowing(driven("pwm", lamps(2))), station="Sheets")
    for _ in range(3):
        shell.actions_by_id["try-program"].trigger()
        (dialog,) = (each for each in shell.findChildren(QDialog) if each.windowTitle() == "Try the program")
        dialog.close()
        qtbot.waitUntil(lambda: not shell.session.background.running("trial"), timeout=120_000)
        qtbot.waitUntil(lambda: not shell.findChildren(QDialog), timeout=120_000)
    gc.collect()
    mine = Path(f"/proc/{os.getpid()}/task/{os.getpid()}/children").read_text().split()
    told = [Path(f"/proc/{child}/cmdline").read_text() for child in mine if Path(f"/proc/{child}/cmdline").exists()]
    assert not [line for line in told if "import play" in line]


def test_what_has_no_pin_is_told_in_the_window(opened: Opened, qtbot: QtBot) -> None:
    build = glowing(driven("pin", lamps(2)))
    bare = build.model_copy(update={"drivers": (build.drivers[0].model_copy(update={"pins": ()}),)})
    shell = opened(bare, station="Sheets")
    window = TriedWindow(shell.session)
    qtbot.addWidget(window)
    qtbot.waitUntil(lambda: "no pin yet" in window.state.text(), timeout=120_000)
