"""Levels of driven channels in whole numbers, as the code for boards works them out: 0 to 65535.

A colour die takes its own part of a light, a white one what the three colours have in common, any other what the light
is luminous beside its own hue. What knows on and off only is on from half up; a lamp on a holding rail at any light.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.kernel.nodes import ONE
from tiny_lantern.light.colour import LUMINANCE
from tiny_lantern.light.own import own_luminance
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.ways.hold import HoldRail

Bytes = NDArray[np.uint8]
Ints = NDArray[np.int64]
FULL_LEVEL, HALF_LEVEL, FULL_BYTE = 65_535, 32_768, 255
DIES = {"red": (ONE, 0, 0), "green": (0, ONE, 0), "blue": (0, 0, ONE)}
Sort = Literal["dims", "switches", "holds"]


@dataclass(frozen=True)
class Level:
    """How a channel's level comes about: the light it follows, what each colour counts for, all zero for a white die
    beside colours; what its driver makes of it, and the duty that full means. [Q16]"""

    channel: Channel
    slot: int
    weights: tuple[int, int, int]
    sort: Sort
    trim: int


def levels_of(build: Build, driver: Driver) -> tuple[Level, ...]:
    """How the levels of a driver's channels come about, in the order of its outputs.

    Args:
        build: the build.
        driver: the driver.
    """
    sort: Sort = "holds" if isinstance(driver, HoldRail) else "switches" if driver.on_off else "dims"
    return tuple(
        Level(channel, build.line.slot_of(channel.slots[0]), _weights(build, channel), sort, round(channel.trim * ONE))
        for channel in build.channels_of[driver.id]
    )


def _weights(build: Build, channel: Channel) -> tuple[int, int, int]:
    if channel.die == "white":
        return 0, 0, 0
    if channel.die in DIES:
        return DIES[channel.die]
    own = own_luminance(build.shelf.find(Part, build.line.piece(channel.slots[0].piece_id).part_id))
    red, green, blue = (round(share / own * ONE) for share in LUMINANCE.tolist())
    return red, green, blue


def levels_at(levels: tuple[Level, ...], frames: Bytes) -> Ints:
    """The levels at some frames. (n_frames, n_channels) [-]

    Args:
        levels: how each comes about.
        frames: linear bytes of all lights, (n_frames, n_slots, 3). [-]
    """
    found = np.zeros((len(frames), len(levels)), np.int64)
    for number, level in enumerate(levels):
        light = frames[:, level.slot].astype(np.int64)
        asked = light @ np.array(level.weights) if any(level.weights) else light.min(axis=1) * ONE
        value = np.minimum((asked + FULL_BYTE // 2) // FULL_BYTE, FULL_LEVEL)
        if level.sort == "dims":
            found[:, number] = value * level.trim >> 16
        else:
            least = HALF_LEVEL if level.sort == "switches" else 1
            found[:, number] = np.where(value >= least, FULL_LEVEL, 0)
    return found
