"""Finding things by a word; pieces as text."""

import json

import pytest

from tests.support.builds import part
from tests.support.driven import TINY, driven, lamps, matrix, railed
from tests.support.pieces import pier
from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.bill import bill_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.clip import clip_text, parts_of, pasted
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.edits_drive import feed_board
from tiny_lantern.model.edits_names import add_group, note_lamp
from tiny_lantern.model.edits_pieces import add_joint, add_piece, add_strip, change_piece
from tiny_lantern.model.edits_show import add_effect
from tiny_lantern.model.effects import SlotRef, look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.find import found_in
from tiny_lantern.model.parts.lamp import LampPart
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.pin_needs import board_needs, pins_of
from tiny_lantern.plans.paste import paste
from tiny_lantern.plans.rewire import change_way
from tiny_lantern.plans.ways import drive_piece
from tiny_lantern.ui.files import demo_build


def quay(index: int) -> SlotRef:
    """A lamp of the quay."""
    return SlotRef(piece_id="quay", index=index)


def named_pier() -> Build:
    """A pier with a name, a group, a joint and effects."""
    build = note_lamp(pier(), quay(2), place="north light", function="ferry at berth")
    build = add_group(build, "Quay round", [quay(4), quay(0)], "right to left")
    build = add_strip(build, shelf().of(StripPart)[0], 5, "Gangway")
    build = add_joint(build, "deck", "gangway")
    first = next(span for span in build.line.spans if span.piece.id == "quay")
    build = add_effect(build, look_of("wheel"), first.first + 1, first.stop - 1, 2.0, 9.0)
    return add_effect(build, look_of("steady"), 0, build.line.slot_count - 1, 0.0, 9.0)


def test_lamps_are_found_by_either_name_and_by_number_from_nought_and_from_one() -> None:
    build = named_pier()
    for word in ("north li", "FERRY"):
        assert found_in(build, word)[0].place.first == quay(2)
    assert [found.place.first.index for found in found_in(build, "quay 3")][:2] == [2, 3]
    by_number = found_in(build, "20")
    assert [build.line.slot_of(found.place.first) for found in by_number[:2]] == [20, 19]
    assert found_in(build, "99999") == []


def test_what_begins_so_comes_before_what_only_has_it_inside() -> None:
    titles = [found.title for found in found_in(demo_build("pier"), "deck")]
    assert titles[:3] == ["Deck lamps", "Deck edge", "Deck box"]
    assert found_in(demo_build("pier"), "  ") == []


@pytest.mark.parametrize(
    ("word", "kind"),
    [("carousel round", "groups"), ("feed a", "feeds"), ("deck box", "supplies"), ("wheel", "effects")],
)
def test_each_kind_of_thing_is_found_and_can_be_selected(word: str, kind: str) -> None:
    build = demo_build("pier")
    found = found_in(build, word)[0]
    assert found.place.one(kind) is not None
    assert found.place.within(build) == found.place


def test_pieces_come_back_from_text_with_all_that_is_theirs() -> None:
    build = named_pier()
    after = pasted(build, clip_text(build, ("quay", "deck", "gangway")))
    new = after.pieces[len(build.pieces) :]
    assert [piece.name for piece in new] == ["Deck 2", "Quay 2", "Gangway 2"]
    assert new[1].place_name(2) == "north light"
    assert after.parts == build.parts
    assert [(joint.from_strip_id, joint.to_strip_id) for joint in after.joints[1:]] == [(new[0].id, new[2].id)]
    assert [(ref.piece_id, ref.index) for ref in after.groups[1].slots] == [(new[1].id, 4), (new[1].id, 0)]
    (laid,) = after.effects[2:]
    assert (laid.look.kind, laid.first.piece_id, laid.first.index, laid.last.index) == ("wheel", new[1].id, 1, 4)


def test_pieces_go_into_an_empty_build_as_they_were() -> None:
    build = named_pier()
    after = pasted(Build(), clip_text(build, [piece.id for piece in build.pieces]))
    assert after.pieces == build.pieces
    assert {part.id for part in after.parts} == {piece.part_id for piece in build.pieces}
    assert len(after.effects) == 2


def test_driven_pieces_bring_their_drive_into_an_empty_build() -> None:
    build = demo_build("pier")
    after = paste(Build(), clip_text(build, [piece.id for piece in build.pieces]))
    assert [driver.kind for driver in after.drivers] == [driver.kind for driver in build.drivers]
    assert [c.wanted_a for c in after.channels] == [c.wanted_a for c in build.channels]
    assert [c.resistor_ohm for c in after.channels] == [c.resistor_ohm for c in build.channels]
    assert [board.part_id for board in after.boards] == [board.part_id for board in build.boards]
    needs = board_needs(after, after.boards[0].id)
    assert len(pins_of(after, after.boards[0].id)) == len(needs)
    assert [result.on_a.tolist() for result in solve_drive(after).by_driver.values()] == [
        result.on_a.tolist() for result in solve_drive(build).by_driver.values()
    ]


