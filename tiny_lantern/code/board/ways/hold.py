"""Self-changing lamps on a rail that is full, held or off."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Doing, Held
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.hold import HoldRail

KINDS = (HoldRail,)


def doings(at: AtPins) -> Iterator[Doing]:
    """Its two switches.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, HoldRail)
    low = at.build.shelf.find(TransistorPart, driver.transistor_id).sort == "p_mosfet"
    for channel in at.channels[:1]:
        full, hold = at.pin("full", low), at.pin("hold", low)
        yield Held(full, hold, at.level(channel), low, at.title(channel))
