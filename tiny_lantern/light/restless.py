"""Which lights change so much that they may flash too often: a quick bound before flashes are counted one by one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE, uv_of, xyz_from_linear
from tiny_lantern.light.flash import GENERAL_STEP, HAIR, MOST_FLASHES, RED_SHARE, RED_UV_STEP, window_of
from tiny_lantern.light.lamps import lamp_luminance

Floats = NDArray[np.float64]
LEAST_CHANGES = 2 * (MOST_FLASHES + 1)


class Restless:
    """Follows how far each light travels in luminance, and in colour while it is a saturated red.

    More than three flashes are at least eight opposing changes in one second. All but the first of them are whole
    within that second, so a light must have travelled seven steps in it; whatever travels less cannot flash too often.

    Args:
        weights: what makes each light's luminance, (n_slots, 4), see ``luminance_weights``. [-]
        tick_hz: frames a second. [Hz]
    """

    def __init__(self, weights: Floats, tick_hz: float) -> None:
        self._weights, self._window = weights, window_of(tick_hz)
        self._screen, self._lamp, self._colour = (Travel(self._window, len(weights)) for _ in range(3))
        self._was_red = np.zeros(len(weights), bool)
        self._found = np.zeros(len(weights), bool)

    def feed(self, rgb: Floats) -> None:
        """Take the next frames, linear RGB (n_frames, n_slots, 3), 0 to 1.

        Args:
            rgb: linear red, green and blue, 0 to 1, (n_frames, n_slots, 3). [-]
        """
        enough = (LEAST_CHANGES - 1) * GENERAL_STEP - HAIR * 100
        for travel, level in ((self._screen, rgb @ LUMINANCE), (self._lamp, lamp_luminance(rgb, self._weights))):
            self._found |= travel.longest(level[..., None]) >= enough
        red = (rgb[..., 0] >= (RED_SHARE - HAIR) * np.maximum(rgb.sum(axis=2), HAIR)).any(axis=0)
        if (red | self._was_red).any():
            far = self._colour.longest(uv_of(xyz_from_linear(rgb)))
            self._found |= (red | self._was_red) & (far >= (LEAST_CHANGES - 1) * RED_UV_STEP - HAIR * 100)
        else:
            self._colour = Travel(self._window, len(self._weights))
        self._was_red = red

    def slots(self) -> NDArray[np.int64]:
        """The lights that may flash too often, rising."""
        return np.flatnonzero(self._found)


class Travel:
    """The longest way that each of many points goes within a window of frames, block after block of them.

    Args:
        window: frames in the window. [-]
        count: points. [-]
    """

    def __init__(self, window: int, count: int) -> None:
        self._steps = np.zeros((window, count))
        self._last: Floats | None = None

    def longest(self, places: Floats) -> Floats:
        """Take the next places, (n_frames, n_points, n_dimensions); the longest way so far in this block,
        (n_points,).

        Args:
            places: where each point is, (n_frames, n_points, n_dimensions). [-]
        """
        before = places[:1] if self._last is None else self._last
        steps = np.linalg.norm(np.diff(places, axis=0, prepend=before), axis=2)
        window = len(self._steps)
        together = np.concatenate([self._steps, steps])
        gone = np.concatenate([np.zeros((1, together.shape[1])), np.cumsum(together, axis=0)])
        self._steps, self._last = together[-window:].copy(), places[-1:].copy()  # views would keep all of it
        return np.asarray((gone[window:] - gone[:-window]).max(axis=0))
