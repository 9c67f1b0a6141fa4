"""Lamps of two opposite dies between two pins."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import DARK, Doing, Pair
from tiny_lantern.model.ways.pair import ReversingPair

KINDS = (ReversingPair,)
DEAD_US = 2


def doings(at: AtPins) -> Iterator[Doing]:
    """Each lamp, its two pins changing places.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, ReversingPair)
    half_us = max(2 * DEAD_US, round(5e5 / driver.alternate_hz))
    own = {channel.output: channel for channel in at.channels}
    for lamp in sorted({output // 2 for output in own}):
        both = [own.get(2 * lamp), own.get(2 * lamp + 1)]
        ends = at.pin(f"lamp {lamp} end 0"), at.pin(f"lamp {lamp} end 1")
        first, second = (DARK if each is None else at.level(each) for each in both)
        words = next(at.title(each) for each in both if each is not None)
        yield Pair(ends, (first, second), half_us, DEAD_US, words)
