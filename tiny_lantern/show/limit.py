"""A cap on what the show draws from a supply: a frame that asks for more is dimmed as a whole, in whole numbers.

Each light's byte has a weight, what its colour draws at full; what is always drawn is taken off the cap first. With
``S = Σ weight · byte`` over 255 and ``room`` left, every light on the supply is scaled by ``room / S`` where that is
below one  (1). The code for boards does the very same sum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import read_only
from tiny_lantern.kernel.nodes import ONE

Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
FULL, MICRO = 255, 1e6


@dataclass(frozen=True)
class Load:
    """Lights from ``first`` to before ``stop`` that a supply feeds: what each draws at full red, green, blue and white,
    and what it always draws; ``has_white`` where a white die takes what the three colours have in common. [µA]"""

    first: int
    stop: int
    full_ua: tuple[int, int, int, int]
    always_ua: int
    has_white: bool


@dataclass(frozen=True)
class Cap:
    """What the show may draw from a supply: ``room_ua`` is left of it for light, with what hangs on it. [µA]"""

    supply_id: str
    room_ua: int
    loads: tuple[Load, ...]


def drawn_ua(frames: Bytes, loads: tuple[Load, ...]) -> Ints:
    """What light draws in each frame, without what is always drawn, 255 times. (n_frames,) [µA]

    Args:
        frames: linear bytes of all lights, (n_frames, n_slots, 3). [-]
        loads: the lights that count.
    """
    total = np.zeros(len(frames), np.int64)
    for load in loads:
        sums = np.stack([channel.sum(axis=1, dtype=np.int64) for channel in _channels(frames, load)], axis=1)
        total += sums @ np.array(load.full_ua, np.int64)
    return total


def _channels(frames: Bytes, load: Load) -> list[Bytes]:
    """Red, green, blue and white as a light's own dies have them. (n_frames, n_lights) each"""
    own = frames[:, load.first : load.stop]
    white = own.min(axis=2) if load.has_white else np.zeros(own.shape[:2], np.uint8)
    return [*(own[..., at] - white for at in range(3)), white]


def scales_of(frames: Bytes, caps: tuple[Cap, ...]) -> Ints:
    """By how much each frame is dimmed for each cap. (n_frames, n_caps) [Q16]

    Args:
        frames: linear bytes of all lights, (n_frames, n_slots, 3). [-]
        caps: the caps.
    """
    found = np.full((len(frames), len(caps)), ONE, np.int64)
    for number, cap in enumerate(caps):
        asked = drawn_ua(frames, cap.loads)
        room = cap.room_ua * FULL
        over = asked > room
        found[over, number] = room * ONE // asked[over]  # (1)
    return read_only(found)


def capped(frames: Bytes, slots: Ints, scales: Ints, caps: tuple[Cap, ...]) -> Bytes:
    """Frames dimmed by their scales; each die's byte is rounded down, so that no cap is passed. (n_frames, n_slots, 3)

    Args:
        frames: linear bytes of some lights, (n_frames, n_slots, 3). [-]
        slots: which lights, rising, (n_slots,). [-]
        scales: of each frame and cap, (n_frames, n_caps). [Q16]
        caps: the caps.
    """
    dimmed = np.flatnonzero((scales < ONE).any(axis=1))
    if not len(dimmed):
        return frames
    found = frames.copy()
    for first, stop, white, numbers in _stretches(caps):
        inside = slice(*np.searchsorted(slots, (first, stop)))
        if inside.start == inside.stop:
            continue
        scale = scales[dimmed][:, numbers].min(axis=1)[:, None, None]
        own = frames[dimmed, inside].astype(np.int64)
        common = own.min(axis=2, keepdims=True) * white
        found[dimmed, inside] = ((own - common) * scale >> 16) + (common * scale >> 16)
    return found


def _stretches(caps: tuple[Cap, ...]) -> list[tuple[int, int, bool, list[int]]]:
    """Lights that any cap dims: from, to, whether they have a white die, and the caps."""
    found: dict[tuple[int, int, bool], list[int]] = {}
    for number, cap in enumerate(caps):
        for load in cap.loads:
            found.setdefault((load.first, load.stop, load.has_white), []).append(number)
    return [(first, stop, white, numbers) for (first, stop, white), numbers in found.items()]
