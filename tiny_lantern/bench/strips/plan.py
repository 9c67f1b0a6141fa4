"""Strips as planned, what is sent to them, and what there is of them under any pattern."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.network import Network
from tiny_lantern.electrical.reach import fed_network
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.strip import CcPixel, Pixel
from tiny_lantern.model.strip import PixelRun

Floats = NDArray[np.float64]
Duties = tuple[Floats, ...]
TEST, OFF, WHITE, HALF, ZONE = "test", "off", "white", "half", "zone "
COLOURS = ("red", "green", "blue")


@dataclass(frozen=True)
class Made:
    """What both conductors of a feed are made of: their length, their area, and the fuse in the outgoing one, 0 where
    there is none. [m], [mm²], [ohm]"""

    length_m: float
    area_mm2: float
    fuse_ohm: float = 0.0


@dataclass(frozen=True, eq=False)
class StripPlan:
    """A build's strips as planned: the duties that a test sends, in the order of ``build.strips``, those that were sent
    before it, None where all was off; in which order the sender puts colours on the wire, empty where that does not
    apply; and of what the feeds are made, None where nobody knows."""

    build: Build
    sent: Duties
    before: Duties | None = None
    set_order: str = ""
    made: tuple[Made | None, ...] = ()

    @property
    def strips(self) -> tuple[PixelRun, ...]:
        """Its strips; places tell them by their number here."""
        return self.build.strips

    @cached_property
    def network(self) -> Network:
        """Its copper."""
        return fed_network(self.build)

    def run(self, number: int) -> int:
        """Which run of the network a strip is. [-]

        Args:
            number: the strip's number in the build. [-]
        """
        wanted = self.strips[number].id
        return next(at for at, run in enumerate(self.network.runs) if run.strip.id == wanted)

    def pixel(self, number: int) -> Pixel:
        """What a strip's pixels are.

        Args:
            number: the strip's number in the build. [-]
        """
        return self.network.pixels[self.run(number)]

    @cached_property
    def holds_current(self) -> bool:
        """Whether every strip is of pixels that hold their current, which data reaches one after the other."""
        return all(isinstance(pixel, CcPixel) for pixel in self.network.pixels)

    def pattern(self, name: str) -> Duties:
        """What a pattern sends, in the order of ``build.strips``: the test's own, ``off``, ``white``, ``half``, a
        colour, or ``zone n`` lit alone.

        Args:
            name: the pattern's name.
        """
        if name == TEST:
            return self.sent
        if name.startswith(ZONE):
            lit = self._zones[int(name.removeprefix(ZONE))]
            return tuple(np.where(mine[:, None], np.ones_like(duty), 0.0)
                         for mine, duty in zip(lit, self.sent, strict=True))  # fmt: skip
        return tuple(self._plain(name, number) for number in range(len(self.strips)))

    def _plain(self, name: str, number: int) -> Floats:
        duty = np.zeros_like(self.sent[number])
        if name in (WHITE, HALF):
            duty[:] = 1.0 if name == WHITE else 0.5
        elif name in COLOURS:
            duty[:, self.channel(number, name)] = 1.0
        return duty

    def channel(self, number: int, colour: str) -> int:
        """Which channel of a strip's pixels has a colour. [-]

        Args:
            number: the strip's number. [-]
            colour: its name, or the first letter of it.
        """
        names = [channel.name for channel in self.pixel(number).channels]
        return next(at for at, name in enumerate(names) if name.startswith(colour.lower()[:1]))

    @property
    def zone_count(self) -> int:
        """How many pieces of positive copper there are. [-]"""
        return len(self._zones)

    @cached_property
    def _zones(self) -> tuple[tuple[NDArray[np.bool_], ...], ...]:
        """Pieces of positive copper in the order of the wiring: which pixels of each strip each has."""
        begins = [0] * len(self.strips)
        numbers: list[list[int]] = []
        count = 0
        joined = {joint.to_strip_id: joint.from_strip_id for joint in self.build.joints}
        last: dict[str, int] = {}
        for at, strip in enumerate(self.strips):
            before = last.get(joined.get(strip.id, ""))
            begins[at] = count if before is None else before
            own = [begins[at]] + [count + step + (before is None) for step in range(len(strip.cuts))]
            count = max(count, own[-1] + 1)
            last[strip.id] = own[-1]
            edges = [0, *strip.cuts, strip.pixel_count]
            numbers.append([own[zone] for zone in range(len(own)) for _ in range(edges[zone], edges[zone + 1])])
        return tuple(tuple(np.array(of) == zone for of in numbers) for zone in range(count))

    def zone_at(self, number: int, pixel: int) -> int:
        """The piece of positive copper that a pixel hangs on. [-]

        Args:
            number: the strip's number. [-]
            pixel: the pixel. [-]
        """
        return next(zone for zone, lit in enumerate(self._zones) if lit[number][pixel])


@dataclass(frozen=True, eq=False)
class World:
    """Strips as they may really be: their copper, pairs of nodes whose pixel draws nothing, what is shown where
    something is sent, both in the order of ``build.strips``, and which of its pixels stands for each one that is
    planned, strip by strip; None where these are the same. ``test_network`` is what it is in the test alone, ``blown``
    the feed whose fuse is, ``current_scale`` what every pixel draws in parts of what it should."""

    network: Network
    shown: Callable[[Duties], Duties] = lambda sent: sent
    dead_pairs: tuple[int, ...] = ()
    stands_for: tuple[NDArray[np.int64], ...] | None = None
    test_network: Network | None = None
    blown: int | None = None
    current_scale: float = 1.0
