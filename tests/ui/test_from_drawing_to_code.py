"""From a scanner drawn by mouse to the C that plays it, through the real window."""

from __future__ import annotations

import subprocess
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from tests.code.test_code import MAIN, wanted
from tests.support.builds import one_strip
from tests.support.compiled import CC
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, drag, weave_of
from tiny_lantern.ui import theme

TICKS = 400


def test_a_scanner_is_drawn_mirrored_tuned_taken_back_and_played_by_its_code(
    opened: Opened, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(one_strip(24), station="Weave")
    session, station = shell.session, weave_of(shell)
    canvas = station.canvas
    QTest.mouseClick(next(look for look in station.looks if look.kind == "scanner"), LEFT)
    drag(canvas, QPoint(theme.GUTTER + 30, 4), QPoint(canvas.width() - 40, canvas.height() // 2))
    (drawn,) = session.build.effects
    assert drawn.look.kind == "scanner"
    assert drawn.length_s > 20
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_M)
    assert session.build.effects[0].mirrored
    shell.actions_by_id["board"].trigger()
    tuner = station.form.tuners["tail_px"]
    tuner.setSliderDown(True)
    tuner.setSliderPosition(tuner.maximum() // 2)
    tuned = session.build.effects[0].look.values["tail_px"]
    assert tuned != drawn.look.values["tail_px"]
    tuner.setSliderDown(False)
    session.undo()
    assert session.build.effects[0].look == drawn.look
    session.redo()
    assert session.build.effects[0].look.values["tail_px"] == tuned
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    shell.show_station("Sheets")
    shell.actions_by_id["save-code"].trigger()
    qtbot.waitUntil(lambda: (tmp_path / "lantern_board.c").exists())
    (tmp_path / "main.c").write_text(MAIN % TICKS)
    sources = [str(tmp_path / "lantern_board.c"), str(tmp_path / "main.c")]
    subprocess.run([*CC, "-I", str(tmp_path), *sources, "-o", str(tmp_path / "played")], check=True)
    sent = subprocess.run([str(tmp_path / "played")], check=True, capture_output=True).stdout
    ours = wanted(session.build, np.arange(TICKS))
    assert ours.any()
    assert sent == ours.tobytes()
