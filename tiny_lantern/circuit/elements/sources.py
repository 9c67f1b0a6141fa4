"""What drives a circuit: supplies and batteries."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws, held
from tiny_lantern.circuit.shapes import Shape


@dataclass(frozen=True)
class Supply:
    """Delivers ``I = (V_set − v(plus, minus))+ / R``  (1) out of plus, and takes nothing back; without a resistance it
    holds its voltage."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("plus", "minus")
    id: str
    plus: str
    minus: str
    set_v: float
    output_ohm: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("supply")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        plus, minus = laws.node(self.plus), laws.node(self.minus)
        if self.output_ohm:
            laws.ramp(plus, minus, 1 / self.output_ohm, high_v=self.set_v, zero_v=self.set_v)  # (1)
        else:
            laws.collected.append(held(minus, plus, -self.set_v))

    def read(self, at: At) -> Reading:
        """See ``Element``; the current is what it delivers."""
        through_a = float(at.branch_a[0])
        return Reading(-through_a if self.output_ohm else through_a, at.power_w)


@dataclass(frozen=True)
class Battery:
    """Delivers ``I = (E − v(plus, minus)) / R``  (1) out of plus, and takes back what is pushed into it."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("plus", "minus")
    id: str
    plus: str
    minus: str
    emf_v: float
    ohm: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("supply")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        laws.ramp(laws.node(self.plus), laws.node(self.minus), 1 / self.ohm, zero_v=self.emf_v)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``; the current is what it delivers."""
        return Reading(-float(at.branch_a[0]), at.power_w)
