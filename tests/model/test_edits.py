"""Edits: what they change, what follows along, and that nothing is ever mutated."""

import pytest
from hypothesis import given

from tests.support.builds import builds, one_strip, part
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, Bus
from tiny_lantern.model.edits import fresh_id, item, shifted
from tiny_lantern.model.edits_pieces import (
    add_joint,
    add_strip,
    change_strip,
    change_strip_part,
    duplicate_piece,
    move_piece,
    remove_joint,
    remove_piece,
    toggle_cut,
)  # fmt: skip
from tiny_lantern.model.edits_power import (
    change_supply_part,
    move_feed,
    remove_feed,
    remove_supply,
    set_fuse,
    set_length,
    set_wire,
)  # fmt: skip
from tiny_lantern.model.edits_show import (
    add_effect,
    change_effect,
    duplicate_effect,
    nudge_effect,
    place_effect,
    raise_effect,
    remove_effect,
)  # fmt: skip
from tiny_lantern.model.effects import look_of
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.line import letters
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.store import dumps


@given(builds())
def test_an_edit_leaves_the_build_it_was_given_as_it_was(build: Build) -> None:
    before = dumps(build)
    strip = build.strips[0]
    for edited in (
        change_strip(build, strip.id, pixel_count=1), duplicate_piece(build, strip.id), move_piece(build, strip.id, 1),
        remove_piece(build, strip.id), remove_supply(build, build.supplies[0].id),
        move_feed(build, build.feeds[0].id, 0.0), remove_feed(build, build.feeds[0].id),
    ):  # fmt: skip
        assert isinstance(edited, Build)
    assert dumps(build) == before


def test_a_shorter_strip_keeps_its_feeds_cuts_and_effects_on_it() -> None:
    build = toggle_cut(one_strip(60, feeds=(0, 1)), "strip", 50)
    build = add_effect(build, look_of("steady"), 10, 59, 0, 5)
    short = change_strip(build, "strip", pixel_count=20)
    assert short.strips[0].cuts == ()
    assert short.feeds[1].attach.position_m == pytest.approx(short.strips[0].length_m)
    assert short.line.covered(short.effects[0]) == (10, 20)


def test_another_part_keeps_the_length() -> None:
    build = change_strip_part(one_strip(60), "strip", part("rgbw-5v-30"))
    assert build.strips[0].pixel_count == 30
    assert build.strips[0].colour_order == "GRBW"


def test_removing_a_strip_removes_what_hangs_on_it() -> None:
    build = add_strip(one_strip(30), part("rgb-5v-60"), 30, "Other")
    build = add_effect(add_joint(build, "strip", "other"), look_of("steady"), 0, 40, 0, 5)
    gone = remove_piece(build, "strip")
    assert (gone.feeds, gone.joints, gone.effects) == ((), (), ())
    assert remove_joint(build, "joint").joints == ()


def test_strips_change_places_and_effects_stay_on_their_lights() -> None:
    build = add_strip(one_strip(30), part("rgb-5v-60"), 10, "Other")
    build = add_effect(build, look_of("steady"), 30, 39, 0, 5)
    moved = move_piece(build, "other", -1)
    assert [strip.id for strip in moved.strips] == ["other", "strip"]
    assert moved.line.covered(moved.effects[0]) == (0, 10)


def test_a_feed_stays_on_the_copper_however_far_it_is_dragged() -> None:
    build = one_strip(60)
    assert move_feed(build, "feed", 99).feeds[0].attach.position_m == pytest.approx(1.0)
    assert move_feed(build, "feed", -5).feeds[0].attach.position_m == 0


def test_wire_length_and_fuse_are_set_for_both_conductors() -> None:
    build = set_length(set_wire(one_strip(), "feed", part("awg-18")), "feed", 2.5)
    feed = build.feeds[0]
    assert feed.positive == feed.negative
    assert (feed.positive.wire_id, feed.positive.length_m) == ("awg-18", 2.5)
    assert set_fuse(build, "feed", None).feeds[0].fuse_id is None


def test_a_supply_of_another_kind_takes_its_nominal_voltage() -> None:
    build = change_supply_part(one_strip(), "supply", part("mains-12v-5a"))
    assert build.supplies[0].set_v == 12


def test_an_effect_is_kept_inside_the_weave() -> None:
    build = add_effect(one_strip(60), look_of("blink"), 10, 19, 5, 10)
    at = build.effects[0].id
    far = place_effect(build, at, 55, 65, 58, 10)
    assert far.line.covered(far.effects[0]) == (50, 60)
    assert far.effects[0].start_s == 50
    near = nudge_effect(build, at, -100, -100)
    assert near.line.covered(near.effects[0]) == (0, 10)
    assert near.effects[0].start_s == 0


def test_effects_are_copied_raised_and_removed() -> None:
    build = add_effect(add_effect(one_strip(), look_of("steady"), 0, 9, 0, 5), look_of("blink"), 0, 9, 0, 5)
    raised = raise_effect(build, build.effects[0].id, 1)
    assert [effect.look.kind for effect in raised.effects] == ["blink", "steady"]
    copied = duplicate_effect(build, build.effects[0].id)
    assert copied.effects[-1].start_s == 5
    assert len(remove_effect(build, build.effects[0].id).effects) == 1
    assert change_effect(build, build.effects[0].id, layer="add").effects[0].layer == "add"


def test_ids_are_fresh_and_missing_items_are_told() -> None:
    build = one_strip()
    assert fresh_id(build, "Strip") == "strip-2"
    assert fresh_id(build, "Über ~") == "ber"
    with pytest.raises(LanternError, match="no feed"):
        item(build.feeds, "gone", "feed")
    assert [entry.id for entry in shifted(build.shelf.of(WirePart), build.shelf.of(WirePart)[0].id, 5)]


def test_feeds_are_lettered_past_z() -> None:
    names = letters()
    first = [next(names) for _ in range(28)]
    assert first[0] == "A"
    assert first[25:] == ["Z", "AA", "AB"]
    assert one_strip(feeds=(0, 1)).feed_letters == {"feed": "A", "feed-2": "B"}


@given(builds())
def test_every_slot_is_one_pixel_and_back(build: Build) -> None:
    for slot in (0, build.line.slot_count // 2, build.line.slot_count - 1):
        assert build.line.slot_of(build.line.ref_at(slot)) == slot


def test_the_taps_of_a_bus_stay_on_a_strip_that_gets_shorter() -> None:
    build = one_strip(40)
    bus = Bus(id="bus", strip_id="strip", pos_ohm_per_m=0.02, neg_ohm_per_m=0.02, tap_pixels=(3, 20, 39))
    build = revise(build, buses=(bus,))
    assert change_strip(build, "strip", pixel_count=15).buses[0].tap_pixels == (3, 14)
    assert change_strip(build, "strip", pixel_count=60).buses[0].tap_pixels == (3, 20, 39)
