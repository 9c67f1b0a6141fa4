"""Which pins the ways to drive of a board need."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from tiny_lantern.model.drive import Dimmed, Driver, PinNeed, bits_for
from tiny_lantern.model.ways.chain import Chain

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build


def board_needs(build: Build, board_id: str) -> list[PinNeed]:
    """The pins that all drivers of a board need, each driver's in the order of its outputs."""
    own = (driver for driver in build.drivers if driver.board_id == board_id)
    return [need for driver in own for need in _needs_of(build, driver)]


def behind(build: Build, driver: Driver) -> tuple[Driver, ...]:
    """The chains whose latches a multiplexer selects beside the driver's own; none where there is no multiplexer."""
    return tuple(
        other
        for other in build.drivers
        if isinstance(other, Chain) and other.bus_of == driver.id and other.select_by == "multiplexer"
    )


def _needs_of(build: Build, driver: Driver) -> Iterator[PinNeed]:
    yield from driver.needs(build.channels_of[driver.id])
    others = behind(build, driver)
    if others:
        yield from (PinNeed(driver.id, f"select {bit}") for bit in range(bits_for(1 + len(others))))
    if isinstance(driver, Dimmed) and driver.knob:
        yield PinNeed(driver.id, "knob", reads=True)
