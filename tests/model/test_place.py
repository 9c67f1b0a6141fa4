"""Places: what is selected and where a finding is."""

from dataclasses import replace

from tests.support.builds import one_strip
from tiny_lantern.model.effects import SlotRef
from tiny_lantern.model.place import Place, Ref


def test_things_of_one_kind_take_the_place_of_those_before() -> None:
    place = Place.at("strip", 3, Ref("feeds", "a"), Ref("supplies", "s")).about("feeds", "b", "c")
    assert place.all("feeds") == ("b", "c")
    assert place.one("supplies") == "s"
    assert place.about("feeds").refs == (Ref("supplies", "s"),)


def test_the_piece_of_a_light_goes_before_the_piece_it_is_about() -> None:
    assert Place.at("strip", 3, Ref("pieces", "other")).piece_id == "strip"
    assert Place.on("pieces", "other").piece_id == "other"
    assert Place().piece_id is None


def test_it_is_the_same_thing_whichever_light_or_moment_is_the_worst() -> None:
    one, other = Place.at("strip", 3, Ref("effects", "e")), Place.at("strip", 9, Ref("effects", "e"))
    assert one.thing == replace(other, time_s=2.0).thing
    assert one.thing != Place.at("strip", 3).thing
    assert one.thing != Place.at("else", 3, Ref("effects", "e")).thing


def test_what_a_build_does_not_have_leaves_the_place() -> None:
    build = one_strip(20)
    there = Place(SlotRef(piece_id="strip", index=5), SlotRef(piece_id="strip", index=19), (Ref("feeds", "feed"),))
    assert there.within(build) == there
    past = replace(there, last=SlotRef(piece_id="strip", index=20), refs=(Ref("feeds", "gone"), Ref("feeds", "feed")))
    assert past.within(build) == Place.on("feeds", "feed")
    assert Place.at("gone", 0).within(build) == Place()


def test_its_record_tells_what_there_is() -> None:
    assert Place().record() == {}
    place = replace(Place.at("strip", 3, Ref("feeds", "a")), time_s=1.5)
    assert place.record() == {
        "first": {"piece_id": "strip", "index": 3}, "refs": [{"kind": "feeds", "id": "a"}], "time_s": 1.5
    }  # fmt: skip
