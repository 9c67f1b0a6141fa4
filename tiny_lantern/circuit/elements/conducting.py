"""What joins two nodes by its resistance: wire, resistor, fuse, connector, relay coil and relay contact."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.shapes import BOTH_WAYS, Shape


@dataclass(frozen=True)
class Conducting:
    """``I = v(a, b) / R``, from a to b  (1). ``what`` it is: a wire, resistor, fuse or connector."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("a", "b")
    id: str
    a: str
    b: str
    ohm: float
    what: str = "wire"

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("resistor", BOTH_WAYS)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.a, self.b

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.a), laws.node(self.b), 1 / self.ohm)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``."""
        return Reading(float(at.branch_a[0]), at.power_w)


@dataclass(frozen=True)
class Contact:
    """Joins a and b through its resistance while it is closed; ``follows`` names the coil that moves it."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("a", "b")
    id: str
    a: str
    b: str
    ohm: float
    closed: bool
    follows: str = ""

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("contact", BOTH_WAYS)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.a, self.b

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.a), laws.node(self.b), 1 / self.ohm if self.closed else 0.0)

    def read(self, at: At) -> Reading:
        """See ``Element``."""
        return Reading(float(at.branch_a[0]), at.power_w)


@dataclass(frozen=True)
class CoilReading(Reading):
    """Also whether the coil moves its contact."""

    pulls_in: bool


@dataclass(frozen=True)
class Coil:
    """A relay's coil: its resistance, and the least voltage, of either sign, that moves the contact. [ohm], [V]"""

    TERMINALS: ClassVar[tuple[str, ...]] = ("a", "b")
    id: str
    a: str
    b: str
    ohm: float
    must_operate_v: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("coil", BOTH_WAYS)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.a, self.b

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.a), laws.node(self.b), 1 / self.ohm)

    def read(self, at: At) -> CoilReading:
        """See ``Element``."""
        return CoilReading(
            float(at.branch_a[0]), at.power_w, pulls_in=abs(at.across(self.a, self.b)) >= self.must_operate_v
        )