def test_a_driven_piece_pasted_beside_itself_has_a_drive_of_its_own_on_the_same_board() -> None:
    build = driven("register")
    after = paste(build, clip_text(build, ["lamps"]))
    one, other = after.drivers
    assert (one.board_id, other.board_id) == (build.boards[0].id, build.boards[0].id)
    assert after.channels_of[other.id][0].slots[0].piece_id == after.pieces[1].id
    pins = [pin.pin for driver in after.drivers for pin in driver.pins]
    assert len(set(pins)) == len(pins) == 6
    full = driven("pin", board=TINY)
    twice = paste(full, clip_text(full, ["lamps"]))
    assert len(twice.drivers) == 2
    assert twice.drivers[1].pins == (), "five pins do not hold eight lamps; the finding says so"


def test_a_chain_that_shares_lines_is_pasted_with_lines_of_its_own_or_those_that_come_along() -> None:
    build = add_piece(driven("register"), part("led-red-5mm"), lamps().model_copy(update={"id": "more", "name": "M"}))
    second = build.pieces[-1].id
    build = drive_piece(build, second, "register")
    shared = change_way(build, build.drivers[1].id, bus_of=build.drivers[0].id)
    alone = paste(Build(), clip_text(shared, [second]))
    assert alone.drivers[0].bus_of is None  # type: ignore[union-attr]
    both = paste(Build(), clip_text(shared, ["lamps", second]))
    assert both.drivers[1].bus_of == both.drivers[0].id  # type: ignore[union-attr]


def test_a_part_that_differs_from_the_build_s_own_keeps_its_figures_under_a_new_id() -> None:
    build = pier()
    own = build.shelf.find(LampPart, "led-white-5mm")
    other = change_parts(build, revise(own, cost=3.0))
    after = pasted(build, clip_text(other, ("quay",)))
    came = after.shelf.find(LampPart, after.pieces[-1].part_id)
    assert (came.cost, came.id) == (3.0, "led-white-5mm-2")
    assert after.shelf.find(LampPart, "led-white-5mm") == own


@pytest.mark.parametrize("text", ["", "hello", "[]", '{"format": "else"}', "[" * 100_000, "x" * 9_000_000])
def test_text_that_is_no_pieces_is_refused_in_one_line(text: str) -> None:
    with pytest.raises(LanternError) as refused:
        pasted(pier(), text)
    assert len(refused.value.sentence()) < 200


def test_pieces_that_are_not_whole_are_refused() -> None:
    data = json.loads(clip_text(named_pier(), ("quay",)))
    for spoil in ({"parts": []}, {"pieces": []}, {"joints": [{"id": "j", "from_strip_id": "a", "to_strip_id": "b"}]}):
        with pytest.raises(LanternError):
            pasted(Build(), json.dumps({**data, **spoil}))
    drive = json.loads(clip_text(driven("register"), ("lamps",)))
    for lacking in ("drivers", "boards", "parts"):
        with pytest.raises(LanternError, match="not whole"):
            pasted(Build(), json.dumps({**drive, lacking: []}))
    with pytest.raises(LanternError, match="nothing selected"):
        clip_text(pier(), ())


def test_a_matrix_is_pasted_with_its_row_transistors() -> None:
    build = driven("scanned", matrix(), rows_by="transistor")
    came = paste(Build(), clip_text(build, ["matrix"]))
    driver = came.drivers[0]
    assert driver.row_transistor_id in {each.id for each in came.parts}  # type: ignore[attr-defined]
    (line,) = (line for line in bill_of(came) if line.part_id == driver.row_transistor_id)  # type: ignore[attr-defined]
    assert line.amount == 8
    assert parts_of(driver) == parts_of(build.drivers[0])


def test_pieces_on_a_board_that_a_rail_feeds_go_into_an_empty_build() -> None:
    build = railed()
    build = feed_board(build, build.boards[0].id, build.rails[0].id)
    came = paste(Build(), clip_text(build, ["lamps"]))
    assert came.boards[0].fed_by is None
    assert len(came.channels) == 10


def test_a_name_without_a_latin_letter_can_have_many_lamps_on_registers_twice_over() -> None:
    build = driven("register", revise(lamps(9), name="灯笼"))
    assert len(build.channels) == 9
    again = paste(build, clip_text(build, [build.pieces[0].id]))
    assert len(again.channels) == 18
    more = change_piece(again, build.pieces[0].id, lamp_count=12)
    assert len({channel.id for channel in more.channels}) == 21
