"""The drawer: a person's own parts, shared between builds, and how many of each part there are."""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Iterable
from functools import cached_property
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Frozen, Id, Money, made, revise
from tiny_lantern.model.disk import read_bytes, write_atomically
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.registry import AnyPart
from tiny_lantern.model.store import parsed, with_tuples

FORMAT: Literal["tiny-lantern-parts"] = "tiny-lantern-parts"
MOST_PARTS = 5000
MOST_BYTES = 8_000_000


class Stock(Frozen):
    """How many of a part are owned (metres of what is cut from a roll), and what one cost where that is known."""

    part_id: Id
    owned: Annotated[float, Field(ge=0, le=1e6)] = 0.0
    cost: Money | None = None


class Drawer(Frozen):
    """Own parts and stock, as its file holds them."""

    format: Literal["tiny-lantern-parts"] = FORMAT
    version: Literal[1] = 1
    parts: Annotated[tuple[AnyPart, ...], Field(max_length=MOST_PARTS)] = ()
    stock: Annotated[tuple[Stock, ...], Field(max_length=MOST_PARTS)] = ()

    @model_validator(mode="after")
    def _each_once(self) -> Drawer:
        for what, ids in (("parts", [p.id for p in self.parts]), ("stock", [s.part_id for s in self.stock])):
            twice = next((one for one, count in Counter(ids).items() if count > 1), None)
            if twice is not None:
                raise LanternError(f"“{twice}” stands there twice", what, "each id once")
        return self

    @cached_property
    def shelf(self) -> Shelf:
        """The own parts, by kind and by id."""
        return Shelf(self.parts)

    @cached_property
    def stocked(self) -> dict[str, Stock]:
        """What is said of the stock, by the part's id."""
        return {each.part_id: each for each in self.stock}

    def stock_of(self, part_id: str) -> Stock:
        """What is owned of a part; none where nothing is said."""
        return self.stocked.get(part_id) or Stock(part_id=part_id)


def with_own(drawer: Drawer, part: Part) -> Drawer:
    """The drawer with an own part; one of its id is replaced."""
    kept = [own for own in drawer.parts if own.id != part.id]
    at = next((number for number, own in enumerate(drawer.parts) if own.id == part.id), len(kept))
    return revise(drawer, parts=(*kept[:at], part, *kept[at:]))


def without_own(drawer: Drawer, part_id: str) -> Drawer:
    """The drawer without an own part; what is owned of it stays said.

    Raises:
        LanternError: there is no such own part.
    """
    if all(own.id != part_id for own in drawer.parts):
        raise LanternError(f"“{part_id}” is no part of your own", "parts", "one that you made")
    return revise(drawer, parts=tuple(own for own in drawer.parts if own.id != part_id))


def with_stock(drawer: Drawer, part_id: str, owned: float, cost: float | None) -> Drawer:
    """The drawer with so many of a part, at a cost of its own where one is given.

    Args:
        drawer: the drawer.
        part_id: the part.
        owned: how many, or how many metres. [-]
        cost: what one costs; None for the part's own figure. [-]

    Raises:
        LanternError: the amount or the cost is none.
    """
    new = made(Stock, part_id=part_id, owned=owned, cost=cost)
    kept = [each for each in drawer.stock if each.part_id != part_id]
    return revise(drawer, stock=(*kept, new) if new != Stock(part_id=part_id) else tuple(kept))


def merged(drawer: Drawer, other: Drawer) -> Drawer:
    """A drawer with the parts and the stock of another one, which win where both say something."""
    parts = {part.id: part for part in drawer.parts} | {part.id: part for part in other.parts}
    stock = {each.part_id: each for each in drawer.stock if each.part_id not in other.stocked}
    told = (each for each in other.stock if each != Stock(part_id=each.part_id))
    return revise(drawer, parts=tuple(parts.values()), stock=(*stock.values(), *told))


def offered(parts: Iterable[Part], drawer: Drawer) -> list[tuple[str, Part]]:
    """Parts with the words to choose them by: those that are owned first, with how many, then the others."""
    found = list(parts)
    owned = {part.id: drawer.stock_of(part.id).owned for part in found}
    return [
        (f"{part.name} · {owned[part.id]:g} owned" if owned[part.id] else part.name, part)
        for part in sorted(found, key=lambda part: owned[part.id] <= 0)
    ]


def dumps(drawer: Drawer) -> str:
    """The drawer as text: two spaces, a newline at the end."""
    return json.dumps(drawer.model_dump(mode="json"), indent=2, ensure_ascii=False, allow_nan=False) + "\n"


def loads(text: str, name: str = "the text") -> Drawer:
    """Read a drawer from text.

    Args:
        text: a parts file's content.
        name: how messages call it.

    Raises:
        LanternError: it is no parts file, with the place.
    """
    data = parsed(text, name)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise LanternError("this is no file of parts", name, f"a file whose “format” is “{FORMAT}”")
    try:
        return made(Drawer, **with_tuples(data))
    except LanternError as error:
        raise LanternError(error.what, f"{name}: {error.where}" if error.where else name, error.accepted) from None
    except RecursionError:
        raise LanternError("brackets are nested too deeply", name, "a file of parts") from None


def text_of(path: Path) -> str:
    """The text of a file of parts.

    Raises:
        LanternError: it cannot be read, is too large, or is no UTF-8 text.
    """
    content = read_bytes(path, MOST_BYTES)
    try:
        return content.decode("utf-8").removeprefix("\ufeff")
    except UnicodeDecodeError as error:
        raise LanternError(f"byte {error.start} is not UTF-8 text", path.name, "a UTF-8 file of parts") from None


def load(path: Path, needed: bool = False) -> Drawer:
    """The drawer in a file; an empty one where there is no file, unless it is needed.

    Raises:
        LanternError: the file cannot be read or is no parts file.
    """
    return loads(text_of(path), path.name) if needed or path.exists() else Drawer()


def save(drawer: Drawer, path: Path) -> None:
    """Write a drawer, whole or not at all.

    Raises:
        LanternError: the folder cannot be written.
    """
    write_atomically(path, dumps(drawer).encode("utf-8"))
