"""Scenes as frames: which scene an effect belongs to, until when it is seen, and how far a scene has faded in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.kernel.nodes import HALF, ONE
from tiny_lantern.model.build import Build
from tiny_lantern.model.effects import Effect

Ints = NDArray[np.int64]
Light = NDArray[Any]


@dataclass(frozen=True)
class Window:
    """A scene: the frame that it begins with, and for how many frames it fades in."""

    begin: int
    fade: int


@memoised_on("scenes", "tick_hz")
def windows_of(build: Build) -> tuple[Window, ...]:
    """The scenes of a build as frames, in order; the first begins with the show. None where there are no scenes."""
    if not build.scenes:
        return ()
    starts = build.timeline.nearest(np.array([scene.start_s for scene in build.scenes]))
    starts[0] = 0
    fades = build.timeline.nearest(np.array([scene.fade_s for scene in build.scenes]))
    room = np.append(np.diff(starts), np.iinfo(np.int64).max)
    return tuple(
        Window(int(begin), int(min(fade, most))) for begin, fade, most in zip(starts, fades, room, strict=True)
    )


def scenes_of(windows: tuple[Window, ...], begins: Ints) -> Ints:
    """The number of the scene that each effect belongs to. (n_effects,) to (n_effects,) [-]

    Args:
        windows: the scenes.
        begins: the frame that each effect begins with, (n_effects,). [-]
    """
    if not windows:
        return np.zeros(len(begins), np.int64)
    return np.maximum(0, np.searchsorted([window.begin for window in windows], begins, side="right") - 1)


def seen_until(windows: tuple[Window, ...], effects: tuple[Effect, ...], begins: Ints, ends: Ints) -> Ints:
    """The frame after the last in which each effect may be seen: one that lasts up to the next scene goes on while that
    fades in, unless it is played backward, which has no more to play. (n_effects,) [-]

    Args:
        windows: the scenes.
        effects: the effects.
        begins: the frame that each begins with, (n_effects,). [-]
        ends: the one after its last, (n_effects,). [-]
    """
    if len(windows) < 2:
        return ends
    after = scenes_of(windows, begins) + 1
    next_begin = np.array([*(window.begin for window in windows), np.iinfo(np.int64).max])[after]
    next_over = np.array([*(window.begin + window.fade for window in windows), 0])[after]
    forward = np.array([not effect.backward for effect in effects], bool)
    return np.where((ends >= next_begin) & forward, np.maximum(ends, next_over), ends)


def share_at(window: Window, ticks: Ints) -> Ints:
    """How far a scene has faded in at some frames, 0 before it begins. (n_ticks,) to (n_ticks,) [Q16]

    Args:
        window: the scene.
        ticks: frames of the show, (n_ticks,). [-]
    """
    gone = np.asarray(ticks) - window.begin
    if not window.fade:
        return np.where(gone >= 0, ONE, 0)
    share: Ints = np.clip(gone, 0, window.fade) * ONE // window.fade
    return share


def faded(below: Light, above: Light, share: Ints) -> Light:
    """The scenes so far with the next one as far as it has faded in. (3, n_ticks, n_slots)

    Args:
        below: the scenes so far, (3, n_ticks, n_slots), 65536 for full. [-]
        above: the next one, (3, n_ticks, n_slots). [-]
        share: how far it has faded in at each frame, (n_ticks,). [Q16]
    """
    part = share[None, :, None]
    both: Ints = np.asarray(below * (ONE - part) + above * part + HALF, np.int64)
    return both >> 16
