"""The shelf of generic parts that ships, and look-up by what a part can do."""

from __future__ import annotations

from functools import cache
from importlib import resources

from pydantic import TypeAdapter

from tiny_lantern.catalogue.drawer import Drawer
from tiny_lantern.model.build import Build
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.fuse import FusePart
from tiny_lantern.model.parts.part import Part, Shelf
from tiny_lantern.model.parts.registry import PART_TYPES
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.quantities import parse_quantity


@cache
def shelf() -> Shelf:
    """Every generic part that ships with the program: a file for each kind."""
    data = resources.files("tiny_lantern.catalogue") / "data"
    found: list[Part] = []
    for name, kind in PART_TYPES.items():
        source = data / f"{name}.json"
        if source.is_file():
            found += TypeAdapter(list[kind]).validate_json(source.read_text(encoding="utf-8"))  # type: ignore[valid-type]
    return Shelf(found)


def all_parts(build: Build) -> Shelf:
    """The build's own parts and the others that can be had; of one id the build's own."""
    return build.shelf.with_more(shelf())


def known_parts(build: Build, drawer: Drawer) -> Shelf:
    """Every part that can be had: the build's, the person's own, those that ship; of one id the first."""
    return build.shelf.with_more(drawer.shelf.with_more(shelf()))


def wire_by_text(text: str, parts: Shelf, where: str = "wire") -> WirePart:
    """The wire that a person means by ``18 AWG``, ``1.5 mm2`` or ``0.75``.

    Raises:
        LanternError: no wire of that size is on the shelf.
    """
    for wire in parts.of(WirePart):
        if text.strip().lower() in (wire.name.lower(), wire.id):
            return wire
    area = parse_quantity(text, "mm2", where)
    for wire in parts.of(WirePart):
        if abs(wire.area_mm2 - area) < 0.01 * area:
            return wire
    raise LanternError(
        f"no wire of {area:.3g} mm² is on the shelf", where, ", ".join(w.name for w in parts.of(WirePart))
    )


def fuses_by_rating(parts: Shelf) -> list[FusePart]:
    """Fuses, the smallest rating first."""
    return sorted(parts.of(FusePart), key=lambda fuse: fuse.rating_a)


def supplies_for(parts: Shelf, like: SupplyPart) -> list[SupplyPart]:
    """Supplies of the same kind and voltage, the smallest first."""
    same = [part for part in parts.of(SupplyPart) if part.source == like.source and part.nominal_v == like.nominal_v]
    return sorted(same, key=lambda part: part.rated_a)
