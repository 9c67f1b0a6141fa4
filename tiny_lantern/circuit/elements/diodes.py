"""What conducts one way from a voltage on: diodes and LEDs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws, held
from tiny_lantern.circuit.shapes import DOWN, Shape

LIT_A = 10e-6


@dataclass(frozen=True)
class Diode:
    """``I = (v(a, k) − V_f)+ / R``  (1), from anode to cathode."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("a", "k")
    id: str
    a: str
    k: str
    forward_v: float
    ohm: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("diode", DOWN)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.a, self.k

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        ramp = laws.node(self.a), laws.node(self.k), 1 / self.ohm
        laws.ramp(*ramp, low_v=self.forward_v, zero_v=self.forward_v)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``."""
        return Reading(float(at.branch_a[0]), at.power_w)


@dataclass(frozen=True)
class LedReading(Reading):
    """Also whether it is seen to be lit."""

    lit: bool


@dataclass(frozen=True)
class Led:
    """LEDs in series on their straight line: ``I = (v(a, k) − n · V_0)+ / (n · r_d), V_0 = V_test − r_d · I_test``
    (1); without a slope they hold ``n · V_0``."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("a", "k")
    id: str
    a: str
    k: str
    test_v: float
    test_a: float
    slope_ohm: float
    count: int = 1

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("led", DOWN)

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.a, self.k

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        knee_v = self.count * (self.test_v - self.slope_ohm * self.test_a)
        anode, cathode = laws.node(self.a), laws.node(self.k)
        if self.slope_ohm:
            laws.ramp(anode, cathode, 1 / (self.count * self.slope_ohm), low_v=knee_v, zero_v=knee_v)  # (1)
        else:
            laws.collected.append(held(anode, cathode, knee_v))

    def read(self, at: At) -> LedReading:
        """See ``Element``."""
        current_a = float(at.branch_a[0])
        return LedReading(current_a, at.power_w, lit=current_a > LIT_A)
