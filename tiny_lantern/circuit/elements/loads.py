"""What draws a current by itself: loads, lamps with a program of their own, and pixels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import INFINITE, Laws
from tiny_lantern.circuit.shapes import DOWN, Shape

KNEE_V = 1.0


@dataclass(frozen=True)
class Load:
    """Draws ``I · clip(v / 1 V, 0, 1)``  (1)."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("plus", "minus")
    id: str
    plus: str
    minus: str
    current_a: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("load", DOWN)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.plus), laws.node(self.minus), self.current_a / KNEE_V, 0.0, KNEE_V)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``."""
        return Reading(float(at.branch_a[0]), at.power_w)


@dataclass(frozen=True)
class HoldReading(Reading):
    """Also whether it is off, holds its place in the dark, or plays."""

    state: str


@dataclass(frozen=True)
class HoldLamp:
    """A lamp with a colour program of its own: a load that keeps its place from one voltage on and plays above
    another. [A], [V]"""

    TERMINALS: ClassVar[tuple[str, ...]] = ("plus", "minus")
    id: str
    plus: str
    minus: str
    current_a: float
    hold_v: float
    dark_v: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("load", DOWN)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.plus), laws.node(self.minus), self.current_a / KNEE_V, 0.0, KNEE_V)

    def read(self, at: At) -> HoldReading:
        """See ``Element``."""
        v = at.across(self.plus, self.minus)
        state = "off" if v < self.hold_v else "hold" if v <= self.dark_v else "full"
        return HoldReading(float(at.branch_a[0]), at.power_w, state)


@dataclass(frozen=True)
class Ramp:
    """One part of a pixel's law: a slope between two voltages. [S], [V]"""

    siemens: float
    low_v: float
    high_v: float = INFINITE


@dataclass(frozen=True)
class Pixel:
    """A pixel or segment by itself: the sum of its ramps."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("plus", "minus")
    id: str
    plus: str
    minus: str
    ramps: tuple[Ramp, ...]

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("load", DOWN)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        plus, minus = laws.node(self.plus), laws.node(self.minus)
        for ramp in self.ramps:
            laws.ramp(plus, minus, ramp.siemens, ramp.low_v, ramp.high_v, ramp.low_v)

    def read(self, at: At) -> Reading:
        """See ``Element``."""
        return Reading(float(at.branch_a.sum()), at.power_w)
