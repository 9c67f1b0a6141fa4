"""Each look as a pure function of place and time, giving linear RGB."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import linear_of
from tiny_lantern.model.effects import Blink, Breathe, Chase, Fade, Look, Steady, Wheel

Floats = NDArray[np.float64]
HAIR_PX = 1e-6


def look_rgb(look: Look, place: NDArray[np.int64], count: int, time_s: Floats, length_s: float) -> Floats:
    """Linear RGB of a look. (n_frames, n_places, 3) [-]

    Args:
        look: the look with its parameters.
        place: number of each light within the effect, from 0, (n_places,). [-]
        count: lights the effect covers. [-]
        time_s: time since the effect began, (n_frames,). [s]
        length_s: how long the effect lasts. [s]
    """
    return _LOOKS[type(look)](look, place, count, time_s, length_s)


def _same_everywhere(rgb: Floats, place: NDArray[np.int64]) -> Floats:
    return np.broadcast_to(rgb[:, None, :], (len(rgb), len(place), 3))


def _steady(look: Steady, place: Any, count: int, time_s: Floats, length_s: float) -> Floats:
    return _same_everywhere(np.repeat(linear_of(look.colour)[None], len(time_s), axis=0), place)


def _fade(look: Fade, place: Any, count: int, time_s: Floats, length_s: float) -> Floats:
    share = np.clip(time_s / length_s, 0, 1)[:, None]
    return _same_everywhere((1 - share) * linear_of(look.colour) + share * linear_of(look.colour_to), place)


def _breathe(look: Breathe, place: Any, count: int, time_s: Floats, length_s: float) -> Floats:
    wave = 0.5 - 0.5 * np.cos(2 * np.pi * time_s / look.period_s)
    level = look.low + (1 - look.low) * wave
    return _same_everywhere(level[:, None] * linear_of(look.colour), place)


def _blink(look: Blink, place: Any, count: int, time_s: Floats, length_s: float) -> Floats:
    lit = (time_s / look.period_s + 1e-9) % 1.0 < look.duty
    return _same_everywhere(lit[:, None] * linear_of(look.colour), place)


def _chase(look: Chase, place: NDArray[np.int64], count: int, time_s: Floats, length_s: float) -> Floats:
    """How far each light is behind the front of the nearest dash: so many at full, then as many in an even tail."""
    backward = look.speed_px_per_s < 0
    along = (count - 1 - place) if backward else place
    behind = (abs(look.speed_px_per_s) * time_s[:, None] - along[None] + HAIR_PX) % look.spacing_px
    tail = np.clip(1 - (np.floor(behind) - look.length_px + 1) / (look.tail_px + 1), 0, 1)
    level = np.where(behind < look.length_px, 1.0, tail)
    return level[..., None] * linear_of(look.colour)


def _wheel(look: Wheel, place: NDArray[np.int64], count: int, time_s: Floats, length_s: float) -> Floats:
    """Red, green and blue as raised cosines a third of a turn apart, so that their sum never changes."""
    turn = place[None] / count * look.turns - time_s[:, None] / look.period_s
    thirds = np.arange(3) / 3
    return look.level * (0.5 + 0.5 * np.cos(2 * np.pi * (turn[..., None] - thirds)))


_LOOKS: dict[type, Callable[..., Floats]] = {
    Steady: _steady, Fade: _fade, Breathe: _breathe, Blink: _blink, Chase: _chase, Wheel: _wheel,
}  # fmt: skip
