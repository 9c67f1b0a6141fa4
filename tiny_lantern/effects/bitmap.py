"""Where a light stands among the rows and columns of a matrix, whatever way its wire goes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from tiny_lantern.effects.kind import MOST_LIGHTS, Number, count, slot, whole
from tiny_lantern.kernel.nodes import Node, select

MOST_ROWS = 256
WAYS = ("row by row", "rows, to and fro", "column by column", "columns, to and fro")
ROWS = Number("rows", "rows of lights", 8, 1, MOST_ROWS, whole=True)
CORNERS = ("top left", "top right", "bottom left", "bottom right")
WAY = Number("way", "wire goes", 0, 0, len(WAYS) - 1, whole=True, words=WAYS)
CORNER = Number("corner", "begins", 0, 0, len(CORNERS) - 1, whole=True, words=CORNERS)


def grid_numbers(values: Mapping[str, Any]) -> dict[str, int]:
    """What ``columns`` and ``row_and_column`` need of the values chosen.

    Args:
        values: those of rows, way and corner.
    """
    return {name: values[name] for name in ("rows", "way", "corner")}


def columns() -> Node:
    """How many columns the lights make, the last one perhaps not full."""
    rows = _rows()
    return (count() + rows - 1).div(rows).most(1)


def row_and_column() -> tuple[Node, Node]:
    """The row of a light, from the top, and its column, from the left, both from 0."""
    rows, across, way = _rows(), columns(), whole("way", 0, len(WAYS) - 1)
    along_row, row = slot().mod(across), slot().div(across)
    along_column, column = slot().mod(rows), slot().div(rows)
    turns = way.mod(2)
    by_rows = row, _turned(along_row, across, turns.least(row.mod(2)))
    by_columns = _turned(along_column, rows, turns.least(column.mod(2))), column
    upright, corner = 1 - (way < 2), whole("corner", 0, len(CORNERS) - 1)
    row, column = select(upright, by_columns[0], by_rows[0]), select(upright, by_columns[1], by_rows[1])
    return _turned(row, rows, 1 - (corner < 2)), _turned(column, across, corner.mod(2))


def _rows() -> Node:
    return whole("rows", 1, MOST_ROWS)


def _turned(at: Node, among: Node, back: Node) -> Node:
    """A place counted from the other end where ``back`` is not zero."""
    return select(back, among - 1 - at, at).clamp(0, MOST_LIGHTS)
