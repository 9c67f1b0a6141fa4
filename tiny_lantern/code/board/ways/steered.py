"""Lamps behind transistors, relays and boxes, each input on a pin; those on registers belong to their chain."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Dimmed, Doing, Switched
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Steered, lamp_role
from tiny_lantern.model.parts.relay import RelayPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.relay import RelayBoard
from tiny_lantern.model.ways.switch import Switch

KINDS = (Steered,)
LEAST_MS = 100


def low_while_lit(build: Build, driver: Steered) -> bool:
    """Whether the inputs of a driver are low while their lamps are lit: of relays that are active low, and of high-side
    transistors without a driver.

    Args:
        build: the build.
        driver: the driver.
    """
    if isinstance(driver, RelayBoard):
        return build.shelf.find(RelayPart, driver.relay_id).active_low
    if isinstance(driver, Switch):
        return build.shelf.find(TransistorPart, driver.transistor_id).sort == "p_mosfet" and not driver.has_driver
    return False


def least_ms(driver: Steered) -> int:
    """How long an input stays as it is at least: a relay is not switched faster. [ms]

    Args:
        driver: the driver.
    """
    return LEAST_MS if isinstance(driver, RelayBoard) else 0


def doings(at: AtPins) -> Iterator[Doing]:
    """Each input's pin.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, Steered)
    if driver.inputs_on is not None:
        return
    low, full = low_while_lit(at.build, driver), (1 << at.pins.part.pwm_bits) - 1
    for channel in at.channels:
        role, words = lamp_role(channel.output), at.title(channel)
        if isinstance(driver, Switch) and not driver.on_off:
            yield Dimmed(at.pin(role, low, "dims"), at.level(channel), low, full, words)
        else:
            yield Switched(at.pin(role, low), at.level(channel), low, least_ms(driver), words)
