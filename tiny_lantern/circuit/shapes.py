"""How an element is drawn: its shape, and which of its terminals stands above which."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Shape:
    """The name of a shape; by which terminals, as numbers among its nodes, its current passes from above to below, none
    where a way ends at it; and which of them are drawn aside, since they steer it or carry back what it takes."""

    name: str
    ways: tuple[tuple[int, int], ...] = ()
    aside: tuple[int, ...] = ()


DOWN = ((0, 1),)
BOTH_WAYS = ((0, 1), (1, 0))
