"""A wanted colour as the duties of a lamp's primaries: inside its triangle, or clipped toward white."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.light.colour import linear_from_srgb, uv_of

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
D65_XY = (0.3127, 0.3290)
SRGB_XY = ((0.64, 0.33), (0.30, 0.60), (0.15, 0.06))
NEARLY = 1e-12


@dataclass(frozen=True)
class LampPrimary:
    """One die's chromaticity, and its intensity at a test current and at the current that it is given."""

    x: float
    y: float
    test_cd: float
    test_a: float
    current_a: float

    @property
    def full_cd(self) -> float:
        """Intensity at full duty, in proportion to the current. [cd]"""
        return self.test_cd * self.current_a / self.test_a


@dataclass(frozen=True)
class Mixed:
    """A colour as a lamp shows it: what was wanted, the amounts over the largest with negatives kept, whether it is
    inside, the duties, and how far the shown colour is off. Black has no chromaticity."""

    wanted_xyz: Floats
    amounts: Floats | None
    inside: bool
    duties: Floats
    shown_xy: Floats | None
    luminance_cd: float
    delta_uv: float
    clip_fraction: float


def xyz_of_xy(x: float, y: float, luminance: float = 1.0) -> Floats:
    """Tristimulus values of a chromaticity and a luminance: ``X = x·Y/y, Z = (1 − x − y)·Y/y``  (1). (3,)

    Args:
        x: chromaticity x. [-]
        y: chromaticity y. [-]
        luminance: Y. [-]

    Source: CIE 15.
    """
    return np.array([x * luminance / y, luminance, (1 - x - y) * luminance / y])  # (1)


def srgb_matrix() -> Floats:
    """Linear sRGB to tristimulus values at full precision, white at Y = 1. (3, 3) [-]

    Source: IEC 61966-2-1, derived from its primaries and D65 rather than from its four-digit matrix.
    """
    columns = np.array([xyz_of_xy(*xy) for xy in SRGB_XY]).T
    return columns * np.linalg.solve(columns, xyz_of_xy(*D65_XY))


def xyz_of_srgb(colour: Sequence[int]) -> Floats:
    """Tristimulus values of a screen colour of three bytes. (3,) [-]"""
    return np.asarray(srgb_matrix() @ linear_from_srgb(np.array(colour) / 255.0))


def primaries_xyz(primaries: Sequence[LampPrimary]) -> Floats:
    """Tristimulus values of each primary at full duty, as columns. (3, n_primaries) [cd]"""
    return np.array([xyz_of_xy(each.x, each.y, each.full_cd) for each in primaries]).T


def mix(primaries: Sequence[LampPrimary], wanted_xyz: Floats, level: float = 1.0) -> Mixed:
    """The duties of a lamp for a wanted colour; a fourth primary, white, takes as much as leaves no colour negative.

    A colour outside the triangle of the first three moves straight toward D65 until it meets the triangle's edge:
    ``XYZ' = (1 − t)·XYZ + t·Y·D65`` with the smallest such t  (1). Then the largest duty is scaled to the level.

    Args:
        primaries: red, green and blue, and white where there is one.
        wanted_xyz: the colour, (3,). [-]
        level: the largest duty. [-]

    Source: CIE 15 for the mixture; clipping toward white keeps the hue.
    """
    matrix = primaries_xyz(primaries)
    colours, white_xyz = matrix[:, :3], xyz_of_xy(*D65_XY)
    amounts = np.asarray(np.linalg.solve(colours, wanted_xyz), np.float64)
    luminance = float(wanted_xyz[1])
    if luminance <= 0 or amounts.max() <= 0:
        none = np.zeros(len(primaries))
        return Mixed(wanted_xyz, None, True, none, None, 0.0, 0.0, 0.0)
    of_white = np.asarray(np.linalg.solve(colours, white_xyz * luminance), np.float64)
    share = _clipped(amounts, of_white)
    inside = share == 0.0
    shown = np.maximum((1 - share) * amounts + share * of_white, 0.0)  # (1)
    duties = shown if len(primaries) == 3 else _with_white(colours, matrix[:, 3], shown)
    duties = duties * level / duties.max()
    xyz = matrix @ duties
    off = 0.0 if inside else float(np.hypot(*(uv_of(xyz) - uv_of(wanted_xyz))))
    return Mixed(
        wanted_xyz, amounts / amounts.max(), inside, duties, xyz[:2] / xyz.sum(), float(xyz[1]), off, share
    )  # fmt: skip


