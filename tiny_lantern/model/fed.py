"""What feeds something: a supply or a rail by its id, or a pin of a board."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Literal

from tiny_lantern.model.base import Frozen, Id
from tiny_lantern.model.refers import Refers

BoardOutlet = Literal["logic", "fed"]


class FedBy(Frozen):
    """A source: a supply, a rail, or, of a board, the pin that gives: ``logic`` is what its own regulator makes for its
    pins, ``fed`` the voltage that it is fed with itself."""

    id: Annotated[Id, Refers("sources")]
    pin: BoardOutlet | None = None


def unfed(thing: Frozen, ids: Collection[str]) -> dict[str, None]:
    """The fields of a thing that name sources which go, each to be emptied.

    Args:
        thing: the thing.
        ids: the ids of what goes.
    """
    return {name: None for name, value in thing if isinstance(value, FedBy) and value.id in ids}
