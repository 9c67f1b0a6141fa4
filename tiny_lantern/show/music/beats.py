"""When the beats of a song are: how fast it goes at each moment, then the beats that fit that best."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d, maximum_filter1d, uniform_filter1d

from tiny_lantern.show.music.sound import FRAME_HZ, RATE_HZ, WINDOW, Sound

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
SLOWEST_BPM, FASTEST_BPM, USUAL_BPM, OCTAVES = 55.0, 215.0, 120.0, 1.0
WINDOW_S, STEP_S, TIGHT, CHANGE = 8.0, 0.5, 120.0, 60.0
LATE_S = 0.6 * WINDOW / RATE_HZ  # a rise is seen when the window has come so far over it
STRAIGHT, AS_STRONG, NEAR = 0.5, 0.9, 2
Q = 1e-9


@dataclass(frozen=True, eq=False)
class Beats:
    """The times of the beats, (n_beats,) [s], and how fast they go on the whole. [1/min]"""

    times_s: Floats
    bpm: float


def beats_of(sound: Sound) -> Beats:
    """The beats of a song; none of silence.

    Args:
        sound: the song.
    """
    if sound.silent or len(sound.onset) < 4:
        return Beats(np.zeros(0), 0.0)
    strength = onset_strength(np.asarray(sound.onset, float))
    periods = periods_of(strength)
    found = tracked(strength, periods)
    if twice_as_fast(strength, found):
        found = tracked(strength, periods / 2)
    times = refined(strength, found) / FRAME_HZ + LATE_S
    times = times[(times >= 0) & (times <= sound.length_s)]
    gaps = np.diff(times)
    return Beats(times, float(60 / np.median(gaps)) if len(gaps) else 0.0)


def twice_as_fast(strength: Floats, frames: Ints) -> bool:
    """Whether what lies halfway between beats stands out as much as they do: then it is beats too.

    Args:
        strength: how much stands out in each frame, (n_frames,). [-]
        frames: the beats, (n_beats,). [frames]
    """
    if len(frames) < 3 or 2 * 60 * FRAME_HZ / np.median(np.diff(frames)) > FASTEST_BPM:
        return False
    near = maximum_filter1d(strength, 2 * NEAR + 1)
    between = (frames[:-1] + frames[1:]) // 2
    return bool(np.median(near[between]) >= AS_STRONG * np.median(near[frames]))


def onset_strength(onset: Floats) -> Floats:
    """How much stands out in each frame: less what is usual around it, in units of its spread, smoothed. (n_frames,)

    Args:
        onset: how much begins in each frame, (n_frames,). [-]
    """
    around = max(3, round(0.8 * FRAME_HZ))
    above = np.maximum(onset - uniform_filter1d(onset, around, mode="nearest"), 0.0)
    spread = np.sqrt(uniform_filter1d(above**2, 8 * around, mode="nearest"))
    return np.asarray(gaussian_filter1d(above / np.maximum(spread, 0.05 * spread.max() + Q), 1.0))


def periods_of(strength: Floats) -> Floats:
    """How many frames a beat lasts at each moment: of the autocorrelation of some seconds around it the path that is
    strong and changes little  (1). (n_frames,) [frames]

    Args:
        strength: how much stands out in each frame, (n_frames,). [-]

    Source: a tempogram followed by Viterbi's algorithm; texts on music information retrieval.
    """
    size, step = round(WINDOW_S * FRAME_HZ), round(STEP_S * FRAME_HZ)
    lags = np.unique(np.round(60 * FRAME_HZ / np.geomspace(FASTEST_BPM, SLOWEST_BPM, 120))).astype(np.int64)
    padded = np.pad(strength, size // 2)
    starts = np.arange(0, len(strength), step)
    grid = np.stack([_correlated(padded[start : start + size], lags) for start in starts])
    prior = np.exp(-0.5 * (np.log2(60 * FRAME_HZ / lags / USUAL_BPM) / OCTAVES) ** 2)
    path = _viterbi(np.log(np.maximum(grid * prior, 1e-4)), np.log(lags.astype(float)))
    fine = np.array([_peak(row, lags, at) for row, at in zip(grid, path, strict=True)])
    return np.asarray(np.interp(np.arange(len(strength)), starts, fine))


def _correlated(window: Floats, lags: Ints) -> Floats:
    """The autocorrelation at some lags, each with its double, of 1 at lag 0. (n_lags,)"""
    spectrum = np.fft.rfft(window, 2 * len(window))
    whole = np.fft.irfft(np.abs(spectrum) ** 2)[: len(window)]
    scaled = whole / max(whole[0], Q) * len(window) / np.maximum(len(window) - np.arange(len(window)), 1)
    twice = np.minimum(2 * lags, len(window) - 1)
    wide = np.maximum.reduce([scaled[np.clip(twice + shift, 0, len(window) - 1)] for shift in (-1, 0, 1)])
    return np.asarray(np.maximum(scaled[lags], 0) + STRAIGHT * np.maximum(wide, 0))


def _viterbi(score: Floats, places: Floats) -> Ints:
    """The path of the largest sum of scores less what its changes cost. (n_steps, n_states) to (n_steps,)"""
    cost = CHANGE * np.abs(places[:, None] - places)
    total, back = score[0], np.zeros(score.shape, np.int64)
    for at in range(1, len(score)):
        ways = total[None, :] - cost
        back[at] = ways.argmax(axis=1)
        total = score[at] + ways.max(axis=1)
    path = np.zeros(len(score), np.int64)
    path[-1] = int(total.argmax())
    for at in range(len(score) - 1, 0, -1):
        path[at - 1] = back[at, path[at]]
    return path


def _peak(row: Floats, lags: Ints, at: int) -> float:
    """The lag of a peak between its neighbours, by a parabola. [frames]"""
    if not 0 < at < len(row) - 1:
        return float(lags[at])
    left, middle, right = row[at - 1 : at + 2]
    bend = left - 2 * middle + right
    shift = 0.0 if bend >= 0 else float(np.clip(0.5 * (left - right) / bend, -0.5, 0.5))
    return float(lags[at] + shift * (lags[at + 1] - lags[at - 1]) / 2)


def tracked(strength: Floats, periods: Floats) -> Ints:
    """The frames of the beats: those whose strengths sum to most, less the square of the logarithm of each gap over the
    period there  (1). (n_beats,) [frames]

    Args:
        strength: how much stands out in each frame, (n_frames,). [-]
        periods: how many frames a beat lasts at each, (n_frames,). [frames]

    Source: D. Ellis, Beat tracking by dynamic programming, 2007.
    """
    count = len(strength)
    total, back = strength.copy(), np.full(count, -1, np.int64)
    for at in range(count):
        period = periods[at]
        first, last = at - round(2 * period), at - round(period / 2)
        if last < 0:
            continue
        before = np.arange(max(0, first), last + 1)
        ways = total[before] - TIGHT * np.log((at - before) / period) ** 2  # (1)
        best = int(ways.argmax())
        if ways[best] > 0:
            total[at] = strength[at] + ways[best]
            back[at] = before[best]
    tail = max(0, count - round(1.5 * periods[-1]))
    at = tail + int(total[tail:].argmax())
    found = []
    while at >= 0:
        found.append(at)
        at = int(back[at])
    return np.array(found[::-1], np.int64)


def refined(strength: Floats, frames: Ints) -> Floats:
    """Beats between frames: where a parabola through each peak is highest. (n_beats,) [frames]

    Args:
        strength: how much stands out in each frame, (n_frames,). [-]
        frames: the beats, (n_beats,). [frames]
    """
    inside = np.clip(frames, 1, len(strength) - 2)
    left, middle, right = strength[inside - 1], strength[inside], strength[inside + 1]
    bend = left - 2 * middle + right
    shift = np.where(bend < -Q, 0.5 * (left - right) / np.minimum(bend, -Q), 0.0)
    return np.asarray(inside + np.clip(shift, -0.5, 0.5))
