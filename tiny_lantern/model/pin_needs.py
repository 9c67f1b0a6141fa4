"""Which pins a way to drive needs."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import (
    Channel,
    Demux,
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


@dataclass(frozen=True)
class PinNeed:
    """One pin that a driver needs, for a role; ``dims`` when it must be one that dims."""

    driver_id: str
    role: str
    dims: bool = False


def needs_of(driver: Driver, channels: Sequence[Channel]) -> tuple[PinNeed, ...]:
    """The pins that a driver needs, in the order of its outputs."""
    return tuple(_needs(driver, channels))


def board_needs(build: Build, board_id: str) -> list[PinNeed]:
    """The pins that all drivers of a board need."""
    own = (driver for driver in build.drivers if driver.board_id == board_id)
    return [need for driver in own for need in needs_of(driver, build.channels_of[driver.id])]


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
    elif isinstance(driver, RegisterChain | SinkChain | Scanned):
        if driver.bus_of is None:
            yield PinNeed(driver.id, "data")
            yield PinNeed(driver.id, "clock")
        yield PinNeed(driver.id, "latch")
        if isinstance(driver, Scanned) and driver.rows_by == "counter":
            yield PinNeed(driver.id, "step")
    elif isinstance(driver, Demux):
        yield from (PinNeed(driver.id, f"select {bit}") for bit in range(max(1, (len(outputs) - 1).bit_length())))
        yield PinNeed(driver.id, "enable")
    elif isinstance(driver, HoldRail):
        yield PinNeed(driver.id, "full", dims=True)
        yield PinNeed(driver.id, "hold")
