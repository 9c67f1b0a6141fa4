"""The Line: every light of the build on one axis, in wiring order."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Mapping
from dataclasses import dataclass

from tiny_lantern.model.build import Build, OnStrip, Strip
from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError


@dataclass(frozen=True)
class Span:
    """The slots of one strip: ``first`` to ``stop`` (not included) on the Line."""

    strip: Strip
    first: int

    @property
    def stop(self) -> int:
        """The slot after the last one of this strip."""
        return self.first + self.strip.pixel_count


def spans(build: Build) -> tuple[Span, ...]:
    """Each strip with its slots, in wiring order."""
    found, first = [], 0
    for strip in build.strips:
        found.append(Span(strip, first))
        first += strip.pixel_count
    return tuple(found)


def wired(build: Build) -> tuple[Hashable, ...]:
    """All that the Line sees of the strips: everything but where they lie in the picture."""
    return tuple(strip.unplaced for strip in build.strips)


def slot_count(build: Build) -> int:
    """Lights on the Line."""
    return sum(strip.pixel_count for strip in build.strips)


def slot_of(build: Build, ref: SlotRef) -> int:
    """The slot of one pixel of a strip."""
    return next(span.first for span in spans(build) if span.strip.id == ref.strip_id) + ref.pixel


def ref_at(build: Build, slot: int) -> SlotRef:
    """The pixel at a slot; slots beyond either end give the nearest light."""
    inside = max(0, min(slot, slot_count(build) - 1))
    span = next(span for span in spans(build) if inside < span.stop)
    return SlotRef(strip_id=span.strip.id, pixel=inside - span.first)


def starts(build: Build) -> dict[str, int]:
    """The slot of the first light of each strip, by the strip's id."""
    return {span.strip.id: span.first for span in spans(build)}


def effect_slots(build: Build, effect: Effect) -> tuple[int, int]:
    """First slot and the slot after the last that an effect covers."""
    return covered(starts(build), effect)


def covered(first_slots: Mapping[str, int], effect: Effect) -> tuple[int, int]:
    """First slot and the slot after the last that an effect covers, where many effects are asked for.

    Args:
        first_slots: the build's ``starts``.
        effect: one of its effects.
    """
    one, other = (first_slots[end.strip_id] + end.pixel for end in (effect.first, effect.last))
    return min(one, other), max(one, other) + 1


def find_strip(build: Build, strip_id: str) -> Strip:
    """The strip with an id.

    Raises:
        LanternError: there is none.
    """
    for strip in build.strips:
        if strip.id == strip_id:
            return strip
    raise LanternError(f"there is no strip “{strip_id}” in this build", "strip", "one that is listed")


def letters() -> Iterator[str]:
    """Feed letters A, B … Z, AA, AB …"""
    number = 0
    while True:
        text, rest = "", number
        while rest >= 0:
            text = chr(ord("A") + rest % 26) + text
            rest = rest // 26 - 1
        yield text
        number += 1


def feed_letters(build: Build) -> dict[str, str]:
    """The letter that stands for each feed, by id, in the order of the build."""
    return {feed.id: letter for feed, letter in zip(build.feeds, letters(), strict=False)}


def strip_of_feed(build: Build, feed_id: str) -> str | None:
    """The strip a feed is on; None for a feed on a bus."""
    feed = next(feed for feed in build.feeds if feed.id == feed_id)
    return feed.attach.strip_id if isinstance(feed.attach, OnStrip) else None
