"""The song in its window: read, its beats taken, typed, tapped and nudged, looks laid on them, all of it taken back."""

from __future__ import annotations

from functools import partial
from pathlib import Path

import pytest
import soundfile
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from pytestqt.qtbot import QtBot

from tests.support.builds import one_strip
from tests.support.songs import beat_times, clicks, f_measure
from tests.ui.conftest import Opened
from tests.ui.driving import LEFT, type_into, weave_of
from tests.ui.test_drive import choose
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.edits_music import change_music
from tiny_lantern.show.music.notes import Note, read_tracks, save_notes
from tiny_lantern.show.music.sound import RATE_HZ
from tiny_lantern.ui.files import demo_build
from tiny_lantern.ui.shell import Shell
from tiny_lantern.ui.stations.music_window import MusicWindow


def music_of(opened: Opened) -> tuple[Shell, MusicWindow]:
    """Ten pixels and a show of half a minute, and the window of its song."""
    shell = opened(change_build(one_strip(10), show_s=30.0), station="Weave")
    shell.actions_by_id["music"].trigger()
    found = shell.findChild(MusicWindow)
    assert isinstance(found, MusicWindow)
    return shell, found


def test_a_song_is_read_and_its_beats_are_taken_in_one_step(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell, window = music_of(opened)
    true_s, path = beat_times(120, 30.0), tmp_path / "song.flac"
    soundfile.write(path, clicks(true_s, 30.0), RATE_HZ)
    assert not window.take_found.isEnabled()
    window.take(str(path))
    qtbot.waitUntil(window.take_found.isEnabled)
    assert "song.flac" in window.file.text()
    QTest.mouseClick(window.take_found, LEFT)
    assert f_measure(shell.session.build.music.marks_s, true_s) >= 0.95
    assert "120.0 a minute" in window.told.text()
    margin = weave_of(shell).canvas.grab().toImage()
    shell.actions_by_id["undo"].trigger()
    assert shell.session.build.music.marks_s == ()
    assert weave_of(shell).canvas.grab().toImage() != margin, "beats stand in the margin"
    window.forget.click()
    assert shell.session.song.sound is None


def test_a_look_is_laid_on_every_second_beat_from_bar_5_to_12_in_one_act(opened: Opened) -> None:
    shell, window = music_of(opened)
    type_into(window.tempo, "120")
    assert shell.session.build.music.bar_count == 15
    type_into(window.every, "2")
    type_into(window.first, "5")
    type_into(window.last, "12")
    choose(window.kind, "fade")
    QTest.mouseClick(window.lay, LEFT)
    starts = [effect.start_s for effect in shell.session.build.effects]
    assert starts == [8.0 + number for number in range(16)]
    assert "still empty: 1–4, 13–15" in window.bars_told.text()
    before = shell.session.build
    shell.actions_by_id["undo"].trigger()
    assert shell.session.build.effects == ()
    shell.actions_by_id["redo"].trigger()
    assert shell.session.build.effects == before.effects


def test_a_tempo_is_tapped_with_the_show_standing_and_beats_are_nudged(
    opened: Opened, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell, window = music_of(opened)
    clock = iter([100.0 + 0.4 * number for number in range(20)])
    monkeypatch.setattr("tiny_lantern.ui.stations.music_window.time.monotonic", lambda: next(clock))
    shell.session.set_time(2.0)
    window.setFocus()
    for _ in range(5):
        QTest.keyClick(window, Qt.Key.Key_T)
    assert shell.session.build.music.bpm == pytest.approx(150.0, abs=0.1)
    assert shell.session.build.music.marks_s[0] == pytest.approx(2.0)
    window.later.click()
    assert shell.session.build.music.marks_s[0] == pytest.approx(2.01)
    count = len(shell.session.build.music.marks_s)
    window.remove.click()
    assert len(shell.session.build.music.marks_s) == count - 1
    window.add.click()
    assert shell.session.build.music.marks_s[0] == pytest.approx(2.0)


def test_what_is_drawn_on_the_weave_catches_on_beats(opened: Opened) -> None:
    shell, window = music_of(opened)
    type_into(window.tempo, "93")
    canvas = weave_of(shell).canvas
    marks = shell.session.build.music.marks_s
    at_s = marks[10] + 0.03
    assert canvas._snapped(at_s) == marks[10]
    between = (marks[10] + marks[11]) / 2
    height = canvas.height()
    if canvas._time.to_y(between, height) - canvas._time.to_y(marks[10], height) > 9:
        assert canvas._snapped(between) == pytest.approx(round(between, 1))


def test_a_file_that_is_none_is_told_once_and_nothing_is_lost(opened: Opened, qtbot: QtBot, tmp_path: Path) -> None:
    shell, window = music_of(opened)
    type_into(window.tempo, "120")
    path = tmp_path / "nonsense.wav"
    path.write_bytes(b"RIFFnothing of the kind")
    window.take(str(path))
    qtbot.waitUntil(lambda: "no sound can be read" in shell.transport.status.toolTip())
    assert len(shell.session.build.music.marks_s) == 61
    window.take(str(tmp_path / "gone.wav"))
    assert "is not there any more" in window.file.text()


def test_notes_are_read_moved_into_the_range_of_the_lamps_laid_and_saved(
    opened: Opened, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    shell, window = music_of(opened)
    tune = (Note(60, 100, 1.0, 0.5), Note(64, 100, 2.0, 0.5))
    save_notes(tune, tmp_path / "tune.mid", "Organ")
    window.take_notes(tmp_path / "tune.mid")
    assert window.track.currentText() == "Organ: 2 notes, 60 to 64"
    choose(window.kind, "steady")
    QTest.mouseClick(window.lay_notes, LEFT)
    assert [(each.first.index, each.start_s) for each in shell.session.build.effects] == [(0, 1.0), (4, 2.0)]
    out = str(tmp_path / "out.mid")
    monkeypatch.setattr("tiny_lantern.ui.stations.music_window.QFileDialog.getSaveFileName", lambda *_: (out, ""))
    QTest.mouseClick(window.save_notes, LEFT)
    (track,) = read_tracks(Path(out))
    assert [(note.note, note.start_s) for note in track.notes] == [(36, 1.0), (40, 2.0)]
    (tmp_path / "bad.mid").write_bytes(b"MThd")
    window.take_notes(tmp_path / "bad.mid")
    assert "no notes can be read" in shell.transport.status.toolTip()
    assert window.track.count() == 1
    shell.actions_by_id["undo"].trigger()
    assert shell.session.build.effects == ()


def test_the_pier_s_tune_is_found_wherever_the_program_lies_and_beside_a_saved_build(
    opened: Opened, qtbot: QtBot, tmp_path: Path
) -> None:
    shell = opened(demo_build("pier"), station="Weave")
    qtbot.waitUntil(lambda: shell.session.song.sound is not None)
    assert shell.session.song.path.name == "harbour-waltz.flac"
    soundfile.write(tmp_path / "own.wav", clicks(beat_times(120, 10.0), 10.0), RATE_HZ)
    assert shell.files.save_to(tmp_path / "pier.lantern")
    shell.session.apply("Took a song", partial(change_music, file="own.wav"))
    assert shell.session.song.path == tmp_path / "own.wav"
    qtbot.waitUntil(lambda: shell.session.song.beats is not None)
