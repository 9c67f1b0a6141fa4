"""Which parts each kind of piece is offered with."""

import pytest

from tiny_lantern.catalogue.kinds import OFFERED
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.model.parts.lamp import LampPart


def ids_of(kind_id: str) -> set[str]:
    """The ids of the parts that a kind may be of."""
    kind = next(kind for kind in OFFERED if kind.id == kind_id)
    return {part.id for part in kind.parts(shelf())}


def test_every_kind_has_a_part_and_makes_a_piece_of_each() -> None:
    for kind in OFFERED:
        parts = kind.parts(shelf())
        assert parts, kind.id
        for part in parts:
            assert kind.make(part).part_id == part.id


@pytest.mark.parametrize(("kind_id", "dies"), [("single", {1}), ("two-colour", {2}), ("colour", {3, 4})])
def test_lamps_of_so_many_colours_are_offered_where_they_belong(kind_id: str, dies: set[int]) -> None:
    found = {len(shelf().find(LampPart, part_id).dies) for part_id in ids_of(kind_id)}
    assert found
    assert found <= dies


def test_no_lamp_is_of_one_colour_and_of_several() -> None:
    assert not ids_of("single") & (ids_of("colour") | ids_of("two-colour") | ids_of("hold"))
    assert not ids_of("loose") & ids_of("colour")
