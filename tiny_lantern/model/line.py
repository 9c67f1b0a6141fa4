"""The Line: every light of the build on one axis, in wiring order."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.effects import Effect, SlotRef
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.strip import Strip

MOST_SLOTS = 2**62


@dataclass(frozen=True)
class Span:
    """The slots of one strip: ``first`` to ``stop`` (not included) on the Line."""

    strip: Strip
    first: int

    @property
    def stop(self) -> int:
        """The slot after the last one of this strip."""
        return self.first + self.strip.pixel_count


class Line:
    """The slots of a build in wiring order, compiled once so that a light is found without walking the Line.

    Args:
        strips: the strips in wiring order.
    """

    def __init__(self, strips: tuple[Strip, ...]) -> None:
        found, first = [], 0
        for strip in strips:
            found.append(Span(strip, first))
            first += strip.pixel_count
        self.spans: tuple[Span, ...] = tuple(found)
        self.slot_count: int = first
        self._firsts = [span.first for span in found]
        self._numbers = {strip.id: number for number, strip in enumerate(strips)}

    @cached_property
    def wired(self) -> tuple[Hashable, ...]:
        """All that the Line sees of the strips: everything but where they lie in the picture."""
        return tuple(span.strip.unplaced for span in self.spans)

    def number(self, strip_id: str) -> int:
        """Which strip along the Line this is, from 0.

        Raises:
            LanternError: there is no such strip.
        """
        try:
            return self._numbers[strip_id]
        except KeyError:
            raise LanternError(f"there is no strip “{strip_id}” in this build", "strip", "one that is listed") from None

    def span(self, strip_id: str) -> Span:
        """A strip with its slots.

        Raises:
            LanternError: there is no such strip.
        """
        return self.spans[self.number(strip_id)]

    def strip(self, strip_id: str) -> Strip:
        """The strip with an id.

        Raises:
            LanternError: there is none.
        """
        return self.span(strip_id).strip

    def span_at(self, slot: int) -> Span:
        """The strip that holds a slot; slots beyond either end give the nearest strip."""
        return self.spans[max(0, bisect_right(self._firsts, slot) - 1)]

    def slot_of(self, ref: SlotRef) -> int:
        """The slot of one pixel of a strip."""
        return self.span(ref.strip_id).first + ref.pixel

    def ref_at(self, slot: int) -> SlotRef:
        """The pixel at a slot; slots beyond either end give the nearest light."""
        inside = max(0, min(slot, self.slot_count - 1))
        span = self.span_at(inside)
        return SlotRef(strip_id=span.strip.id, pixel=inside - span.first)

    def covered(self, effect: Effect) -> tuple[int, int]:
        """First slot and the slot after the last that an effect covers."""
        one, other = self.slot_of(effect.first), self.slot_of(effect.last)
        return min(one, other), max(one, other) + 1

    def all_covered(self, effects: Sequence[Effect]) -> NDArray[np.int64]:
        """The same of very many effects, (n_effects, 2). [-]"""
        firsts = {span.strip.id: span.first for span in self.spans}
        ends = np.array(
            [
                (firsts[effect.first.strip_id] + effect.first.pixel, firsts[effect.last.strip_id] + effect.last.pixel)
                for effect in effects
            ],
            np.int64,
        ).reshape(-1, 2)
        return np.stack([ends.min(axis=1, initial=MOST_SLOTS), ends.max(axis=1, initial=0) + 1], axis=1)


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
