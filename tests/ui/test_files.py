"""Files, drafts, drops and exports, through the window."""

import os
import signal
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QPushButton, QScrollArea, QWidget
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT
from tiny_lantern.model.base import revise
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.store import load, save
from tiny_lantern.ui import clipboard
from tiny_lantern.ui.files import KEEP_WITHIN_MS, demo_build
from tiny_lantern.ui.shell import Shell
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
    assert "bad.lantern: pieces[0]" in shell.transport.status.toolTip()
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
from tiny_lantern.ui.opening import open_window
from tiny_lantern.model.edits_pieces import change_strip
app = QApplication([])
window, shell = open_window(Session(demo_build("footbridge")), Path(sys.argv[1]))
shell.session.apply("Shortened", lambda b: change_strip(b, "west-rail", pixel_count=77))
end = time.monotonic() + 120
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
    qtbot.waitUntil(lambda: shell.session.evidence is not None)
    shell.show_station("Sheets")
    station = shell.stack.currentWidget()
    assert isinstance(station, SheetsStation)
    qtbot.waitUntil(lambda: "Heron" in station.preview.toPlainText())
    text = station.preview.toPlainText()
    assert "Heron Footbridge" in text
    assert "Feeds, wires and fuses" in text
    for suffix in ("pdf", "html", "csv"):
        station.save(tmp_path / f"sheet.{suffix}", suffix)
        qtbot.waitUntil(lambda suffix=suffix: f"Wrote sheet.{suffix}" in shell.transport.status.toolTip())
        assert (tmp_path / f"sheet.{suffix}").stat().st_size > 100
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    station.save(tmp_path / "frames.csv", "frames.csv")
    qtbot.waitUntil(lambda: (tmp_path / "frames.csv").exists())


def edited(shell: Shell, pixels: int = 9) -> None:
    """One step that is not saved."""
    shell.session.apply("Shortened", lambda b: change_strip(b, b.strips[0].id, pixel_count=pixels))


def answering(shell: Shell, answer: int) -> list[str]:
    """Answer every question with the button of that number; what was asked is collected."""
    asked: list[str] = []

    def ask(text: str, choices: tuple[str, ...]) -> int:
        asked.append(f"{text} {choices}")
        return answer

    shell.files.ask = ask
    return asked


@pytest.mark.parametrize("name", ["🏮" * 60, "a/b/../c", "." * 40, "x" * 120])
def test_closing_sets_unsaved_work_of_any_name_aside(opened: Opened, tmp_path: Path, name: str) -> None:
    shell = opened(one_strip(30))
    edited(shell)
    shell.session.apply("Renamed", lambda b: revise(b, name=name))
    assert shell.window().close()
    (aside,) = (tmp_path / "state" / "set-aside").iterdir()
    assert load(aside).strips[0].pixel_count == 9
    assert list((tmp_path / "state" / "drafts").glob("draft-*")) == []


@pytest.mark.parametrize(("answer", "closed"), [(1, False), (2, True)])
def test_what_cannot_be_set_aside_is_asked_about_and_the_window_stays_with_its_draft(
    opened: Opened, tmp_path: Path, answer: int, closed: bool
) -> None:
    shell = opened(one_strip(30))
    edited(shell)
    (tmp_path / "state").mkdir(exist_ok=True)
    (tmp_path / "state" / "set-aside").write_text("a file where the folder should be")
    asked = answering(shell, answer)
    assert shell.window().close() == closed
    assert "not saved" in asked[0]
    if not closed:
        assert shell.window().isVisible()
        assert shell.session.build.strips[0].pixel_count == 9
        (draft,) = (tmp_path / "state" / "drafts").glob("draft-*.lantern")
        assert load(draft).strips[0].pixel_count == 9
        answering(shell, 2)


