"""What a build still needs bought: its bill against what lies in the drawer."""

from __future__ import annotations

import math
from dataclasses import dataclass

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.part import BillLine


@dataclass(frozen=True)
class ShoppingLine:
    """One line: what the build uses, how much of it is owned, what is still to buy, and what that costs."""

    line: BillLine
    owned: float
    to_buy: float
    cost: float


def shopping_list(build: Build, drawer: Drawer) -> tuple[ShoppingLine, ...]:
    """The bill of a build with what is owned; a cost of the person's own goes before the shelf's guide price.

    Args:
        build: the build.
        drawer: what is owned.
    """
    return tuple(_line(line, drawer) for line in bill_of(build))


def _line(line: BillLine, drawer: Drawer) -> ShoppingLine:
    stock = drawer.stock_of(line.part_id)
    owned = min(stock.owned, line.amount)
    to_buy = line.amount - owned if line.unit else float(math.ceil(line.amount - owned))
    each = stock.cost if stock.cost is not None else line.cost / line.amount if line.amount else 0.0
    return ShoppingLine(line, owned, round(to_buy, 3), to_buy * each)
