"""Parts and stock as a table: comma-separated values, a part a line, what lies inside a part in columns of its own."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable, Iterator, Mapping

from tiny_lantern.catalogue.drawer import MOST_PARTS, Drawer, Stock
from tiny_lantern.catalogue.part_fields import flat, unflat
from tiny_lantern.model.base import made
from tiny_lantern.model.errors import CancelledError, LanternError
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.quantities import parse_quantity
from tiny_lantern.model.wording import from_cell, harmless

FIRST = ("kind", "id", "name")
OWNED, PAID = "owned", "paid"
MOST_COLUMNS = 1000
LOOK_EACH = 50


def parts_csv(parts: Iterable[Part], drawer: Drawer) -> str:
    """A table of parts with what is owned of each.

    Args:
        parts: the parts to write.
        drawer: where the stock is.
    """
    rows = [flat(part) for part in parts]
    inside = list(dict.fromkeys(name for row in rows for name in row if name not in FIRST))
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\n")
    table.writerow([*FIRST, OWNED, PAID, *inside])
    for row in rows:
        stock = drawer.stock_of(str(row["id"]))
        mine = [f"{stock.owned:g}" if stock.owned else "", "" if stock.cost is None else f"{stock.cost:g}"]
        table.writerow([*(_cell(row[name]) for name in FIRST), *mine, *(_cell(row.get(name)) for name in inside)])
    return text.getvalue()


def _cell(value: str | float | bool | None) -> str:
    if value is None:
        return ""
    if isinstance(value, str):
        return harmless(value)
    return str(value).lower() if isinstance(value, bool) else str(value)


def read_parts_csv(
    text: str, known: Shelf, name: str = "the table",
    progress: Callable[[float], None] = lambda share: None, cancelled: Callable[[], bool] = lambda: False,
) -> Drawer:  # fmt: skip
    """The parts and the stock of a table. A line that gives only the id of a known part and how many are owned tells
    stock alone.

    Args:
        text: the table, with commas, semicolons or tabs.
        known: parts that need not be described.
        name: how messages call the table.
        progress: told the share that is read, 0 to 1.
        cancelled: asked now and then whether to stop.

    Raises:
        LanternError: a line is ragged, names a field that is none, or makes no part; with the line.
        CancelledError: it was stopped.
    """
    by_id = {part.id: part for part in known}
    parts, stock, seen = list[Part](), list[Stock](), set[str]()
    lines = text.count("\n") + 1
    for number, row in _rows(text, name):
        if number % LOOK_EACH == 0:
            progress(number / lines)
            if cancelled():
                raise CancelledError
        where = f"{name}, line {number}"
        try:
            part_id = row.get("id", "")
            if part_id in seen:
                raise LanternError(f"the id “{part_id}” stands on an earlier line too", "id", "each id once")
            seen.add(part_id)
            part, owned = _read(row, by_id)
        except LanternError as error:
            raise LanternError(
                error.what, f"{where}: {error.where}" if error.where else where, error.accepted
            ) from None
        parts += [part] if part is not None else []
        stock += [owned] if owned is not None else []
    return made(Drawer, parts=tuple(parts), stock=tuple(stock))


def _read(row: dict[str, str], known: Mapping[str, Part]) -> tuple[Part | None, Stock | None]:
    """The part that a line describes, where it is not known already, and the stock that it tells."""
    owned, paid = row.pop(OWNED, ""), row.pop(PAID, "")
    described = set(row) - set(FIRST)
    part = unflat(dict(row)) if described else known.get(row.get("id", ""))
    if part is None:
        raise LanternError(f"no part has the id “{row.get('id', '')}”", "id", "a known one, or a line that tells all")
    new = part if known.get(part.id) != part else None
    if not owned and not paid:
        return new, None
    return new, made(
        Stock, part_id=row["id"], owned=parse_quantity(owned, "", OWNED) if owned else 0.0,
        cost=parse_quantity(paid, "", PAID) if paid else None,
    )  # fmt: skip


def _rows(text: str, name: str) -> Iterator[tuple[int, dict[str, str]]]:
    """Each line below the head with its number, as fields by column; empty cells are left out."""
    lines = csv.reader(io.StringIO(text), delimiter=_delimiter(text), strict=True)
    try:
        head = [cell.strip() for cell in next(lines, [])]
        _check_head(head, name)
        for row in lines:
            if not any(cell.strip() for cell in row):
                continue
            if len(row) != len(head):
                what = f"there are {len(row)} cells in this line, {len(head)} in the head"
                raise LanternError(what, f"{name}, line {lines.line_num}", "as many cells in each line as columns")
            if lines.line_num > MOST_PARTS + 1:
                raise LanternError(f"there are more than {MOST_PARTS} parts", name, f"at most {MOST_PARTS}")
            yield (
                lines.line_num,
                {column: from_cell(cell.strip()) for column, cell in zip(head, row, strict=True) if cell.strip()},
            )
    except csv.Error as error:
        raise LanternError(
            f"this is no table ({error})", f"{name}, line {lines.line_num}", "comma-separated values"
        ) from None


def _check_head(head: list[str], name: str) -> None:
    if "id" not in head or len(head) > MOST_COLUMNS:
        raise LanternError("the first line names no column “id”", name, "a head such as kind, id, name, owned")
    twice = next((column for number, column in enumerate(head) if column in head[:number]), None)
    if twice is not None:
        raise LanternError(f"the column “{twice}” stands there twice", f"{name}, line 1", "each column once")


def _delimiter(text: str) -> str:
    """What separates the cells: whichever of comma, semicolon and tab the head uses most."""
    head = text.partition("\n")[0]
    return max(",;\t", key=head.count)
