"""What a driver is carried out with: the pins of its board by the names that they have in the code, and its levels."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from tiny_lantern.code.board.doings import DARK, Lines, Output, Pin
from tiny_lantern.code.names import Names
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Channel, Driver, bits_for
from tiny_lantern.model.edits import item
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.pin_needs import behind
from tiny_lantern.model.ways.chain import Chain

SHARED = ("data", "clock")
Use = Literal["gives", "dims", "reads", "pixels"]


@dataclass
class BoardPins:
    """The pins of a board that its program uses, each named once, in the order in which they are first asked for."""

    part: BoardPart
    names: Names = field(default_factory=Names)
    found: dict[str, Pin] = field(default_factory=dict)

    def named(
        self, words: str, at: str, idle: bool = False, use: Use = "gives", pull_up: bool = False
    ) -> Pin:  # fmt: skip
        """A pin by what it is for.

        Args:
            words: what it is for.
            at: where it is on the board.
            idle: its level while everything is dark.
            use: what it is made.
            pull_up: whether the board's own resistor pulls it up.
        """
        if at not in self.found:
            name = self.names.of(words, "pin").upper() + "_PIN"
            self.found[at] = Pin(name, at, number_of(self.part, at), words, idle, use, pull_up)
        elif idle and not self.found[at].idle:
            self.found[at] = replace(self.found[at], idle=True)
        return self.found[at]


def number_of(part: BoardPart, name: str) -> int:
    """The number of a pin: the figures of its name where all pins are called alike, else its place among them, pins
    that read volts after the others. [-]

    Args:
        part: the board's part.
        name: the pin.
    """
    letters = {re.sub(r"[0-9]", "", pin.name) for pin in part.pins}
    figures = re.sub(r"[^0-9]", "", name)
    if len(letters) == 1 and figures:
        return int(figures)
    return [pin.name for pin in part.pins].index(name)


@dataclass(frozen=True)
class AtPins:
    """A driver of a build, about to be carried out; ``places`` are those of all channels among the board's levels, by
    the channel's id, ``titles`` say what each level is."""

    build: Build
    driver: Driver
    pins: BoardPins
    places: Mapping[str, int]
    titles: tuple[str, ...]

    @property
    def channels(self) -> tuple[Channel, ...]:
        """Its channels, in the order of its outputs."""
        return self.build.channels_of[self.driver.id]

    def level(self, channel: Channel) -> int:
        """The place of a channel of any driver among the board's levels. [-]

        Args:
            channel: the channel.
        """
        return self.places[channel.id]

    def title(self, channel: Channel) -> str:
        """What a channel is, in words.

        Args:
            channel: the channel.
        """
        return self.titles[self.level(channel)]

    def by_output(self, count: int) -> tuple[int, ...]:
        """The places of levels by output, ``DARK`` where none hangs there.

        Args:
            count: how many outputs. [-]
        """
        places = {channel.output: self.level(channel) for channel in self.channels}
        return tuple(places.get(output, DARK) for output in range(count))

    def pin(self, role: str, idle: bool = False, use: Use = "gives", owner: Driver | None = None) -> Pin:
        """The pin of a role.

        Args:
            role: the role.
            idle: its level while everything is dark.
            use: what it is made.
            owner: whose role it is; the driver's own when None.

        Raises:
            LanternError: the role has no pin yet.
        """
        driver = owner or self.driver
        at = next((pin.pin for pin in driver.pins if pin.role == role), None)
        if at is None:
            raise LanternError(
                f"{driver.name} has no pin yet for its {role}", "code", "Assign pins in Drive, or a board with more"
            )
        return self.pins.named(f"{driver.name} {role}", at, idle, use)

    def lines(self) -> Lines:
        """The lines of a chain: its own, or those of the chain that it shares them with, and what its latch is behind.

        Raises:
            LanternError: one has no pin yet.
        """
        driver = self.driver
        assert isinstance(driver, Chain)
        owner = driver if driver.bus_of is None else item(self.build.drivers, driver.bus_of, "driver")
        data, clock = (self.pin(role, owner=owner) for role in SHARED)
        others = behind(self.build, owner)
        if others and (driver is owner or driver in others):
            way = 0 if driver is owner else 1 + others.index(driver)
            selects = tuple(
                (self.pin(f"select {bit}", owner=owner), bool(way >> bit & 1))
                for bit in range(bits_for(1 + len(others)))
            )
            return Lines(data, clock, self.pin("latch", owner=owner), selects)
        return Lines(data, clock, self.pin("latch"))

    def dark(self) -> Output:
        """An output that nothing hangs on."""
        return Output(DARK, False, "nothing")