def _clipped(amounts: Floats, of_white: Floats) -> float:
    """The smallest share of white that leaves no amount negative."""
    least = -NEARLY * float(amounts.max())
    shares = [amount / (amount - white) for amount, white in zip(amounts, of_white, strict=True) if amount < least]
    return float(max(shares, default=0.0))


def _with_white(colours: Floats, white: Floats, amounts: Floats) -> Floats:
    """Amounts of four primaries that show what three would, with as much white as leaves none negative. (4,)"""
    each = np.linalg.solve(colours, white)
    most = min(float(amount / part) for amount, part in zip(amounts, each, strict=True) if part > 0)
    return np.array([*np.maximum(amounts - most * each, 0.0), most])


def numbers_of(duties: Floats, bits: int, table: Ints | None = None) -> Ints:
    """The numbers to write: each duty rounded half up, or the index of the entry of a table that is nearest, the lower
    of two as near. Each like ``duties``

    Args:
        duties: the duties, (n,). [-]
        bits: bits of a number, or of the table's entries. [-]
        table: duties by index, (entries,). [-]
    """
    wanted = duties * ((1 << bits) - 1)
    if table is None:
        return np.floor(wanted + 0.5).astype(np.int64)
    off = np.abs(table[None, :] - wanted[:, None])
    return np.asarray(np.argmax(off <= off.min(axis=1, keepdims=True) * (1 + 1e-9) + 1e-12, axis=1), np.int64)


@dataclass(frozen=True)
class WhiteBalance:
    """The duties and currents at which a lamp looks white, and what equal duties look like."""

    duties: Floats
    currents_a: Floats
    luminance_cd: float
    equal_xy: Floats
    equal_luminance_cd: float
    equal_delta_uv: float


def white_balance(primaries: Sequence[LampPrimary]) -> WhiteBalance:
    """Why an equal mix is not white, and what is.

    Args:
        primaries: red, green and blue.
    """
    matrix, white = primaries_xyz(primaries), xyz_of_xy(*D65_XY)
    duties = np.linalg.solve(matrix, white)
    duties = duties / duties.max()
    equal = matrix @ np.ones(len(primaries))
    return WhiteBalance(
        duties, duties * np.array([each.current_a for each in primaries]), float((matrix @ duties)[1]),
        equal[:2] / equal.sum(), float(equal[1]), float(np.hypot(*(uv_of(equal) - uv_of(white)))),
    )  # fmt: skip


@dataclass(frozen=True)
class Matched:
    """Lamps of unlike kinds brought to one brightness by duty or by current, each (n,)."""

    own_cd: Floats
    matched_cd: float
    duties: Floats
    currents_a: Floats


def intensities_cd(lamps: Sequence[tuple[float, float, float]]) -> Floats:
    """Intensity of lamps at their currents. (n,) [cd]

    Args:
        lamps: of each the intensity at a test current, that current, and its own. [cd] [A] [A]
    """
    return np.array([test_cd * current_a / test_a for test_cd, test_a, current_a in lamps])


def match(own_cd: Floats, currents_a: Floats) -> Matched:
    """Bring lamps to the brightness of the weakest: ``d = least / own``  (1), as a duty or as a current.

    Args:
        own_cd: intensity of each at its current, (n,). [cd]
        currents_a: current of each, (n,). [A]

    Source: intensity in proportion to current or duty.
    """
    least = float(own_cd.min())
    duties = least / own_cd  # (1)
    return Matched(own_cd, least, duties, currents_a * duties)