def test_opening_another_is_refused_when_the_one_in_hand_cannot_be_kept(opened: Opened, tmp_path: Path) -> None:
    shell = opened(one_strip(30))
    edited(shell)
    (tmp_path / "state").mkdir(exist_ok=True)
    (tmp_path / "state" / "set-aside").write_text("")
    shell.files.open_demo("cloak")
    assert shell.session.build.strips[0].pixel_count == 9
    answering(shell, 2)


def test_a_draft_is_written_soon_however_fast_one_edits(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell = opened(one_strip(30))
    edited(shell, 10)
    assert KEEP_WITHIN_MS <= 2000
    (timer,) = (each for each in shell.files.findChildren(QTimer) if each.interval() == KEEP_WITHIN_MS)
    left = [timer.remainingTime()]
    for pixels in (11, 12, 13):
        qtbot.waitUntil(lambda: timer.remainingTime() < left[-1])
        edited(shell, pixels)
        left.append(timer.remainingTime())
    assert left == sorted(left, reverse=True), "an edit does not put the draft off"
    qtbot.waitUntil(lambda: bool(list((tmp_path / "state" / "drafts").glob("draft-*.lantern"))))


@pytest.mark.parametrize("answer", [1, 2])
def test_a_file_that_someone_else_changed_is_not_written_over_unasked(
    opened: Opened, tmp_path: Path, answer: int
) -> None:
    path = tmp_path / "shared.lantern"
    save(one_strip(30), path)
    shell = opened()
    shell.files.open(path)
    edited(shell)
    asked = answering(shell, answer)
    assert shell.files.save()
    assert asked == [], "nobody changed it"
    save(one_strip(77), path)
    edited(shell, 12)
    assert shell.files.save() == (answer == 1)
    assert "changed by another" in asked[0]
    assert load(path).strips[0].pixel_count == (12 if answer == 1 else 77)
    assert shell.files.unsaved == (answer == 2)


def test_two_windows_on_one_file_do_not_overwrite_each_other(opened: Opened, tmp_path: Path) -> None:
    path = tmp_path / "shared.lantern"
    save(one_strip(30), path)
    one, two = opened(), opened()
    one.files.open(path)
    two.files.open(path)
    edited(one, 11)
    edited(two, 22)
    assert one.files.save()
    asked = answering(two, 2)
    assert not two.files.save()
    assert len(asked) == 1
    assert load(path).strips[0].pixel_count == 11


def test_a_new_build_stops_the_show_and_clears_the_status_line(opened: Opened) -> None:
    shell = opened(demo_build("footbridge"))
    shell.transport.toggle()
    shell.session.say("something")
    shell.files.new()
    assert not shell.transport.playing
    assert shell.transport.status.text() == ""
    assert not shell.snags.isVisible()
    assert not shell.transport.play.isVisible()
    for station in ("Pieces", "Power", "Weave", "Sheets"):
        shell.show_station(station)
        assert shell.first_step.isVisible()
    QTest.mouseClick(shell.first_step.button, LEFT)
    assert len(shell.session.build.strips) == 1
    shell.show_station("Power")
    QTest.mouseClick(shell.first_step.button, LEFT)
    assert shell.session.build.feeds
    assert not shell.first_step.isVisible()
    shell.show_station("Weave")
    QTest.mouseClick(shell.first_step.button, LEFT)
    assert shell.transport.play.isVisible()


@pytest.mark.parametrize("station", ["Pieces", "Power", "Weave", "Sheets"])
def test_nothing_in_a_panel_is_cut_off_at_its_right_edge(opened: Opened, qtbot: QtBot, station: str) -> None:
    shell = opened(demo_build("footbridge"))
    shell.window().resize(1280, 800)
    shell.show_station(station)
    for area in shell.findChildren(QScrollArea):
        if area.isVisible() and area.widgetResizable():
            assert area.widget().minimumSizeHint().width() <= area.viewport().width()


def test_text_of_a_build_is_text_everywhere(opened: Opened, qtbot: QtBot) -> None:
    name = "<img src='/dev/zero'><b>Pier</b>"
    build = revise(demo_build("footbridge"), name=name)
    build = change_strip(build, "west-rail", name=name)
    shell = opened(build)
    qtbot.waitUntil(lambda: bool(shell.snags.cards))
    for station in ("Pieces", "Power", "Weave", "Sheets"):
        shell.show_station(station)
    for label in shell.findChildren(QLabel):
        marked_up = label.textFormat() != Qt.TextFormat.PlainText
        assert not (marked_up and "<img" in label.text()), label.text()
    for widget in shell.findChildren(QWidget):
        assert "<img" not in widget.toolTip(), widget


def test_the_window_closes_in_good_order_when_the_system_asks(tmp_path: Path) -> None:
    home = {"XDG_STATE_HOME": str(tmp_path), "HOME": str(tmp_path)}
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", **home}
    command = [sys.executable, "-m", "tiny_lantern.cli", "open", "--demo", "footbridge", "--timing"]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, env=environment, text=True
    ) as process:
        assert process.stdout is not None
        for line in process.stdout:
            if "solved curves" in line:
                break
        process.send_signal(signal.SIGTERM)
        try:
            assert process.wait(timeout=120) == 0
        finally:
            process.kill()
    assert list(tmp_path.rglob("draft-*")) == []


