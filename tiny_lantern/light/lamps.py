"""How bright each light's own lamp makes a colour, beside what a screen would show."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import part_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts import StripPart

Floats = NDArray[np.float64]
NAMES = ("red", "green", "blue", "white")


def luminance_weights(build: Build) -> Floats:
    """Weights of red, green, blue and of what they have in common, that give a light's luminance relative to its own
    white. (n_slots, 4) [-]"""
    if not build.strips:
        return np.zeros((0, 4))
    return np.concatenate(
        [np.repeat(part_weights(part_of(build, s))[None], s.pixel_count, axis=0) for s in build.strips]
    )


def part_weights(part: StripPart) -> Floats:
    """The same for one kind of strip. (4,) [-]

    A white channel takes the part that red, green and blue have in common, so the luminance of linear red, green and
    blue with common part w is ``Σ a_c·(c − w) + a_w·w``  (1), scaled so that white is 1.
    """
    candela: dict[str, float] = {channel.name: channel.light.intensity_cd for channel in part.pixel.channels}
    colours = np.array([candela.get(name, 0.0) for name in NAMES[:3]])
    common = candela["white"] - colours.sum() if "white" in candela else 0.0
    full = colours.sum() + common
    return np.append(colours, common) / full  # (1)


def lamp_luminance(rgb: Floats, weights: Floats) -> Floats:
    """Luminance of each light relative to its own white; (…, n_slots, 3) and (n_slots, 4) to (…, n_slots). [-]"""
    return np.asarray((rgb * weights[:, :3]).sum(axis=-1) + rgb.min(axis=-1) * weights[:, 3])
