"""What every generic part has, and a shelf of them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import TypeVar

from tiny_lantern.model.base import Frozen, Id, Name
from tiny_lantern.model.errors import LanternError

P = TypeVar("P", bound="Part")


class Part(Frozen):
    """Something that can be bought, described by its parameters; each kind adds its own.

    A build keeps a copy of each part that it uses.
    """

    kind: str
    id: Id
    name: Name

    def bill(self, used: Use) -> BillLine:
        """A line of the shopping list for so much of it; those sold by the metre say so themselves."""
        return BillLine(used.count, "", self.name, used.count * float(getattr(self, "cost", 0.0)), self.id)


@dataclass(frozen=True)
class Use:
    """How much of a part a build uses: pieces of it, and metres where it is cut from a roll."""

    count: int = 0
    length_m: float = 0.0


@dataclass(frozen=True)
class BillLine:
    """One line of the shopping list: how much of what, and what it costs."""

    amount: float
    unit: str
    name: str
    cost: float
    part_id: str = ""


class Shelf:
    """Parts by kind and by id.

    Args:
        parts: the parts, ids unique.
    """

    def __init__(self, parts: Iterable[Part] = ()) -> None:
        self._by_id = {part.id: part for part in parts}
        self._by_type: dict[type[Part], tuple[Part, ...]] = {}
        self._with_more: tuple[Shelf, Shelf] | None = None

    def __iter__(self) -> Iterator[Part]:
        return iter(self._by_id.values())

    def of(self, kind: type[P]) -> tuple[P, ...]:
        """All parts of a kind, in order."""
        if kind not in self._by_type:
            self._by_type[kind] = tuple(part for part in self if isinstance(part, kind))
        return self._by_type[kind]  # type: ignore[return-value]

    def find(self, kind: type[P], part_id: str) -> P:
        """The part of a kind with an id.

        Raises:
            LanternError: there is none.
        """
        found = self._by_id.get(part_id)
        if isinstance(found, kind):
            return found
        raise LanternError(f"there is no part of this kind with the id “{part_id}”", "parts", "one that is listed")

    def with_more(self, other: Shelf) -> Shelf:
        """This shelf and another one, kept for the next time; where an id stands on both, this one's part wins."""
        if self._with_more is None or self._with_more[0] is not other:
            self._with_more = other, Shelf((*self, *(part for part in other if part.id not in self._by_id)))
        return self._with_more[1]
