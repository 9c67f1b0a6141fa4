"""The weave: what every light does at every tick, as bytes of linear light."""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect
from tiny_lantern.show.looks import look_rgb

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
BLOCK_TICKS = 64
HALF = 0.5 + 1e-9


def tick_count(build: Build) -> int:
    """Frames in the whole show."""
    return max(1, round(build.show_s * build.tick_hz))


def tick_at(build: Build, time_s: float) -> int:
    """The frame on show at a time, kept inside the show."""
    return max(0, min(int(time_s * build.tick_hz + 1e-6), tick_count(build) - 1))


def render(build: Build, ticks: Ints, slots: Ints | None = None) -> Bytes:
    """Frames at some ticks. (n_ticks, n_slots, 3), linear red, green, blue, 0 to 255

    Args:
        build: the build.
        ticks: frame numbers, never falling, (n_ticks,). [-]
        slots: the slots wanted, rising, all of them when None. [-]
    """
    wanted = np.arange(build.line.slot_count) if slots is None else slots
    laid = np.zeros((len(ticks), len(wanted), 3))
    for effect in build.effects:
        first_tick, stop_tick = effect_ticks(effect, build.tick_hz)
        begin, end = bisect_left(ticks, first_tick), bisect_left(ticks, stop_tick)
        if begin < end:
            since = (np.asarray(ticks[begin:end]) - first_tick) / build.tick_hz
            _lay(effect, build.line.covered(effect), since, wanted, laid[begin:end])
    return np.round(np.clip(laid, 0, 1) * 255).astype(np.uint8)


def blocks(build: Build, size: int = BLOCK_TICKS) -> Iterator[tuple[int, Bytes]]:
    """The whole show, some ticks at a time, with the number of the first tick of each block."""
    total = tick_count(build)
    for first in range(0, total, size):
        yield first, render(build, np.arange(first, min(first + size, total)))


def effect_ticks(effect: Effect, tick_hz: float) -> tuple[int, int]:
    """The first frame of an effect and the one after its last: the ones nearest to its start and end, at least one.

    Args:
        effect: the effect.
        tick_hz: frames a second. [Hz]
    """
    begin = math.floor(effect.start_s * tick_hz + HALF)
    return begin, max(begin + 1, math.floor((effect.start_s + effect.length_s) * tick_hz + HALF))


def _lay(effect: Effect, covers: tuple[int, int], since_s: Floats, slots: Ints, laid: Floats) -> None:
    first, stop = covers
    low, high = np.searchsorted(slots, covers)
    if low < high:
        rgb = look_rgb(effect.look, slots[low:high] - first, stop - first, since_s, effect.length_s)
        laid[:, low:high] = layered(laid[:, low:high], rgb, effect.layer)


def layered(below: Floats, above: Floats, layer: str) -> Floats:
    """One effect laid on what is below it, any equal shapes. [-]"""
    if layer == "add":
        return np.minimum(below + above, 1.0)
    if layer == "lighten":
        return np.maximum(below, above)
    if layer == "dim":
        return below * above
    return above
