"""Lamps on pins, on or off or dimmed."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Dimmed, Doing, Switched
from tiny_lantern.model.drive import lamp_role
from tiny_lantern.model.ways.pin import PinDirect
from tiny_lantern.model.ways.pwm import PwmPin

KINDS = (PinDirect, PwmPin)


def doings(at: AtPins) -> Iterator[Doing]:
    """Each lamp's pin, high while it is lit, or low where pins sink.

    Args:
        at: the driver.
    """
    driver, full = at.driver, (1 << at.pins.part.pwm_bits) - 1
    assert isinstance(driver, PinDirect | PwmPin)
    for channel in at.channels:
        role, words = lamp_role(channel.output), at.title(channel)
        if isinstance(driver, PwmPin):
            pin = at.pin(role, driver.sink, "dims")
            yield Dimmed(pin, at.level(channel), driver.sink, full, words)
        else:
            yield Switched(at.pin(role, driver.sink), at.level(channel), driver.sink, 0, words)
