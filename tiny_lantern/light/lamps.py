"""How bright each light's own lamp makes a colour, beside what a screen would show."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.part import Part
from tiny_lantern.model.parts.strip import StripPart

Floats = NDArray[np.float64]
NAMES = ("red", "green", "blue", "white")


def luminance_weights(build: Build) -> Floats:
    """Weights of red, green, blue and of what they have in common, that give a light's luminance relative to its own
    white. (n_slots, 4) [-]"""
    if not build.pieces:
        return np.zeros((0, 4))
    parts = {part.id: part for part in build.parts}
    return np.concatenate([np.repeat(part_weights(parts[p.part_id])[None], p.slot_count, axis=0) for p in build.pieces])


def part_weights(part: Part) -> Floats:
    """The same for one kind of part. (4,) [-]

    A white channel takes the part that red, green and blue have in common, so the luminance of linear red, green and
    blue with common part w is ``Σ a_c·(c − w) + a_w·w``  (1), scaled so that white is 1. What has one colour or only
    goes on and off follows the luminance of the colour that is asked for.
    """
    candela = _candela(part)
    if len(candela) < 2:
        return np.append(LUMINANCE, 0.0)
    colours = np.array([candela.get(name, 0.0) for name in NAMES[:3]])
    common = candela["white"] - colours.sum() if "white" in candela else 0.0
    full = colours.sum() + common
    return np.asarray(np.append(colours, common) / full)  # (1)


def _candela(part: Part) -> dict[str, float]:
    """Luminous intensity of each channel that can be set apart. [cd]"""
    if isinstance(part, StripPart):
        return {channel.name: channel.light.intensity_cd for channel in part.pixel.channels}
    if isinstance(part, LampPart) and part.emitter == "colour":
        return {die.name: die.light.intensity_cd for die in part.dies}
    return {}


def lamp_luminance(rgb: Floats, weights: Floats) -> Floats:
    """Luminance of each light relative to its own white; (…, n_slots, 3) and (n_slots, 4) to (…, n_slots). [-]

    Args:
        rgb: linear red, green and blue, 0 to 1, (…, n_slots, 3). [-]
        weights: see ``luminance_weights``, (n_slots, 4). [-]
    """
    return np.asarray((rgb * weights[:, :3]).sum(axis=-1) + rgb.min(axis=-1) * weights[:, 3])
