"""Flashing that can harm: more than three flashes in any one second."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE

Floats = NDArray[np.float64]
MOST_FLASHES = 3
GENERAL_STEP = 0.10
DARKER_BELOW = 0.80
RED_STEP = 20 / 320
RED_SHARE = 0.8


@dataclass(frozen=True)
class FlashRun:
    """The worst second of a show: where it begins, the slot, how many flashes, and of which sort."""

    start_s: float
    slot: int
    flashes: int
    red: bool


class FlashMeter:
    """Counts flashes of every slot, block of frames by block of frames.

    A flash is a pair of opposing changes of relative luminance of at least 0.10 whose darker state is below 0.80;
    the red variant takes changes of ``R − G − B`` of more than 20/320 with a saturated red at either end. The area
    condition of the guideline is left out, which errs to the safe side.

    Source: WCAG 2.2, success criterion 2.3.1 and its definition of general and red flash thresholds.
    """

    def __init__(self, slots: int, tick_hz: float) -> None:
        self._tick_hz = tick_hz
        self._window = max(1, round(tick_hz))
        self._tick = 0
        self._general = _Changes(slots)
        self._red = _Changes(slots)
        self._worst: dict[bool, FlashRun] = {}
        self._recent = {red: np.zeros((self._window, slots), np.int16) for red in (False, True)}

    def feed(self, rgb: Floats) -> None:
        """Take the next frames, linear RGB (n_frames, n_slots, 3), 0 to 1."""
        luminance = rgb @ LUMINANCE
        total = rgb.sum(axis=2)
        redness = np.maximum(rgb[..., 0] - rgb[..., 1] - rgb[..., 2], 0)
        saturated = rgb[..., 0] >= RED_SHARE * np.maximum(total, 1e-9)
        for now, red, full in zip(luminance, redness, saturated, strict=True):
            self._count(False, self._general.step(now, GENERAL_STEP, now >= 0, DARKER_BELOW))
            self._count(True, self._red.step(red, RED_STEP, full, np.inf))
            self._tick += 1

    def worst(self) -> list[FlashRun]:
        """The worst second of each sort that has more than three flashes."""
        return [run for run in self._worst.values() if run.flashes > MOST_FLASHES]

    def _count(self, red: bool, changed: NDArray[np.bool_]) -> None:
        ring = self._recent[red]
        ring[self._tick % self._window] = changed
        if not changed.any():
            return
        flashes = ring.sum(axis=0) // 2
        slot = int(flashes.argmax())
        best = self._worst.get(red)
        if best is None or flashes[slot] > best.flashes:
            start = max(0.0, (self._tick + 1 - self._window) / self._tick_hz)
            self._worst[red] = FlashRun(start, slot, int(flashes[slot]), red)


class _Changes:
    """Follows each slot's last extreme and tells when it has turned back by enough."""

    def __init__(self, slots: int) -> None:
        self._extreme = np.zeros(slots)
        self._saturated = np.zeros(slots, bool)
        self._rising = np.zeros(slots, bool)
        self._started = False

    def step(self, now: Floats, least: float, counts: NDArray[np.bool_], darker_below: float) -> NDArray[np.bool_]:
        if not self._started:
            self._extreme, self._saturated, self._started = now.copy(), counts.copy(), True
            return np.zeros(len(now), bool)
        move = now - self._extreme
        onward = np.where(self._rising, move > 0, move < 0)
        back = np.abs(move) >= least - 1e-9
        turned = back & ~onward & (np.minimum(now, self._extreme) < darker_below)
        turned &= counts | self._saturated
        follow = onward | turned
        self._rising = np.where(turned, move > 0, self._rising)
        self._saturated = np.where(follow, counts, self._saturated)
        self._extreme = np.where(follow, now, self._extreme)
        return turned
