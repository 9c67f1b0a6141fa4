"""What makes one voltage of another: linear regulators, step-downs and step-ups."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import INFINITE, Converted, Laws, Regulated
from tiny_lantern.circuit.shapes import DOWN, Shape

INPUT_KNEE_V = 1.0


@dataclass(frozen=True)
class StageReading(Reading):
    """Also what it takes in, and whether its input is too low for what it is set to. [A]"""

    in_a: float
    dropped_out: bool


def _lay_idle(laws: Laws, entry: int, zero: int, idle_a: float) -> None:
    laws.ramp(entry, zero, idle_a / INPUT_KNEE_V, low_v=0.0, high_v=INPUT_KNEE_V)


@dataclass(frozen=True)
class Regulator:
    """A linear regulator: ``V_oc = min(V_set, v_in − V_dropout), I = (V_oc − v_out)+ / R``  (1), all of it taken from
    its input beside a quiescent current."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("entry", "out", "zero")
    id: str
    entry: str
    out: str
    zero: str
    set_v: float
    dropout_v: float
    output_ohm: float
    quiescent_a: float

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("regulator", DOWN, (2,))

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.entry, self.out, self.zero

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        entry, out, zero = map(laws.node, self.nodes())
        _lay_idle(laws, entry, zero, self.quiescent_a)
        laws.regulated.append(Regulated(entry, entry, out, zero, self.set_v, self.dropout_v, self.output_ohm))  # (1)

    def read(self, at: At) -> StageReading:
        """See ``Element``; the current is what it delivers."""
        idle_a, current_a = map(float, at.branch_a)
        dropped = at.across(self.entry, self.zero) - self.dropout_v < self.set_v
        return StageReading(current_a, at.power_w, idle_a + current_a, dropped)


@dataclass(frozen=True)
class Converter:
    """A step-down or step-up: ``V_oc = min(V_set, v_in − V_headroom)`` of the first, V_set of the second, behind a
    resistance, delivering only; it takes ``v_out · I / (η · max(v_in, 1 V))``  (1) and an idle current. A step-up
    that is ``off`` does neither."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("entry", "out", "zero")
    id: str
    entry: str
    out: str
    zero: str
    set_v: float
    output_ohm: float
    efficiency: float
    idle_a: float
    headroom_v: float = -INFINITE
    least_in_v: float = -INFINITE
    off: bool = False

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("regulator", DOWN, (2,))

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.entry, self.out, self.zero

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        entry, out, zero = map(laws.node, self.nodes())
        if self.off:
            return
        _lay_idle(laws, entry, zero, self.idle_a)
        laws.regulated.append(Regulated(zero, entry, out, zero, self.set_v, self.headroom_v, self.output_ohm))
        laws.converted.append(Converted(len(laws.regulated) - 1, self.efficiency))  # (1)

    def starved(self, at: At) -> bool:
        """Whether its input is below the volts that it needs to run at all.

        Args:
            at: the solution.
        """
        return not self.off and at.across(self.entry, self.zero) < self.least_in_v

    def read(self, at: At) -> StageReading:
        """See ``Element``; the current is what it delivers."""
        if self.off:
            return StageReading(0.0, at.power_w, 0.0, dropped_out=True)
        idle_a, current_a, drawn_a = map(float, at.branch_a)
        dropped = at.across(self.entry, self.zero) - self.headroom_v < self.set_v
        return StageReading(current_a, at.power_w, idle_a + drawn_a, dropped)
