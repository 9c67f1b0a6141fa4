"""Songs that tests make: clicks and drum loops with swing, a tempo that drifts, and noise; and how well beats are
found."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.show.music.sound import RATE_HZ, Sound, sound_of

Floats = NDArray[np.float64]


def beat_times(bpm: float, length_s: float, drift: float = 0.0, first_s: float = 0.4) -> Floats:
    """When the beats are; the tempo goes up and down by a share within half a minute. [s]"""
    times, at = [], first_s
    while at < length_s - 0.2:
        times.append(at)
        at += 60 / bpm * (1 - drift * np.sin(2 * np.pi * at / 30))
    return np.array(times)


def clicks(times_s: Floats, length_s: float, pitch_hz: float = 1200.0) -> Floats:
    """A click at each time. (n_samples,)"""
    samples = np.zeros(round(length_s * RATE_HZ))
    span = np.arange(round(0.02 * RATE_HZ)) / RATE_HZ
    click = np.sin(2 * np.pi * pitch_hz * span) * np.exp(-span / 0.004)
    for time_s in times_s:
        _add(samples, time_s, 0.8 * click)
    return samples


def drums(beats_s: Floats, length_s: float, swing: float, noise: float, seed: int) -> Floats:
    """Kick and snare in turns on the beats, hats between them as late as the swing says, and hiss. (n_samples,)"""
    chance = np.random.default_rng(seed)
    samples = noise * chance.standard_normal(round(length_s * RATE_HZ))
    span = np.arange(round(0.15 * RATE_HZ)) / RATE_HZ
    kick = np.sin(2 * np.pi * (55 * span + 3 * np.exp(-span / 0.03))) * np.exp(-span / 0.05)
    snare = (0.6 * chance.standard_normal(len(span)) + np.sin(2 * np.pi * 190 * span)) * np.exp(-span / 0.035)
    hat = chance.standard_normal(len(span)) * np.exp(-span / 0.012)
    for number, (time_s, gap_s) in enumerate(zip(beats_s, np.diff(beats_s, append=beats_s[-1] + 0.5), strict=True)):
        _add(samples, time_s, 0.7 * (kick, snare)[number % 2])
        _add(samples, time_s, 0.15 * hat)
        _add(samples, time_s + gap_s * (0.5 + swing), 0.25 * hat)
        if number % 8 == 6:
            _add(samples, time_s + 0.75 * gap_s, 0.4 * kick)
    return samples


def _add(samples: Floats, time_s: float, sound: Floats) -> None:
    at = round(time_s * RATE_HZ)
    part = samples[at : at + len(sound)]
    part += sound[: len(part)]


def heard(samples: Floats) -> Sound:
    """The song that samples make."""
    return sound_of("song", RATE_HZ, iter([samples.astype(np.float32)]))


def f_measure(found_s: Floats, true_s: Floats, within_s: float = 0.035) -> float:
    """How well beats were found: each true one counts once, as does each found. [-]"""
    left, hits = list(found_s), 0
    for time_s in true_s:
        near = [each for each in left if abs(each - time_s) <= within_s]
        if near:
            left.remove(min(near, key=lambda each: abs(each - time_s)))
            hits += 1
    return 2 * hits / max(1, len(found_s) + len(true_s))
