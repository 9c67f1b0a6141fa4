"""Beats of clicks and of drum loops with swing, drift and noise; files of sound, good and bad."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

import numpy as np
import pytest
import soundfile

from tests.support.songs import beat_times, clicks, drums, f_measure, heard
from tiny_lantern.model.edits_music import empty_bars
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.show.music.beats import beats_of
from tiny_lantern.show.music.sound import BANDS_HZ, FRAME_HZ, RATE_HZ, read_sound
from tiny_lantern.ui.files import demo_build


@pytest.mark.parametrize("bpm", [61, 77, 96, 110, 126, 145, 171, 203])
def test_of_clicks_at_least_95_of_100_beats_are_found_within_35_ms(bpm: float) -> None:
    true_s = beat_times(bpm, 40.0)
    beats = beats_of(heard(clicks(true_s, 40.0)))
    assert f_measure(beats.times_s, true_s) >= 0.95
    assert beats.bpm == pytest.approx(bpm, rel=0.02)
    off_s = [found - true_s[np.abs(true_s - found).argmin()] for found in beats.times_s]
    assert abs(np.median(off_s)) < 0.006, "neither late nor early"


@pytest.mark.parametrize("seed", range(12))
def test_of_drum_loops_with_swing_drift_and_noise_at_least_9_of_10_beats_are_found(seed: int) -> None:
    chance = np.random.default_rng(1000 + seed)
    bpm, swing, drift, noise = (chance.uniform(*ends) for ends in ((78, 165), (0, 0.17), (0, 0.06), (0, 0.06)))
    true_s = beat_times(bpm, 60.0, drift)
    beats = beats_of(heard(drums(true_s, 60.0, swing, noise, seed)))
    assert f_measure(beats.times_s, true_s) >= 0.9


def test_of_beats_at_wrong_times_nearly_none_count() -> None:
    true_s = beat_times(120, 40.0)
    assert f_measure(true_s + 0.1, true_s) == 0.0


def test_silence_has_no_beats_and_says_so() -> None:
    silent = heard(np.zeros(5 * RATE_HZ))
    assert silent.silent
    assert len(beats_of(silent).times_s) == 0


@pytest.mark.parametrize(
    ("suffix", "rate_hz"), [(".wav", 44_100), (".flac", 48_000), (".ogg", 22_050), (".wav", 192_000)]
)
def test_a_file_of_any_kind_and_rate_is_heard_alike(suffix: str, rate_hz: int, tmp_path: Path) -> None:
    true_s, path = beat_times(120, 12.0), tmp_path / f"song{suffix}"
    samples = clicks(true_s, 12.0)
    places = np.arange(0, len(samples) - 1, RATE_HZ / rate_hz)
    both = np.stack([np.interp(places, np.arange(len(samples)), samples)] * 2, axis=1)
    soundfile.write(path, both, rate_hz)
    told: list[float] = []
    sound = read_sound(path, told.append)
    assert sound.length_s == pytest.approx(12.0, abs=0.05)
    assert f_measure(beats_of(sound).times_s, true_s) >= 0.95
    assert told[-1] == 1.0
    assert len(sound.outline) == pytest.approx(12.0 * FRAME_HZ, abs=8)


def test_each_band_follows_the_tones_that_lie_in_it() -> None:
    span = np.arange(2 * RATE_HZ) / RATE_HZ
    tones = [60.0, 300.0, 1000.0, 5000.0]
    sound = heard(np.concatenate([0.5 * np.sin(2 * np.pi * tone * span) for tone in tones]))
    loud = sound.bands.reshape(-1, len(BANDS_HZ) - 1)
    for number in range(len(tones)):
        middle = round((2 * number + 1) * FRAME_HZ)
        assert loud[middle].argmax() == number
        assert loud[middle, number] > 0.8


def test_a_file_that_is_none_or_cut_off_or_empty_is_told_with_its_name(tmp_path: Path) -> None:
    nonsense, cut, short = (tmp_path / name for name in ("nonsense.wav", "cut.flac", "short.wav"))
    nonsense.write_bytes(b"RIFF" + bytes(range(200)))
    with pytest.raises(LanternError, match="no sound can be read"):
        read_sound(nonsense)
    with pytest.raises(LanternError, match="no sound can be read"):
        read_sound(tmp_path / "missing.wav")
    soundfile.write(cut, clicks(beat_times(120, 60.0), 60.0), RATE_HZ)
    cut.write_bytes(cut.read_bytes()[:3000])
    with pytest.raises(LanternError, match=r"cut\.flac"):
        read_sound(cut)
    soundfile.write(short, np.zeros(100), RATE_HZ)
    with pytest.raises(LanternError, match="it lasts"):
        read_sound(short)


def test_reading_can_be_stopped_and_a_file_of_many_hours_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "song.wav"
    soundfile.write(path, clicks(beat_times(120, 30.0), 30.0), RATE_HZ)
    with pytest.raises(CancelledError):
        read_sound(path, cancelled=lambda: True)
    soundfile.write(path, np.zeros(12 * 3600 * 8, np.int16), 8)
    with pytest.raises(LanternError, match=r"12\.0 hours"):
        read_sound(path)


def test_the_tune_that_ships_has_its_beats_where_its_drum_was_put_and_the_pier_goes_with_them() -> None:
    sound = read_sound(Path(str(resources.files("tiny_lantern"))) / "demo" / "harbour-waltz.flac")
    true_s = 0.6 + np.arange(132) * 60 / 108
    assert f_measure(beats_of(sound).times_s, true_s) >= 0.99
    music = demo_build("pier").music
    assert music.file == "harbour-waltz.flac"
    assert f_measure(music.marks_s, true_s) >= 0.99
    starts = [music.bar_s(bar)[0] for bar in range(1, music.bar_count + 1)]
    assert 0.3 < 1 - len(empty_bars(demo_build("pier"))) / len(starts) < 0.7, "about half of its bars"
