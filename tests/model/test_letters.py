"""Feeds keep their letters: they stand on labels by then."""

import pytest

from tests.support.builds import one_strip, part
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_pieces import add_strip
from tiny_lantern.model.edits_power import add_feed, move_feed, remove_feed
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.letters import keep_letters
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.store import dumps, loads


def wired(build: Build, strip: int, place_m: float) -> Build:
    """A build with one feed more, its letters kept."""
    wire = next(each for each in build.parts if isinstance(each, WirePart))
    return keep_letters(build, add_feed(build, build.supplies[0].id, build.strips[strip].id, place_m, wire))


def two_rails() -> Build:
    """Two strips of a metre, fed at A and B, and at C and D."""
    build = add_strip(one_strip(60, feeds=(0.0, 1.0)), part("rgb-5v-60"), 60, "Second")
    return wired(wired(build, 1, 0.0), 1, 1.0)


def letters_of(build: Build) -> dict[str, str]:
    return {f"{feed.attach.strip_id} {feed.attach.position_m:g}": build.feed_letters[feed.id] for feed in build.feeds}


def test_feeds_of_one_rail_that_go_leave_the_letters_of_the_other_alone() -> None:
    build = two_rails()
    first, second = (strip.id for strip in build.strips)
    for feed in build.feeds[:2]:
        build = keep_letters(build, remove_feed(build, feed.id))
    assert letters_of(build) == {f"{second} 0": "C", f"{second} 1": "D"}
    build = wired(build, 0, 0.5)
    assert letters_of(build)[f"{first} 0.5"] == "A"


def test_new_ones_follow_in_the_order_of_the_line() -> None:
    build = two_rails()
    first, second = (strip.id for strip in build.strips)
    more = build
    wire = next(each for each in build.parts if isinstance(each, WirePart))
    for strip, place_m in ((second, 0.7), (first, 0.6), (second, 0.2), (first, 0.3)):
        more = add_feed(more, build.supplies[0].id, strip, place_m, wire)
    found = letters_of(keep_letters(build, more))
    new = {f"{first} 0.3": "E", f"{first} 0.6": "F", f"{second} 0.2": "G", f"{second} 0.7": "H"}
    assert {place: found[place] for place in new} == new
    assert list(letters_of(build).items()) == list(found.items())[:4]


def test_a_feed_that_is_moved_past_another_keeps_its_letter_and_files_keep_it_too() -> None:
    build = two_rails()
    moved = keep_letters(build, move_feed(build, build.feeds[0].id, 0.9))
    assert [feed.letter for feed in loads(dumps(moved)).feeds] == ["A", "B", "C", "D"]


def test_a_letter_at_two_feeds_is_refused() -> None:
    build = two_rails()
    one, other = (revise(feed, letter="Q") for feed in build.feeds[:2])
    with pytest.raises(LanternError, match="letter Q stands at two feeds"):
        revise(build, feeds=(one, other))
