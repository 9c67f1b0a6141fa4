"""Lamps that a demultiplexer lights one at a time."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Doing, Turns
from tiny_lantern.model.drive import bits_for
from tiny_lantern.model.ways.demux import Demux

KINDS = (Demux,)


def doings(at: AtPins) -> Iterator[Doing]:
    """Its outputs in turn, those that are dark for as long as those that are lit.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, Demux)
    if not at.channels:
        return
    count = 1 + max(channel.output for channel in at.channels)
    selects = tuple(at.pin(f"select {bit}") for bit in range(bits_for(count)))
    dwell_us = max(1, round(driver.dwell_s * 1e6))
    words = f"{driver.name}: one of {count} at a time"
    yield Turns(selects, at.pin("enable", idle=True), at.by_output(count), dwell_us, words)
