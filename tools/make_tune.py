"""Makes the tune that ships with the pier: a slow waltz of an organ and a drum, as sound and as notes.

Run by hand: ``.venv/bin/python tools/make_tune.py``.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import soundfile

from tiny_lantern.show.music.notes import Note, save_notes

DEMOS = Path(__file__).parents[1] / "tiny_lantern" / "demo"
RATE_HZ, BPM, BARS, PER_BAR, FIRST_S = 16_000, 108.0, 44, 3, 0.6
ROOTS = (48, 53, 55, 48, 45, 50, 55, 48)
TUNE = (
    (72, 76, 79), (77, 81, 77), (74, 79, 71), (72, 72, 67), (69, 72, 76), (74, 77, 81), (79, 77, 74), (72, 67, 64),
)  # fmt: skip


def notes() -> tuple[list[Note], list[Note]]:
    """The organ's notes and the drum's: bar after bar, the last of every eight thinner."""
    beat_s = 60 / BPM
    organ, drum = [], []
    for bar in range(BARS):
        begin_s = FIRST_S + bar * PER_BAR * beat_s
        organ.append(Note(ROOTS[bar % 8], 70, begin_s, 2.8 * beat_s))
        for beat, pitch in enumerate(TUNE[(bar + bar // 8) % 8]):
            if bar % 8 != 7 or beat == 0:
                organ.append(Note(pitch, 90 - 10 * (beat > 0), begin_s + beat * beat_s, 0.9 * beat_s))
            drum.append(Note(36 if beat == 0 else 42, 100 - 30 * (beat > 0), begin_s + beat * beat_s, 0.1))
    return organ, drum


def sound(organ: list[Note], drum: list[Note]) -> np.ndarray:
    """Both as samples. (n_samples,)"""
    end_s = max(note.start_s + note.length_s for note in organ) + 0.5
    samples = np.zeros(round(end_s * RATE_HZ))
    for note in organ:
        span = np.arange(round(note.length_s * RATE_HZ)) / RATE_HZ
        pitch_hz = 440 * 2 ** ((note.note - 69) / 12)
        pipe = sum(np.sin(2 * np.pi * pitch_hz * part * span) / part**1.5 for part in (1, 2, 3))
        swell = np.minimum(1, span / 0.03) * np.minimum(1, (note.length_s - span) / 0.08)
        _add(samples, note.start_s, 0.09 * note.velocity / 127 * pipe * swell)
    chance = np.random.default_rng(7)
    for note in drum:
        span = np.arange(round(0.12 * RATE_HZ)) / RATE_HZ
        low = note.note == 36
        body = np.sin(2 * np.pi * (70 * span + np.exp(-span / 0.02))) if low else chance.standard_normal(len(span))
        _add(samples, note.start_s, (0.5 if low else 0.12) * body * np.exp(-span / (0.04 if low else 0.012)))
    return samples / np.abs(samples).max() * 0.8


def _add(samples: np.ndarray, time_s: float, piece: np.ndarray) -> None:
    at = round(time_s * RATE_HZ)
    part = samples[at : at + len(piece)]
    part += piece[: len(part)]


def main() -> None:
    """Write both."""
    organ, drum = notes()
    soundfile.write(DEMOS / "harbour-waltz.flac", sound(organ, drum), RATE_HZ, subtype="PCM_16")
    save_notes(organ, DEMOS / "harbour-waltz.mid", "Organ")
    print((DEMOS / "harbour-waltz.flac").stat().st_size, "bytes,", len(organ), "notes")


if __name__ == "__main__":
    main()
