"""Flashing that can harm: more than three flashes in any one second."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE, uv_of, xyz_from_linear
from tiny_lantern.light.lamps import lamp_luminance

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
MOST_FLASHES = 3
GENERAL_STEP = 0.10
DARKER_BELOW = 0.80
RED_UV_STEP = 0.2
RED_SHARE = 0.8
HAIR = 1e-9


@dataclass(frozen=True)
class FlashRun:
    """The worst second of a show: where it begins, the slot, how many flashes, and of which sort."""

    start_s: float
    slot: int
    flashes: int
    red: bool


class FlashMeter:
    """Counts flashes of every slot, block of frames by block of frames.

    A flash is a pair of opposing changes of relative luminance of at least 0.10 whose darker state is below 0.80,
    the first change from a lit start included. Luminance is taken twice, as a screen shows the colour and as the lamp's
    own primaries make it; the worse of both counts. The red variant takes changes of more than 0.2 in the u′v′ plane
    to or from a state with ``R/(R + G + B)`` of 0.8 or more; a state without light stands at the plane's origin, which
    errs to the safe side, as does leaving out the guideline's condition on area.

    Source: WCAG 2.2, success criterion 2.3.1 and its definition of general and red flash thresholds.

    Args:
        weights: what makes each light's luminance, (n_slots, 4), see ``luminance_weights``. [-]
        tick_hz: frames a second. [Hz]
    """

    def __init__(self, weights: Floats, tick_hz: float) -> None:
        self._weights, self._tick_hz = weights, tick_hz
        self._window = window_of(tick_hz)
        self._tick = 0
        self._general, self._red = Changes(general_change), Changes(red_change)
        self._recent = {False: np.zeros((self._window, 2 * len(weights)), np.int16),
                        True: np.zeros((self._window, len(weights)), np.int16)}  # fmt: skip
        self._worst: dict[bool, FlashRun] = {}
        self._before: Floats | None = None

    def feed(self, rgb: Floats) -> None:
        """Take the next frames, linear RGB (n_frames, n_slots, 3), 0 to 1.

        Args:
            rgb: linear red, green and blue, 0 to 1, (n_frames, n_slots, 3). [-]
        """
        luminance = np.hstack([rgb @ LUMINANCE, lamp_luminance(rgb, self._weights)])
        total = rgb.sum(axis=2)
        share = np.where(total > 0, rgb[..., 0] / np.maximum(total, HAIR), 0.0)
        red = np.dstack([share, uv_of(xyz_from_linear(rgb))])
        for at, differs in enumerate(self._differing(rgb)):
            if differs:
                self._count(False, self._general.step(luminance[at], luminance[at, :, None]))
                self._count(True, self._red.step(share[at], red[at]))
            else:
                self._rest()
            self._tick += 1

    def _differing(self, rgb: Floats) -> Bools:
        """Which frames are not the one before them again; such a one changes nothing. (n_frames,)"""
        before = rgb[:1] - 1 if self._before is None else self._before
        self._before = rgb[-1:].copy() if len(rgb) else before
        return np.asarray((np.concatenate([before, rgb[:-1]]) != rgb).any(axis=(1, 2)))

    def _rest(self) -> None:
        for ring in self._recent.values():
            ring[self._tick % self._window] = 0

    def worst(self) -> list[FlashRun]:
        """The worst second of each sort that has more than three flashes."""
        return [run for run in self._worst.values() if run.flashes > MOST_FLASHES]

    def _count(self, red: bool, changed: Bools) -> None:
        ring = self._recent[red]
        ring[self._tick % self._window] = changed
        if not changed.any():
            return
        flashes = ring.sum(axis=0) // 2
        at = int(flashes.argmax())
        best = self._worst.get(red)
        if best is None or flashes[at] > best.flashes:
            start = max(0.0, (self._tick + 1 - self._window) / self._tick_hz)
            self._worst[red] = FlashRun(start, at % len(self._weights), int(flashes[at]), red)


def window_of(tick_hz: float) -> int:
    """Frames in one second, at least one. [-]

    Args:
        tick_hz: frames a second. [Hz]
    """
    return max(1, int(np.ceil(tick_hz - HAIR)))


def general_change(before: Floats, after: Floats) -> Bools:
    """Whether luminances, (n_slots, 1) each, differ by a general flash's step. (n_slots,)

    Args:
        before: luminances, (n_slots, 1). [-]
        after: luminances, (n_slots, 1). [-]
    """
    one, other = before[:, 0], after[:, 0]
    return (np.abs(one - other) >= GENERAL_STEP - HAIR) & (np.minimum(one, other) < DARKER_BELOW)


def red_change(before: Floats, after: Floats) -> Bools:
    """Whether red shares with their u′ and v′, (n_slots, 3) each, differ by a red flash's step. (n_slots,)

    Args:
        before: red shares with u′ and v′, (n_slots, 3). [-]
        after: red shares with u′ and v′, (n_slots, 3). [-]
    """
    saturated = np.maximum(before[:, 0], after[:, 0]) >= RED_SHARE - HAIR
    return np.asarray(saturated & (np.hypot(*(before[:, 1:] - after[:, 1:]).T) > RED_UV_STEP))


class Changes:
    """Follows each slot's last extreme and tells when it has turned back by enough.

    Before the first change both the lowest and the highest state so far are kept, since either way would be one.

    Args:
        counts: whether states before and after, (n_slots, n_fields) each, are a change that counts.
    """

    def __init__(self, counts: Callable[[Floats, Floats], Bools]) -> None:
        self._counts = counts
        self._low: Floats | None = None

    def step(self, level: Floats, state: Floats) -> Bools:
        """Take the next state of each slot, (n_slots, n_fields), ordered by its level, (n_slots,); which ones
        changed.

        Args:
            level: what the states are ordered by, (n_slots,). [-]
            state: the states, (n_slots, n_fields). [-]
        """
        if self._low is None:
            self._low, self._high = level.copy(), level.copy()
            self._low_state, self._high_state = state.copy(), state.copy()
            self._rising, self._falling = np.zeros(len(level), bool), np.zeros(len(level), bool)
            return np.zeros(len(level), bool)
        up = (level > self._low) & ~self._rising & self._counts(self._low_state, state)
        down = (level < self._high) & ~self._falling & self._counts(self._high_state, state) & ~up
        self._rising, self._falling = (self._rising & ~down) | up, (self._falling & ~up) | down
        turned = up | down
        higher, lower = (level >= self._high) | turned, (level <= self._low) | turned
        self._high, self._low = np.where(higher, level, self._high), np.where(lower, level, self._low)
        self._high_state = np.where(higher[:, None], state, self._high_state)
        self._low_state = np.where(lower[:, None], state, self._low_state)
        return turned
