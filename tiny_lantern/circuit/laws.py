"""Gathers the branches of a circuit's elements, family by family, as the arrays that are solved.

Nodes are numbered as they are named, ground is 0. A branch has a current from its start to its end through the element;
each family says how it follows from the voltages.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
INFINITE = float("inf")


@dataclass(frozen=True)
class Switched:
    """A channel whose resistance follows a control voltage, by a table that rises in volts."""

    start: int
    end: int
    plus: int
    minus: int
    table_v: tuple[float, ...]
    table_ohm: tuple[float, ...]


@dataclass(frozen=True)
class Collected:
    """A branch that carries what it is asked for at a voltage that it holds, nothing below that, and at most so much:
    of a collector a gain times the base's current."""

    start: int
    end: int
    base_plus: int
    base_minus: int
    base_v: float
    base_ohm: float
    gain: float
    saturation_v: float
    most_a: float = 0.0


@dataclass(frozen=True)
class Regulated:
    """What holds ``out`` at a voltage above ``zero`` behind a resistance, or lower where ``entry`` leaves less than the
    headroom. Its current comes out of ``source``: of its entry, or of nothing where the input is drawn by itself."""

    source: int
    entry: int
    out: int
    zero: int
    set_v: float
    headroom_v: float
    ohm: float


@dataclass(frozen=True)
class Converted:
    """What a converter draws at its entry for what it delivers: its number among the regulated, and its efficiency."""

    regulated: int
    efficiency: float


def held(start: int, end: int, volts: float) -> Collected:
    """A branch that holds its voltage and carries whatever that takes, forwards only.

    Args:
        start: node where its current comes in.
        end: node where it goes out.
        volts: what it holds. [V]
    """
    return Collected(start, end, start, start, 0.0, 1.0, 0.0, volts, INFINITE)


@dataclass
class Laws:
    """The branches of a circuit as they are gathered. Each list has an entry a branch."""

    ground: str
    names: dict[str, int] = field(default_factory=dict)
    count: int = 1
    start: list[int] = field(default_factory=list)
    end: list[int] = field(default_factory=list)
    siemens: list[float] = field(default_factory=list)
    low_v: list[float] = field(default_factory=list)
    high_v: list[float] = field(default_factory=list)
    zero_v: list[float] = field(default_factory=list)
    switched: list[Switched] = field(default_factory=list)
    collected: list[Collected] = field(default_factory=list)
    regulated: list[Regulated] = field(default_factory=list)
    converted: list[Converted] = field(default_factory=list)

    def counts(self) -> tuple[int, ...]:
        """How many branches of each family there are: ramps, switched, collected, regulated, converted."""
        return len(self.start), len(self.switched), len(self.collected), len(self.regulated), len(self.converted)

    def node(self, name: str) -> int:
        """The number of a node; a new name gets a new one.

        Args:
            name: the node's name.
        """
        if name == self.ground:
            return 0
        found = self.names.get(name)
        if found is None:
            found = self.names[name] = self.count
            self.count += 1
        return found

    def inner(self, count: int) -> Ints:
        """Numbers of so many new nodes without a name and without a leak. (count,)

        Args:
            count: how many. [-]
        """
        first = self.count
        self.count += count
        return np.arange(first, self.count)

    def ramp(
        self, start: int, end: int, siemens: float,
        low_v: float = -INFINITE, high_v: float = INFINITE, zero_v: float = 0.0,
    ) -> None:  # fmt: skip
        """Add a branch whose current climbs with its own voltage inside a range:
        ``I = g · (clip(v, low, high) − zero)``.

        Args:
            start: node where its current comes in.
            end: node where it goes out.
            siemens: its slope. [S]
            low_v: below this it is level. [V]
            high_v: above this it is level. [V]
            zero_v: where its line meets zero. [V]
        """
        self.start.append(start)
        self.end.append(end)
        self.siemens.append(siemens)
        self.low_v.append(low_v)
        self.high_v.append(high_v)
        self.zero_v.append(zero_v)

    def ramps(self, start: Ints, end: Ints, siemens: Floats, low_v: Floats, high_v: Floats, zero_v: Floats) -> None:
        """Add very many at once; see ``ramp``.

        Args:
            start: nodes where their currents come in, (n,). [-]
            end: nodes where they go out, (n,). [-]
            siemens: their slopes, (n,). [S]
            low_v: below these they are level, (n,). [V]
            high_v: above these they are level, (n,). [V]
            zero_v: where their lines meet zero, (n,). [V]
        """
        self.start.extend(start.tolist())
        self.end.extend(end.tolist())
        self.siemens.extend(siemens.tolist())
        self.low_v.extend(low_v.tolist())
        self.high_v.extend(high_v.tolist())
        self.zero_v.extend(zero_v.tolist())
