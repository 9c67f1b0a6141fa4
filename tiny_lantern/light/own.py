"""The colours that lamps can show at all: what is asked of a lamp of one colour is seen in that colour."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import LUMINANCE, XYZ_OF_SRGB, xyz_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.light import Primary
from tiny_lantern.model.parts.load import LoadPart
from tiny_lantern.model.parts.part import Part

Floats = NDArray[np.float64]
WARM = np.array([1.0, 0.72, 0.42])
HARDLY = 1e-12


def own_colours(build: Build) -> Floats:
    """For each light the matrix that takes the linear colour asked for to the one that its lamp shows.

    A lamp that mixes colours shows what is asked; one of a single colour shows that colour as bright as what is asked
    is luminous; one of two, no third. (n_slots, 3, 3) [-]
    """
    if not build.pieces:
        return np.zeros((0, 3, 3))
    parts = {part.id: part for part in build.parts}
    return np.concatenate([np.repeat(_matrix(parts[p.part_id])[None], p.slot_count, axis=0) for p in build.pieces])


def shown_as(frame: Floats, own: Floats) -> Floats:
    """A frame as its lamps show it. (n_slots, 3) [-]

    Args:
        frame: linear red, green and blue, 0 to 1, (n_slots, 3). [-]
        own: see ``own_colours``, (n_slots, 3, 3). [-]
    """
    return np.asarray(np.einsum("sij,sj->si", own, frame))


def at_rest(own: Floats) -> Floats:
    """Every light as its lamp looks when it is lit and nothing is asked of it: warm white, or its only colour.
    (n_slots, 3) [-]

    Args:
        own: see ``own_colours``, (n_slots, 3, 3). [-]
    """
    asked = np.where(of_one_hue(own)[:, None], 1.0, WARM)
    return shown_as(asked, own)


def of_one_hue(own: Floats) -> NDArray[np.bool_]:
    """Which lamps show one hue, whatever they are asked for: those whose matrix is of rank one. (n_slots,)

    Args:
        own: see ``own_colours``, (n_slots, 3, 3). [-]
    """
    crossed = [np.cross(own[:, one], own[:, other]) for one, other in ((0, 1), (0, 2), (1, 2))]
    flat = np.logical_and.reduce([np.abs(cross).max(axis=1, initial=0.0) < HARDLY for cross in crossed])
    return np.asarray(flat & (np.abs(own).max(axis=(1, 2), initial=0.0) > 0))


def shows_all(own: Floats) -> bool:
    """Whether every lamp shows what is asked of it.

    Args:
        own: see ``own_colours``, (n_slots, 3, 3). [-]
    """
    return bool((own == np.eye(3)).all())


def as_bytes(linear: Floats) -> NDArray[np.uint8]:
    """Linear light as bytes. Each like ``linear``

    Args:
        linear: 0 to 1, (n_slots, 3). [-]
    """
    return np.round(np.clip(linear, 0, 1) * 255).astype(np.uint8)


def _matrix(part: Part) -> Floats:
    if isinstance(part, LoadPart):
        return np.outer(_hue(part.light), LUMINANCE)
    if not isinstance(part, LampPart) or len(part.dies) > 2:
        return np.eye(3)
    hues = [_hue(die.light) for die in part.dies]
    if len(hues) == 1:
        return np.outer(hues[0], LUMINANCE)
    reach = np.array([[float(hue[c] > 0.5) for c in range(3)] for hue in hues]).max(axis=0)
    return np.diag(reach)


def own_luminance(part: Part) -> float:
    """How luminous a lamp of one colour is, fully on, beside white of the same largest channel; 1 for any other. [-]"""
    if isinstance(part, LampPart) and len(part.dies) == 1:
        return float(_hue(part.dies[0].light) @ LUMINANCE)
    return float(_hue(part.light) @ LUMINANCE) if isinstance(part, LoadPart) else 1.0


def _hue(light: Primary) -> Floats:
    """A chromaticity as linear red, green and blue, the largest 1; what a screen cannot show is clipped. (3,)"""
    rgb = np.maximum(np.linalg.solve(XYZ_OF_SRGB, xyz_of(light)), 0.0)
    return np.asarray(rgb / rgb.max())
