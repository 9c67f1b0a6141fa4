"""A frame as the duties of channels: what each output is asked for."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE
from tiny_lantern.light.own import own_luminance
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.show.weave import blocks

Bytes = NDArray[np.uint8]
Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
ON_FROM = 0.5
RGB = {"red": 0, "green": 1, "blue": 2}


def channel_levels(build: Build, channels: Sequence[Channel], frames: Bytes) -> Floats:
    """What channels are asked for, linear: a die its colour's part, a white one beside colours what they have in
    common, any other how bright it is. (n_frames, n_channels) [-]

    Args:
        build: the build.
        channels: the channels.
        frames: linear bytes of all slots, (n_frames, n_slots, 3). [-]
    """
    slots = np.array([build.line.slot_of(channel.slots[0]) for channel in channels], np.int64)
    return _levels(channels, _own_luminance(build, channels), frames[:, slots])


def _levels(channels: Sequence[Channel], own: Floats, frames: Bytes) -> Floats:
    """What channels are asked for by the bytes of their first lights, (n_frames, n_channels, 3)."""
    asked = frames.astype(float) / 255.0
    found = np.minimum(asked @ LUMINANCE / own, 1.0)
    for number, channel in enumerate(channels):
        if channel.die in RGB:
            found[:, number] = asked[:, number, RGB[channel.die]]
        elif channel.die == "white":
            found[:, number] = asked[:, number].min(axis=1)
    return np.asarray(found)


def _own_luminance(build: Build, channels: Sequence[Channel]) -> Floats:
    """The most that a lamp of one colour gives of what is asked in its own hue: a red one asked for red is fully on.
    (n_channels,) [-]"""
    by_part: dict[str, float] = {}
    found = []
    for channel in channels:
        part_id = build.line.piece(channel.slots[0].piece_id).part_id
        if part_id not in by_part:
            by_part[part_id] = own_luminance(build.shelf.find(Part, part_id))
        found.append(by_part[part_id])
    return np.array(found)


def channel_duties(build: Build, driver: Driver, frames: Bytes) -> Floats:
    """The duties of a driver's channels; one that knows on and off only is on from half up. (n_frames, n_channels) [-]

    Args:
        build: the build.
        driver: the driver.
        frames: linear bytes of all slots, (n_frames, n_slots, 3). [-]
    """
    channels = build.channels_of[driver.id]
    return _as_driven(driver, channels, channel_levels(build, channels, frames))


def _as_driven(driver: Driver, channels: Sequence[Channel], levels: Floats) -> Floats:
    if isinstance(driver, HoldRail):
        return (levels > 0).astype(float)
    if driver.on_off:
        return (levels >= ON_FROM).astype(float)
    return np.asarray(levels * np.array([channel.trim for channel in channels]))


def frame_duties_of(build: Build, frame: Bytes) -> dict[str, Floats]:
    """The duties of every driver at one frame, by driver. (n_channels,) each

    Args:
        build: the build.
        frame: linear bytes of all slots, (n_slots, 3). [-]
    """
    return {driver.id: channel_duties(build, driver, frame[None])[0] for driver in build.drivers}


def show_levels(build: Build, channels: Sequence[Channel]) -> Floats:
    """What channels are asked for over the whole show. (n_ticks, n_channels) [-]

    Args:
        build: the build.
        channels: the channels.
    """
    slots = [build.line.slot_of(channel.slots[0]) for channel in channels]
    if not slots:
        return np.zeros((0, 0))
    wanted, at = np.unique(slots, return_inverse=True)
    own = _own_luminance(build, channels)
    return np.concatenate([_levels(channels, own, block[:, at]) for _, block in blocks(build, slots=wanted)])


def duties_of_show(build: Build, driver: Driver) -> Floats:
    """The duties of a driver's channels over the whole show. (n_ticks, n_channels) [-]

    Args:
        build: the build.
        driver: the driver.
    """
    channels = build.channels_of[driver.id]
    return _as_driven(driver, channels, show_levels(build, channels))


def runs_of(on: Bools) -> list[tuple[int, int]]:
    """A channel over the show as intervals: state (1 on) and ticks of each.

    Args:
        on: whether it is on at each tick, (n_ticks,). [-]
    """
    if not len(on):
        return []
    edges = np.flatnonzero(np.diff(on.astype(np.int8))) + 1
    ends = np.concatenate([[0], edges, [len(on)]])
    return [(int(on[start]), int(stop - start)) for start, stop in pairwise(ends)]