def test_a_sheet_that_is_left_before_it_is_there_is_laid_out_when_one_comes_back(opened: Opened, qtbot: QtBot) -> None:
    shell = opened(demo_build("footbridge"))
    qtbot.waitUntil(lambda: shell.session.evidence is not None)
    shell.show_station("Sheets")
    sheets = shell.stack.currentWidget()
    shell.show_station("Power")
    qtbot.waitUntil(lambda: not shell.session.background.running("sheet"))
    assert "Heron" not in sheets.preview.toPlainText()
    shell.show_station("Sheets")
    qtbot.waitUntil(lambda: "Heron" in sheets.preview.toPlainText())


def test_printing_is_stopped_on_request_and_nothing_is_written(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell = opened(demo_build("pier"))
    sheets = shell.stack.sheets()
    told: list[object] = []
    shell.session.refused.connect(told.append)
    sheets.save(tmp_path / "wiring.pdf", "wiring.pdf")
    assert shell.transport.work.isVisible()
    shell.long_work.stop()
    assert not shell.transport.work.isVisible()
    sheets.save(tmp_path / "wiring.csv", "wiring.csv")
    qtbot.waitUntil(lambda: (tmp_path / "wiring.csv").exists())
    assert not (tmp_path / "wiring.pdf").exists()
    assert told == []


def test_a_large_paste_is_worked_out_in_the_background_and_is_one_step(
    opened: Opened, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(demo_build("pier"))
    monkeypatch.setattr(clipboard, "AT_ONCE", 10)
    before = shell.session.build
    shell.session.select("pieces", before.pieces[0].id, before.pieces[1].id)
    clipboard.copy(shell)
    clipboard.paste(shell)
    assert shell.session.build is before
    qtbot.waitUntil(lambda: len(shell.session.build.pieces) == len(before.pieces) + 2)
    assert shell.session.selection.all("pieces") == tuple(piece.id for piece in shell.session.build.pieces[-2:])
    shell.session.undo()
    assert shell.session.build == before


def test_what_was_worked_out_of_another_build_is_not_taken(
    opened: Opened, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell = opened(one_strip(30))
    monkeypatch.setattr(clipboard, "AT_ONCE", 10)
    shell.session.select("pieces", shell.session.build.pieces[0].id)
    clipboard.copy(shell)
    clipboard.paste(shell)
    edited(shell, 20)
    qtbot.waitUntil(lambda: "changed meanwhile" in shell.transport.status.toolTip())
    assert [piece.slot_count for piece in shell.session.build.pieces] == [20]
