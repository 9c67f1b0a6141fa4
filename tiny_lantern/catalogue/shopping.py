"""What a build still needs bought: its bill against what lies in the drawer."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.model.parts.part import BillLine


@dataclass(frozen=True)
class ShoppingLine:
    """One line: what the build uses, how much of it is owned, what is still to buy, and what that costs."""

    line: BillLine
    owned: float
    to_buy: float
    cost: float


def shopping_list(bill: Iterable[BillLine], drawer: Drawer) -> tuple[ShoppingLine, ...]:
    """A bill with what is owned; a cost of the person's own goes before the shelf's guide price.

    Args:
        bill: the lines of the bill.
        drawer: what is owned.
    """
    return tuple(_line(line, drawer) for line in bill)


def _line(line: BillLine, drawer: Drawer) -> ShoppingLine:
    stock = drawer.stock_of(line.part_id)
    owned = min(stock.owned, line.amount)
    to_buy = line.amount - owned if line.unit else float(math.ceil(line.amount - owned))
    each = stock.cost if stock.cost is not None else line.cost / line.amount if line.amount else 0.0
    return ShoppingLine(line, owned, round(to_buy, 3), to_buy * each)
