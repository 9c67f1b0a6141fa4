"""A cap on what the show draws from a supply: a frame that asks for more is dimmed as a whole, in whole numbers.

Each light's byte has a weight, what its colour draws at full; what is always drawn is taken off the cap first. With
``S = Σ weight · byte`` over 255 and ``room`` left, every light on the supply is scaled by ``room / S`` where that is
below one  (1). The code for boards does the very same sum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.laws import ramps_of
from tiny_lantern.electrical.memo import memoised_on, read_only
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.electrical.supplies import reaching_supplies
from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.strip import PixelRun

Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
FULL, MICRO = 255, 1e6
COLOURS = ("red", "green", "blue", "white")


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


def loads_on(build: Build, supply_id: str) -> tuple[Load, ...]:
    """The lights that a supply feeds; one that several reach is taken to draw alike from each.

    Args:
        build: the build.
        supply_id: the supply.
    """
    supply = item(build.supplies, supply_id, "supply")
    found = []
    for span in build.line.runs:
        reach = reaching_supplies(build)[span.run.id]
        if supply_id in reach:
            found.append(_load(build, span.run, span.first, supply.set_v, len(reach)))
    return tuple(load for load in found if any(load.full_ua))


def _load(build: Build, run: PixelRun, first: int, set_v: float, shared_by: int) -> Load:
    part = part_of(build, run)
    amps = full_currents_a(part, max(part.nominal_v, set_v))
    ua = {name: -int(-amps_of * MICRO // shared_by) for name, amps_of in amps.items()}  # rounded up
    red, green, blue, white = (ua.get(colour, 0) for colour in COLOURS)
    full = red, green, blue, white
    always = -int(-part.pixel.quiescent_a * MICRO // shared_by)
    return Load(first, first + run.pixel_count, full, always, "W" in run.colour_order)


def full_currents_a(part: StripPart, v: float) -> dict[str, float]:
    """What each channel of a pixel draws at full duty at a voltage, by its name. [A]

    Args:
        part: the strip.
        v: the voltage. [V]
    """
    start, width, slope = ramps_of(part.pixel)
    amps = np.clip(v - start[1:], 0, width[1:]) * slope[1:]
    return dict(zip((channel.name for channel in part.pixel.channels), amps.tolist(), strict=True))


@memoised_on("pieces", "joints", "buses", "supplies", "feeds", "parts", "boards", "drivers", "channels", "rails")
def caps_of(build: Build) -> tuple[Cap, ...]:
    """The caps of a build's supplies that have one; none of supplies that feed no strip."""
    capped = [supply for supply in build.supplies if supply.show_cap_a is not None]
    if not capped:
        return ()
    beside_a = lamp_loads_a(build, solve_drive(build))
    found = []
    for supply in capped:
        loads = loads_on(build, supply.id)
        assert supply.show_cap_a is not None
        always = sum(load.always_ua * (load.stop - load.first) for load in loads)
        room = int((supply.show_cap_a - beside_a[supply.id]) * MICRO) - always
        if loads:
            found.append(Cap(supply.id, max(0, room), loads))
    return tuple(found)


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
