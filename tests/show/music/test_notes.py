"""Notes read from files, laid on lamps, and written from what lamps do."""

from __future__ import annotations

from pathlib import Path

import mido
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.support.builds import one_strip
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import change_build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.plans.lay_notes import lay_notes
from tiny_lantern.show.music.notes import Note, Track, lamp_of, notes_of, read_tracks, save_notes
from tiny_lantern.show.weave import render


def a_file(path: Path, messages: list[mido.Message], per_beat: int = 100) -> Path:
    """A file of a tempo track and one with messages."""
    tempo = mido.MidiTrack([mido.MetaMessage("set_tempo", tempo=600_000, time=0),
                            mido.MetaMessage("set_tempo", tempo=300_000, time=200)])  # fmt: skip
    named = mido.MidiTrack([mido.MetaMessage("track_name", name="Lead", time=0), *messages])
    mido.MidiFile(type=1, ticks_per_beat=per_beat, tracks=[tempo, named]).save(path)
    return path


def lamps(show_s: float = 4.0) -> Build:
    """Eight pixels."""
    return change_build(one_strip(8), show_s=show_s)


def test_notes_come_in_seconds_by_the_tempo_of_all_tracks(tmp_path: Path) -> None:
    path = a_file(tmp_path / "tune.mid", [
        mido.Message("note_on", note=60, velocity=100, time=100),
        mido.Message("note_off", note=60, time=50),
        mido.Message("note_on", note=64, velocity=90, time=100),  # its beat goes twice as fast from tick 200 on
        mido.Message("note_on", note=64, velocity=0, time=100),
        mido.Message("note_on", note=67, velocity=1, time=0),
    ])  # fmt: skip
    (track,) = read_tracks(path)
    assert track.name == "Lead"
    assert [(note.note, note.velocity) for note in track.notes] == [(60, 100), (64, 90), (67, 1)]
    assert [note.start_s for note in track.notes] == pytest.approx([0.6, 1.35, 1.65])
    assert [note.length_s for note in track.notes] == pytest.approx([0.3, 0.3, 0.025])


@pytest.mark.parametrize(("notes", "count", "lamps_of"), [
    ((60, 62, 67), 8, [0, 2, 7]), ((36, 60, 84), 8, [0, 1, 2]), ((36, 48, 60, 72), 3, [0, 1, 2, 0]),
])  # fmt: skip
def test_a_track_is_moved_into_the_range_of_the_lamps(notes: tuple[int, ...], count: int, lamps_of: list[int]) -> None:
    track = Track("t", tuple(Note(note, 100, 0.0, 1.0) for note in notes))
    assert [lamp_of(note, track, count) for note in notes] == lamps_of


def test_a_track_is_laid_note_by_note_and_read_back_from_the_light(tmp_path: Path) -> None:
    tune = (Note(60, 127, 0.5, 0.5), Note(63, 127, 1.0, 0.25), Note(60, 127, 1.5, 0.5), Note(72, 127, 99.0, 1.0))
    build = lay_notes(lamps(), Track("Tune", tune[:3] + tune[3:]), "steady", 2, 5)
    assert [effect.first.index for effect in build.effects] == [2, 3, 2]
    frame = render(build, np.array([45]))[0]
    assert [int(light.max() > 0) for light in frame] == [0, 0, 0, 1, 0, 0, 0, 0]
    again = notes_of(build, 2, 5, base=40)
    assert [(note.note, note.start_s, note.length_s) for note in again] == [
        (40, 0.5, 0.5), (41, 1.0, 0.25), (40, 1.5, 0.5)]  # fmt: skip
    save_notes(again, tmp_path / "out.mid", "Deck")
    (track,) = read_tracks(tmp_path / "out.mid")
    assert track.name == "Deck"
    assert [(note.note, round(note.start_s, 3), round(note.length_s, 3)) for note in track.notes] == [
        (40, 0.5, 0.5), (41, 1.0, 0.25), (40, 1.5, 0.5)]  # fmt: skip


def test_what_cannot_be_laid_or_read_is_told(tmp_path: Path) -> None:
    late = Track("Late", (Note(60, 100, 50.0, 1.0),))
    with pytest.raises(LanternError, match="lies in the show"):
        lay_notes(lamps(), late, "steady", 0, 7)
    assert len(lay_notes(lamps(), late, "steady", 0, 7, shift_s=-49.0).effects) == 1
    with pytest.raises(LanternError, match="from note 125 on"):
        notes_of(lamps(), 0, 7, base=125)
    cut = b"MThd\0\0\0\6\0\1\0\1\0\x60MTrk\0\0\1\0\x90"
    for name, data in (("nonsense.mid", b"nothing"), ("cut.mid", cut), ("empty.mid", b"")):
        (tmp_path / name).write_bytes(data)
        with pytest.raises(LanternError, match=name):
            read_tracks(tmp_path / name)
    with pytest.raises(LanternError, match=r"gone\.mid"):
        read_tracks(tmp_path / "gone.mid")
    with pytest.raises(LanternError, match="no notes"):
        read_tracks(a_file(tmp_path / "silent.mid", []))


@given(st.data())
def test_a_file_that_was_damaged_is_read_or_refused_and_nothing_else(
    tmp_path_factory: pytest.TempPathFactory, data: st.DataObject
) -> None:
    path = tmp_path_factory.mktemp("damaged") / "tune.mid"
    save_notes((Note(60, 100, 0.5, 0.5), Note(62, 90, 1.0, 0.5)), path)
    damaged = bytearray(path.read_bytes())
    for _ in range(data.draw(st.integers(1, 6))):
        damaged[data.draw(st.integers(0, len(damaged) - 1))] = data.draw(st.integers(0, 255))
    path.write_bytes(bytes(damaged[: data.draw(st.integers(1, len(damaged)))]))
    try:
        tracks = read_tracks(path)
    except LanternError as error:
        assert "tune.mid" in str(error)
    else:
        assert all(0 <= note.note < 128 and note.length_s > 0 for track in tracks for note in track.notes)
