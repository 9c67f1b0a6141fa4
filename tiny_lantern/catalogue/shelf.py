"""The shelf of generic parts that ships, and look-up by what a part can do."""

from __future__ import annotations

from functools import cache
from importlib import resources

from pydantic import TypeAdapter

from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts import FusePart, Part, PartShelf, SupplyPart, WirePart
from tiny_lantern.model.quantities import parse_quantity
from tiny_lantern.model.references import SHELF_FIELDS


@cache
def shelf() -> PartShelf:
    """Every generic part that ships with the program."""
    data = resources.files("tiny_lantern.catalogue") / "data"
    texts = {field: (data / f"{field}.json").read_text(encoding="utf-8") for field in SHELF_FIELDS}
    return PartShelf.model_validate({field: TypeAdapter(list).validate_json(text) for field, text in texts.items()})


def find_part(parts: PartShelf, part_id: str) -> Part:
    """The part with an id.

    Raises:
        LanternError: the shelf has none.
    """
    for field in SHELF_FIELDS:
        for part in getattr(parts, field):
            if part.id == part_id:
                return part
    raise LanternError(f"no part has the id “{part_id}”", "parts", "an id from the shelf of parts")


def merged(own: PartShelf, more: PartShelf) -> PartShelf:
    """Both shelves; where an id stands on both, the first one's part wins."""
    fields = {}
    for field in SHELF_FIELDS:
        mine = getattr(own, field)
        known = {part.id for part in mine}
        fields[field] = mine + tuple(part for part in getattr(more, field) if part.id not in known)
    return PartShelf(**fields)


def wire_by_text(text: str, parts: PartShelf, where: str = "wire") -> WirePart:
    """The wire that a person means by ``18 AWG``, ``1.5 mm2`` or ``0.75``.

    Raises:
        LanternError: no wire of that size is on the shelf.
    """
    for wire in parts.wires:
        if text.strip().lower() in (wire.name.lower(), wire.id):
            return wire
    area = parse_quantity(text, "mm2", where)
    for wire in parts.wires:
        if abs(wire.area_mm2 - area) < 0.01 * area:
            return wire
    raise LanternError(f"no wire of {area:.3g} mm² is on the shelf", where, ", ".join(w.name for w in parts.wires))


def fuses_by_rating(parts: PartShelf) -> list[FusePart]:
    """Fuses, the smallest rating first."""
    return sorted(parts.fuses, key=lambda fuse: fuse.rating_a)


def supplies_for(parts: PartShelf, like: SupplyPart) -> list[SupplyPart]:
    """Supplies of the same kind and voltage, the smallest first."""
    same = [part for part in parts.supplies if part.kind == like.kind and part.nominal_v == like.nominal_v]
    return sorted(same, key=lambda part: part.rated_a)
