"""Picture: rows of colours on a matrix, still or passing by; on a single row of lights, one row after another."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import Any

from tiny_lantern.effects.bitmap import CORNER, ROWS, WAY, columns, grid_numbers, row_and_column
from tiny_lantern.effects.cycle import FINEST, MOST, fraction
from tiny_lantern.effects.kind import EffectKind, Light, Number, Span, TextParameter, tick, whole
from tiny_lantern.kernel.nodes import ONE, Node, Type, item, listed, muldiv, select

FULL, MOST_ACROSS, MOST_DOTS = 255, 1000, 4000
HINT = "rows of colours such as #ffb648 #000000, all of one length; or a picture's file"
Rows = tuple[tuple[tuple[int, int, int], ...], ...]


@cache
def picture_rows(text: str) -> Rows:
    """A picture's rows of colours, sRGB bytes, (n_rows, n_columns, 3). [-]

    Raises:
        ValueError: a word is no colour, or the rows are not of one length.
    """
    rows = []
    for number, line in enumerate((line for line in text.splitlines() if line.strip()), 1):
        rows.append(tuple(_colour(word, number) for word in line.replace(",", " ").split()))
        if len(rows[-1]) != len(rows[0]):
            raise ValueError(f"row {number} has {len(rows[-1])} colours and row 1 has {len(rows[0])}")
    if not rows or not 1 <= len(rows[0]) <= MOST_ACROSS or len(rows) * len(rows[0]) > MOST_DOTS:
        raise ValueError(f"a picture has 1 to {MOST_DOTS} colours, at most {MOST_ACROSS} across")
    return tuple(rows)


def _colour(word: str, row: int) -> tuple[int, int, int]:
    digits = word.removeprefix("#")
    if len(digits) != 6 or any(digit not in "0123456789abcdefABCDEF" for digit in digits):
        raise ValueError(f"“{word[:12]}” in row {row} is no colour such as #ffb648")
    return int(digits[:2], 16), int(digits[2:4], 16), int(digits[4:], 16)


def _linear(byte: int) -> int:
    """An sRGB byte as linear light. [-]

    Source: IEC 61966-2-1.
    """
    share = byte / FULL
    return round(FULL * (share / 12.92 if share <= 0.04045 else ((share + 0.055) / 1.055) ** 2.4))


def _light() -> Light:
    wide, high = whole("picture_wide", 1, MOST_ACROSS), whole("picture_high", 1, MOST_DOTS)
    row, column = row_and_column()
    passed = muldiv(tick(), whole("speed_parts", -MOST, MOST), whole("tick_parts", 1, FINEST))
    alone = whole("rows", 1, 256).equals(1)
    among = wide + columns()
    moving = (passed.mod(among) + column).mod(among) - columns()
    across = select(alone, column, select(whole("moves", 0, 1), moving, column))
    down = select(alone, passed.mod(high), row)
    inside = (1 - (across < 0)).least(across < wide).least(down < high)
    at = (down * wide + across).clamp(0, MOST_DOTS)
    red, green, blue = (_share(name, at, inside) for name in ("reds", "greens", "blues"))
    return red, green, blue


def _share(name: str, at: Node, inside: Node) -> Node:
    linear = item(listed(name, 0, FULL), at)
    return select(inside, muldiv(linear, ONE, FULL), 0).clamp(0, ONE).seen_as(Type.Q16)


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    rows = picture_rows(values["picture"])
    above, below = fraction(values["speed"] / span.tick_hz)
    channels = zip(*((_linear(byte) for byte in colour) for row in rows for colour in row), strict=True)
    reds, greens, blues = (tuple(channel) for channel in channels)
    return {
        "speed_parts": above,
        "tick_parts": below,
        "moves": int(values["speed"] != 0),
        **grid_numbers(values),
        "picture_wide": len(rows[0]),
        "picture_high": len(rows),
        "reds": reds,
        "greens": greens,
        "blues": blues,
    }


USUAL = "\n".join(
    ["#000000 #ff8a00 #ff8a00 #000000", "#ff8a00 #ffd9a0 #ffd9a0 #ff8a00",
     "#ff8a00 #ffd9a0 #ffd9a0 #ff8a00", "#000000 #ff8a00 #ff8a00 #000000"]
)  # fmt: skip
KIND = EffectKind(
    kind="picture",
    help="A picture on a matrix, still at speed 0, else passing by; on one row of lights, its rows one after another, "
    "as a staff that is swung needs them.",
    rank=65,
    parameters=(
        TextParameter("picture", "picture", USUAL, picture_rows, HINT, "picture", most=9 * MOST_DOTS),
        Number("speed", "columns or rows a second", 4.0, -400, 400),
        ROWS,
        WAY,
        CORNER,
    ),
    light=_light,
    numbers=_numbers,
    sample={"speed": 4, "rows": 1},
)
