"""From linear light to what a screen shows, without loading anything heavy."""

from __future__ import annotations

from functools import cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage

from tiny_lantern.light.colour import srgb_from_linear

Bytes = NDArray[np.uint8]
OPAQUE = np.uint32(0xFF000000)


@cache
def screen_table() -> Bytes:
    """sRGB byte for each byte of linear light."""
    return np.round(srgb_from_linear(np.arange(256) / 255) * 255).astype(np.uint8)


def image_of(rgb: Bytes) -> QImage:
    """sRGB bytes (height, width, 3) as an image that owns its data, in the format that is painted fastest."""
    solid = np.ascontiguousarray(rgb)
    height, width, _ = solid.shape
    borrowed = QImage(solid.data, width, height, 3 * width, QImage.Format.Format_RGB888)
    return borrowed.convertToFormat(QImage.Format.Format_RGB32)


def screen_words(rgb: Bytes) -> NDArray[np.uint32]:
    """sRGB bytes (…, 3) as one word a pixel, (…), in the format that is painted fastest."""
    words = rgb.astype(np.uint32)
    return np.asarray(OPAQUE | words[..., 0] << 16 | words[..., 1] << 8 | words[..., 2], np.uint32)


def image_of_words(words: NDArray[np.uint32]) -> QImage:
    """Words of ``screen_words`` (height, width) as an image that owns its data."""
    solid = np.ascontiguousarray(words)
    height, width = solid.shape
    return QImage(solid.data, width, height, 4 * width, QImage.Format.Format_RGB32).copy()


def rgb_of(colour: str) -> tuple[int, int, int]:
    """Red, green and blue, 0 to 255, of a colour written ``#rrggbb``."""
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)
