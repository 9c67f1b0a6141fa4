"""What lamps spill onto the covers of their neighbours."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array
from scipy.spatial import KDTree

from tiny_lantern.model.build import Build
from tiny_lantern.model.layout import all_places

Floats = NDArray[np.float64]
CATCHES = {"none": 0.0, "clear": 0.15, "frosted": 0.6}
COVER_ABOVE_M = 0.010
LEAST = 2e-3


def spill_of(build: Build) -> csr_array | None:
    """The share of each lamp's light that each cover shows besides its own, (n_slots, n_slots); None when there is
    none. [-]

    A cover lies so far above its lamps and catches their light by the inverse square and both cosines; with a lamp of
    intensity ``cosᵐ`` that is ``E(d)/E(0) = cosᵐ⁺³ φ, tan φ = d/h``  (1). A frosted cover shows most of what it
    catches, a clear one little, none nothing.

    Args:
        build: the build.

    Source: the cosine and inverse square laws of illuminance; any text on lighting.
    """
    if all(piece.mount.cover == "none" for piece in build.pieces):
        return None
    mounts = [(piece.mount, piece.slot_count) for piece in build.pieces]
    catches = np.concatenate([np.full(count, CATCHES[mount.cover]) for mount, count in mounts])
    above_m = np.concatenate([np.full(count, COVER_ABOVE_M + mount.spacer_m) for mount, count in mounts])
    power = np.concatenate([np.full(count, beam_power(mount.beam_deg)) for mount, count in mounts])
    places = all_places(build)
    reach_m = float((above_m * np.tan(np.arccos(LEAST ** (1 / (power + 3))))).max())
    pairs = KDTree(places).query_pairs(reach_m, output_type="ndarray")
    to, of = np.concatenate([pairs, pairs[:, ::-1]]).T
    share = catches[to] * _fallen(np.hypot(*(places[to] - places[of]).T), above_m[of], power[of])
    seen = share > LEAST
    return csr_array((share[seen], (to[seen], of[seen])), shape=(len(places), len(places)))


def _fallen(away_m: Floats, above_m: Floats, power: Floats) -> Floats:
    """How much of the light right under a lamp falls so far beside it. Each like ``away_m``"""
    return np.asarray((1 + (away_m / above_m) ** 2) ** (-(power + 3) / 2))  # (1)


def beam_power(beam_deg: float) -> float:
    """The power m of the cosine that is a half at half the beam angle: ``m = ln ½ / ln cos(beam/2)``  (1). [-]

    Args:
        beam_deg: the full angle between the directions of half intensity. [deg]

    Source: the usual description of a lamp's beam by a power of the cosine.
    """
    half = min(beam_deg, 170.0) / 2
    return float(np.log(0.5) / np.log(np.cos(np.radians(half))))  # (1)


def spilled(frame: Floats, spill: csr_array | None) -> Floats:
    """A frame with what lamps spill onto their neighbours' covers, linear, (n_slots, 3).

    Args:
        frame: the frame, linear, (n_slots, 3). [-]
        spill: see ``spill_of``, (n_slots, n_slots). [-]
    """
    return frame if spill is None else np.asarray(frame + spill @ frame)
