"""Colours: sRGB, linear light, chromaticity, and what a pixel with a white channel is sent."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.parts.light import Primary

Floats = NDArray[np.float64]
LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
XYZ_OF_SRGB = np.array([[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]])


def linear_from_srgb(encoded: Floats) -> Floats:
    """Linear light of encoded sRGB values, both 0 to 1, any shape. [-]

    Args:
        encoded: the values, any shape (…). [-]

    Source: IEC 61966-2-1.
    """
    encoded = np.asarray(encoded, float)
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def srgb_from_linear(linear: Floats) -> Floats:
    """Encoded sRGB values of linear light, both 0 to 1, any shape. [-]

    Args:
        linear: the light, any shape (…). [-]

    Source: IEC 61966-2-1.
    """
    linear = np.clip(np.asarray(linear, float), 0, 1)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


def linear_of(colour: str) -> Floats:
    """Linear RGB of a colour written ``#rrggbb``. (3,) [-]"""
    return linear_from_srgb(np.array([int(colour[at : at + 2], 16) for at in (1, 3, 5)]) / 255)


def screen_bytes(linear: Floats) -> NDArray[np.uint8]:
    """sRGB bytes to show linear light of any shape on a screen.

    Args:
        linear: the light, any shape (…), 0 to 1. [-]
    """
    return np.round(srgb_from_linear(linear) * 255).astype(np.uint8)


def xyz_of(primary: Primary) -> Floats:
    """Tristimulus values of a primary, Y its luminous intensity. (3,) [cd]

    ``X = x·Y/y, Z = (1 − x − y)·Y/y``  (1).

    Source: CIE 15, chromaticity to tristimulus values.
    """
    scale = primary.intensity_cd / primary.y
    return np.array([primary.x * scale, primary.intensity_cd, (1 - primary.x - primary.y) * scale])  # (1)


def xyz_from_linear(rgb: Floats) -> Floats:
    """Tristimulus values of linear sRGB light, white at Y = 1; (…, 3) to (…, 3). [-]

    Args:
        rgb: linear red, green and blue, (…, 3). [-]

    Source: IEC 61966-2-1.
    """
    return np.asarray(np.asarray(rgb, float) @ XYZ_OF_SRGB.T)


def uv_of(xyz: Floats) -> Floats:
    """CIE 1976 chromaticity u′v′; (…, 3) to (…, 2), zero where there is no light. [-]

    ``u′ = 4X/(X + 15Y + 3Z), v′ = 9Y/(X + 15Y + 3Z)``  (1).

    Args:
        xyz: tristimulus values, (…, 3). [-]

    Source: CIE 15, 1976 uniform chromaticity scale.
    """
    weight = xyz @ np.array([1.0, 15.0, 3.0])
    safe = np.where(weight > 0, weight, 1.0)
    pair = np.stack([4 * xyz[..., 0], 9 * xyz[..., 1]], axis=-1) / safe[..., None]  # (1)
    return np.where(weight[..., None] > 0, pair, 0.0)


def channels_from_rgb(rgb: Floats, channel_names: tuple[str, ...]) -> Floats:
    """Channel duties for linear RGB; a white channel takes the part that red, green and blue have in common.

    That is the school of least current. The other, leaving white dark, gives purer but weaker colours.

    Args:
        rgb: (…, 3), 0 to 1. [-]
        channel_names: the part's channels in their own order.
    """
    white = rgb.min(axis=-1) if "white" in channel_names else np.zeros(rgb.shape[:-1])
    sources = {name: rgb[..., at] - white for at, name in enumerate(("red", "green", "blue"))}
    sources["white"] = white
    return np.stack([sources[name] for name in channel_names], axis=-1)
