"""Text on a matrix: letters of dots that stand still or pass by."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.bitmap import CORNER, ROWS, WAY, columns, grid_numbers, row_and_column
from tiny_lantern.effects.cycle import FINEST, MOST, fraction
from tiny_lantern.effects.kind import (
    ColourParameter,
    EffectKind,
    Light,
    Number,
    Span,
    TextParameter,
    colour,
    tick,
    whole,
)  # fmt: skip
from tiny_lantern.effects.letters import ACCEPTED, HIGH, text_columns
from tiny_lantern.effects.shapes import chosen
from tiny_lantern.kernel.nodes import item, listed, muldiv, select

MOST_COLUMNS = 4000
POWERS = tuple(1 << bit for bit in range(HIGH))


def _light() -> Light:
    """A light is lit where the column of the text that stands at its place has a dot in its row."""
    wide = whole("text_wide", 1, MOST_COLUMNS)
    row, column = row_and_column()
    passed = muldiv(tick(), whole("speed_parts", -MOST, MOST), whole("tick_parts", 1, FINEST))
    moves = whole("moves", 0, 1)
    among = wide + columns()
    moving = (passed.mod(among) + column).mod(among) - columns()
    at = select(moves, moving, column - whole("before", 0, MOST_COLUMNS))
    line = row - whole("above", 0, MOST_COLUMNS)
    inside = (1 - (at < 0)).least(at < wide).least(1 - (line < 0)).least(line < HIGH)
    dots = item(listed("letter_columns", 0, 127), at)
    lit = dots.div(item(listed("powers", 1, POWERS[-1]), line)).mod(2)
    return chosen(inside.least(lit), colour("colour"), colour("ground"))


def _numbers(values: Mapping[str, Any], span: Span) -> dict[str, Any]:
    letters = text_columns(values["text"])
    above, below = fraction(values["speed"] / span.tick_hz)
    across = -(-span.count // values["rows"])
    return {
        "speed_parts": above, "tick_parts": below, "moves": int(values["speed"] != 0), "text_wide": len(letters),
        "letter_columns": letters, "powers": POWERS, **grid_numbers(values),
        "before": min(MOST_COLUMNS, max(0, (across - len(letters)) // 2)),
        "above": max(0, (values["rows"] - HIGH) // 2),
    }  # fmt: skip


def _read(text: str) -> None:
    if len(text_columns(text)) > MOST_COLUMNS:
        raise ValueError(f"a text has at most {MOST_COLUMNS} columns")


KIND = EffectKind(
    kind="text",
    help="Words in letters of dots on a matrix or on panels: still at speed 0, else passing by; it needs 7 rows.",
    rank=64,
    parameters=(
        ColourParameter("colour", "letters", "#ffb648"),
        ColourParameter("ground", "ground", "#000000"),
        TextParameter("text", "text", "PIER", _read, ACCEPTED),
        Number("speed", "columns a second", 8.0, -200, 200),
        ROWS,
        WAY,
        CORNER,
    ),
    light=_light,
    numbers=_numbers,
    sample={"text": "A", "speed": 0, "rows": 8},
)
