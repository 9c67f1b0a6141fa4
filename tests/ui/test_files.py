"""Files, drafts, drops and exports, through the window."""

import os
import signal
import subprocess
import sys
from pathlib import Path

from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.store import load, save
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.stations.sheets import SheetsStation


def test_work_is_saved_reopened_and_a_bad_file_changes_nothing(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    path = tmp_path / "bridge.lantern"
    assert shell.files.save_to(path)
    assert load(path) == shell.session.build
    assert not shell.files.unsaved
    bad = tmp_path / "bad.lantern"
    bad.write_text('{"format": "tiny-lantern-build", "version": 1, "strips": [{"id": 7}]}')
    before = shell.session.build
    assert not shell.files.open(bad)
    assert shell.session.build is before
    assert "bad.lantern: strips[0]" in shell.transport.status.toolTip()
    assert shell.files.recent == [path.resolve()]


def test_a_lantern_file_is_dropped_onto_the_window(opened: Opened, tmp_path: Path) -> None:
    path = tmp_path / "dropped.lantern"
    save(one_strip(17), path)
    shell = opened(demo_build("footbridge"))
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    shell.dropEvent(QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, LEFT, Qt.KeyboardModifier.NoModifier))
    assert shell.session.build == one_strip(17)


def test_opening_another_build_sets_unsaved_work_aside(opened: Opened, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    shell.session.apply("Removed a strip", lambda b: change_strip(b, "west-rail", pixel_count=9))
    shell.files.open_demo("cloak")
    (aside,) = (tmp_path / "state" / "set-aside").iterdir()
    assert load(aside).strips[0].pixel_count == 9


def test_a_killed_program_leaves_a_draft_that_is_offered_and_recovered(opened: Opened, tmp_path: Path) -> None:
    script = """
import sys, time
from pathlib import Path
from PySide6.QtWidgets import QApplication
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.session import Session
from tiny_lantern.ui.shell import Shell
from tiny_lantern.model.edits_pieces import change_strip
app = QApplication([])
shell = Shell(Session(demo_build("footbridge")), drafts=Path(sys.argv[1]))
shell.show()
shell.session.apply("Shortened", lambda b: change_strip(b, "west-rail", pixel_count=77))
end = time.monotonic() + 20
while not list(Path(sys.argv[1]).glob("draft-*.json")) and time.monotonic() < end:
    app.processEvents()
print("kept", flush=True)
app.exec()
"""
    drafts = tmp_path / "state" / "drafts"
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    process = subprocess.Popen(
        [sys.executable, "-c", script, str(drafts)], stdout=subprocess.PIPE, env=environment, text=True
    )
    assert process.stdout is not None
    assert process.stdout.readline().strip() == "kept"
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    shell = opened()
    recover = next(b for b in shell.findChildren(QPushButton) if b.text() == "Recover it")
    QTest.mouseClick(recover, LEFT)
    assert shell.session.build.strips[0].pixel_count == 77
    assert shell.files.unsaved
    shell.files.save_to(tmp_path / "kept.lantern")


def test_sheets_preview_and_export(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell = opened(demo_build("footbridge"))
    qtbot.waitUntil(lambda: shell.session.evidence is not None, timeout=20_000)
    shell.show_station("Sheets")
    station = shell.stack.currentWidget()
    assert isinstance(station, SheetsStation)
    qtbot.waitUntil(lambda: "Heron" in station.preview.toPlainText(), timeout=20_000)
    text = station.preview.toPlainText()
    assert "Heron Footbridge" in text
    assert "Feeds, wires and fuses" in text
    for suffix in ("pdf", "html", "csv"):
        station.save(tmp_path / f"sheet.{suffix}", suffix)
        assert (tmp_path / f"sheet.{suffix}").stat().st_size > 100
    station.save(tmp_path / "frames.csv", "frames.csv")
    qtbot.waitUntil(lambda: (tmp_path / "frames.csv").exists(), timeout=30_000)
