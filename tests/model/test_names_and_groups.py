"""Names of lamps and groups with an order of their own."""

import numpy as np
import pytest

from tests.support.pieces import pier
from tiny_lantern.model.base import revise
from tiny_lantern.model.edits_names import add_group, in_order, note_lamp, order_group, remove_group, take_next
from tiny_lantern.model.edits_pieces import change_piece, remove_piece
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.groups import ORDERS
from tiny_lantern.model.notes import LampNote
from tiny_lantern.model.store import dumps, loads


def lights(piece_id: str, *numbers: int) -> tuple[SlotRef, ...]:
    """Lights of one piece."""
    return tuple(SlotRef(piece_id=piece_id, index=number) for number in numbers)


def order_of(places: list[tuple[float, float]], order: str) -> list[int]:
    """An order of points."""
    return ORDERS[order](np.array(places, float)).tolist()


def test_a_lamp_has_its_own_place_name_else_the_piece_s_counted_from_one() -> None:
    build = note_lamp(pier(), *lights("quay", 3), place="north light", function="ferry at berth")
    quay = build.line.piece("quay")
    assert [quay.place_name(2), quay.place_name(3)] == ["Quay 3", "north light"]
    assert [quay.function_name(2), quay.function_name(3)] == ["", "ferry at berth"]
    assert loads(dumps(build)) == build


def test_a_note_that_says_nothing_goes() -> None:
    build = note_lamp(pier(), *lights("quay", 3), place="x", colour_order="GRB")
    assert note_lamp(build, *lights("quay", 3), place="", colour_order=None) == pier()


def test_what_is_said_of_lamps_that_go_goes_with_them() -> None:
    build = note_lamp(note_lamp(pier(), *lights("quay", 4), place="last"), *lights("quay", 1), place="second")
    build = add_group(build, "Both", lights("quay", 1, 4))
    build = change_piece(build, "quay", lamp_count=3)
    assert [note.place for note in build.line.piece("quay").notes] == ["second"]
    assert build.groups[0].slots == lights("quay", 1)


def test_a_note_past_the_end_is_refused() -> None:
    with pytest.raises(LanternError, match="light 5 is not on “Quay”"):
        note_lamp(pier(), *lights("quay", 5), place="nowhere")
    quay = revise(pier().line.piece("quay"), notes=(LampNote(index=5, place="nowhere"),))
    with pytest.raises(LanternError, match="light 5 is not on “Quay”"):
        revise(pier(), pieces=(quay,))
    quay = revise(quay, notes=(LampNote(index=2, place="a"), LampNote(index=1, place="b")))
    with pytest.raises(LanternError, match="out of order"):
        revise(pier(), pieces=(quay,))


def test_a_group_keeps_what_is_left_when_a_piece_goes_and_goes_with_the_last() -> None:
    build = add_group(pier(), "Two", lights("quay", 0, 1) + lights("flood", 0))
    build = remove_piece(build, "quay")
    assert build.groups[0].slots == lights("flood", 0)
    assert remove_piece(build, "flood").groups == ()


def test_orders_follow_the_picture_and_not_the_wire() -> None:
    square = [(1, 1), (0, 1), (0, 0), (1, 0)]
    assert order_of(square, "left to right") == [1, 2, 0, 3]
    assert order_of(square, "right to left") == [0, 3, 1, 2]
    assert order_of(square, "top to bottom") == [0, 1, 2, 3]
    assert order_of(square, "bottom to top") == [2, 3, 0, 1]
    assert order_of(square, "round the middle") == [0, 3, 2, 1]
    assert order_of(square, "as wired") == [0, 1, 2, 3]


def test_rings_are_taken_from_outside_in_each_clockwise_from_the_top() -> None:
    inner = [(0.1, 0.0), (0.0, 0.1), (-0.1, 0.0), (0.0, -0.1)]
    outer = [(x * 10, y * 10) for x, y in inner]
    assert order_of(inner + outer, "inward rings") == [5, 4, 7, 6, 1, 0, 3, 2]
    assert order_of(inner + outer, "outward rings") == [2, 3, 0, 1, 6, 7, 4, 5]


def test_a_group_is_ordered_by_hand_one_light_after_the_other() -> None:
    build = add_group(pier(), "Quay", lights("quay", 0, 1, 2))
    group = build.groups[0].id
    build = take_next(build, group, *lights("quay", 2), 0)
    assert build.groups[0].slots == lights("quay", 2, 0, 1)
    build = take_next(build, group, *lights("quay", 4), 1)
    assert build.groups[0].slots == lights("quay", 2, 4, 0, 1)
    assert order_group(build, group, "left to right").groups[0].slots == lights("quay", 0, 1, 2, 4)
    assert remove_group(build, group).groups == ()


def test_a_group_of_nothing_or_of_a_light_twice_is_refused() -> None:
    with pytest.raises(LanternError, match="no lights"):
        add_group(pier(), "None", ())
    with pytest.raises(LanternError, match="twice"):
        add_group(pier(), "Twice", lights("quay", 1, 1))
    assert in_order(pier(), (), "left to right") == ()
