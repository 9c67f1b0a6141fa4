"""Files read into the words of effects: pictures as rows of colours, tables as they stand."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from tiny_lantern.effects.picture import MOST_ACROSS, MOST_DOTS
from tiny_lantern.model.disk import read_bytes
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.pixels import FILES, read_picture

PICTURES, TABLES = FILES, "Tables (*.csv *.tsv *.txt)"
MOST_PIXELS, MOST_TEXT = 40_000_000, 1_000_000


def picture_words(path: str, rows: int, lights: int) -> str:
    """A picture as rows of colours, made as high as there are rows; for one row of lights, as wide as there are lights.

    Args:
        path: the file.
        rows: rows of lights. [-]
        lights: lights in all. [-]

    Raises:
        LanternError: it is no picture that can be read.
    """
    plain = read_picture(read_bytes(Path(path)), MOST_PIXELS, path)
    wide, high = (lights, 0) if rows == 1 else (0, rows)
    wide = min(MOST_ACROSS, wide or max(1, round(plain.width * high / plain.height)))
    high = high or max(1, round(plain.height * wide / plain.width))
    high = max(1, min(high, MOST_DOTS // wide))
    small = plain.resize((min(wide, MOST_DOTS // high), high))
    rows_of_bytes = np.asarray(small, np.uint8)
    return "\n".join(" ".join(f"#{pixel.tobytes().hex()}" for pixel in row) for row in rows_of_bytes)


def table_words(path: str) -> str:
    """A table's text.

    Raises:
        LanternError: it cannot be read, or is no text.
    """
    try:
        return read_bytes(Path(path), MOST_TEXT).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise LanternError("this is no text", path, "a table as text: CSV, or rows of 1 and 0") from None
