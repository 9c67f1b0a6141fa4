"""Which pins a way to drive needs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from tiny_lantern.model.drive import (
    Channel,
    Demux,
    Dimmed,
    Driver,
    HoldRail,
    PinDirect,
    PwmPin,
    RegisterChain,
    RelayBoard,
    ReversingPair,
    Scanned,
    SinkChain,
    Switch,
)

if TYPE_CHECKING:
    from tiny_lantern.model.build import Build

CHAINS = RegisterChain | SinkChain | Scanned


@dataclass(frozen=True)
class PinNeed:
    """One pin that a driver needs, for a role; ``dims`` when it must dim, ``reads`` when it must read volts."""

    driver_id: str
    role: str
    dims: bool = False
    reads: bool = False


def board_needs(build: Build, board_id: str) -> list[PinNeed]:
    """The pins that all drivers of a board need, each driver's in the order of its outputs."""
    own = (driver for driver in build.drivers if driver.board_id == board_id)
    return [need for driver in own for need in _needs_of(build, driver)]


def behind(build: Build, driver: Driver) -> tuple[Driver, ...]:
    """The chains whose latches a multiplexer selects beside the driver's own; none where there is no multiplexer."""
    return tuple(
        other
        for other in build.drivers
        if isinstance(other, CHAINS) and other.bus_of == driver.id and other.select_by == "multiplexer"
    )


def bits_for(count: int) -> int:
    """How many select lines tell so many apart. [-]"""
    return max(1, (count - 1).bit_length())


def _needs_of(build: Build, driver: Driver) -> Iterator[PinNeed]:
    yield from _needs(driver, build.channels_of[driver.id])
    others = behind(build, driver)
    if others:
        yield from (PinNeed(driver.id, f"select {bit}") for bit in range(bits_for(1 + len(others))))
    if isinstance(driver, Dimmed) and driver.knob:
        yield PinNeed(driver.id, "knob", reads=True)


def lamp_role(output: int) -> str:
    """The role of a pin that carries one output by itself."""
    return f"lamp {output}"


def _needs(driver: Driver, channels: Sequence[Channel]) -> Iterator[PinNeed]:
    outputs = [channel.output for channel in channels]
    if isinstance(driver, PinDirect | PwmPin | Switch | RelayBoard):
        dims = isinstance(driver, PwmPin) or (isinstance(driver, Switch) and driver.dims)
        yield from (PinNeed(driver.id, lamp_role(output), dims) for output in outputs)
    elif isinstance(driver, ReversingPair):
        for lamp in sorted({output // 2 for output in outputs}):
            yield PinNeed(driver.id, f"lamp {lamp} end 0")
            yield PinNeed(driver.id, f"lamp {lamp} end 1")
    elif isinstance(driver, CHAINS):
        yield from _chain(driver)
    elif isinstance(driver, Demux):
        yield from (PinNeed(driver.id, f"select {bit}") for bit in range(bits_for(len(outputs))))
        yield PinNeed(driver.id, "enable")
    elif isinstance(driver, HoldRail):
        yield PinNeed(driver.id, "full", dims=True)
        yield PinNeed(driver.id, "hold")


def _chain(driver: CHAINS) -> Iterator[PinNeed]:
    if driver.bus_of is None:
        yield PinNeed(driver.id, "data")
        yield PinNeed(driver.id, "clock")
    if driver.bus_of is None or driver.select_by == "pin":
        yield PinNeed(driver.id, "latch")
    if isinstance(driver, Scanned) and driver.rows_by == "counter":
        yield PinNeed(driver.id, "step")
        if driver.reset_wired:
            yield PinNeed(driver.id, "reset")
