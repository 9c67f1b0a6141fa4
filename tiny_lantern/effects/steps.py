"""Step table: rows of on and off, or of levels, one after another, as people write them on paper."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache
from typing import Any

from tiny_lantern.effects.chance import step
from tiny_lantern.effects.curve import CURVE, curve_numbers, curved
from tiny_lantern.effects.cycle import cycle_numbers
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    TextParameter,
    at_level,
    colour,
    slot,
    whole,
)  # fmt: skip
from tiny_lantern.kernel.nodes import ONE, Type, item, listed, muldiv

FULL, MOST_NUMBERS, MOST_AGAIN = 255, 20_000, 1000
HINT = "a row a step: 1011, x.xx, or levels 0 0.5 1, 0 128 255, 50% 100%; x3 at its end plays it three times"
ON, OFF = "1x#*", "0.-_"


@cache
def table_rows(text: str) -> tuple[tuple[int, ...], ...]:
    """The steps of a table, each a row of levels, (n_steps, n_lights), 255 for full. [-]

    Raises:
        ValueError: a word is no level, the rows are not of one length, or there are too many.
    """
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    rows: list[tuple[int, ...]] = []
    times: list[int] = []
    whole_bytes = any(_number(word) > 1 and not word.endswith("%") for line in lines for word in _words(line)[0])
    for number, line in enumerate(lines, 1):
        words, again = _words(line)
        rows.append(tuple(_level(word, whole_bytes, number) for word in words))
        times.append(again)
        if len(rows[-1]) != len(rows[0]):
            raise ValueError(f"row {number} has {len(rows[-1])} levels and row 1 has {len(rows[0])}")
    if not rows or not rows[0] or sum(times) * len(rows[0]) > MOST_NUMBERS:
        raise ValueError(f"a table has 1 to {MOST_NUMBERS} levels")
    return tuple(row for row, again in zip(rows, times, strict=True) for _ in range(again))


def _words(line: str) -> tuple[list[str], int]:
    """The levels of a row as words, and how often it is played: every sign of a word without spaces is one."""
    parts = re.split(r"[\s,;|]+", line.strip(" \t,;|"))
    again = 1
    if len(parts) > 1 and re.fullmatch(r"[x*]\d+", parts[-1]):
        again = min(MOST_AGAIN, int(parts.pop()[1:]))
    if len(parts) == 1 and len(parts[0]) > 1 and all(sign in ON + OFF for sign in parts[0]):
        return list(parts[0]), again
    return parts, again


def _number(word: str) -> float:
    try:
        return float(word.removesuffix("%"))
    except ValueError:
        return 0.0


def _level(word: str, whole_bytes: bool, row: int) -> int:
    if len(word) == 1 and word in ON[1:] + OFF[1:]:
        return FULL if word in ON else 0
    if not re.fullmatch(r"\d*\.?\d+%?|\d+\.", word):
        raise ValueError(f"“{word[:12]}” in row {row} is no level")
    value = float(word.removesuffix("%"))
    full = 100.0 if word.endswith("%") else float(FULL) if whole_bytes else 1.0
    if value > full:
        raise ValueError(f"“{word[:12]}” in row {row} is over {full:g}")
    return round(FULL * value / full)


def _light() -> Light:
    across = whole("across", 1, MOST_NUMBERS)
    at = step().mod(whole("step_count", 1, MOST_NUMBERS)).least(MOST_NUMBERS)
    place = muldiv(at, across, 1).clamp(0, MOST_NUMBERS) + slot().mod(across)
    level = muldiv(item(listed("levels", 0, FULL), place), ONE, FULL)
    return at_level(colour("colour"), curved(level.clamp(0, ONE).seen_as(Type.Q16)))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    rows = table_rows(values["table"])
    return {
        **cycle_numbers(values["step_s"], span.tick_hz), "levels": tuple(level for row in rows for level in row),
        "across": len(rows[0]), "step_count": len(rows), **curve_numbers(values["curve"]),
    }  # fmt: skip


KIND = EffectKind(
    kind="steps",
    help="Your own steps: a row of on and off, or of levels, for each; lights beyond a row begin it again.",
    rank=46,
    parameters=(
        ColourParameter("colour", "colour", "#ffb648"),
        TextParameter("table", "table", "1000\n0100\n0010\n0001\n0010\n0100", table_rows, HINT, "lines",
                      most=5 * MOST_NUMBERS),
        Number("step_s", "a step lasts", 0.25, 0.01, 3600, "s"),
        CURVE,
    ),
    light=_light,
    numbers=_numbers,
)  # fmt: skip
