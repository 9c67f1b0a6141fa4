"""Outputs of boards and chips: pins that are high, low or open, and constant-current sinks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.shapes import Shape
from tiny_lantern.electrical.drive.sink import least_output_v, set_current

State = Literal["high", "low", "open"]


@dataclass(frozen=True)
class Output:
    """A pin: high it joins its rail, low its zero, each behind a resistance and, of a bipolar output, a drop:
    ``I = (v − V_drop)+ / R``  (1). A push-pull pin conducts ``both_ways``: ``I = v / R``  (2)."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("pin", "rail", "zero")
    id: str
    pin: str
    rail: str
    zero: str
    state: State
    high_drop_v: float = 0.0
    high_ohm: float = 1.0
    low_drop_v: float = 0.0
    low_ohm: float = 1.0
    both_ways: bool = True

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("box")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.pin, self.rail, self.zero

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        pin, rail, zero = map(laws.node, self.nodes())
        if self.state == "high":
            self._lay(laws, rail, pin, self.high_drop_v, self.high_ohm)
        elif self.state == "low":
            self._lay(laws, pin, zero, self.low_drop_v, self.low_ohm)

    def _lay(self, laws: Laws, start: int, end: int, drop_v: float, ohm: float) -> None:
        if self.both_ways:
            laws.ramp(start, end, 1 / ohm)  # (2)
        else:
            laws.ramp(start, end, 1 / ohm, low_v=drop_v, zero_v=drop_v)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``; the current is what comes out of the pin, negative while it sinks."""
        if self.state == "open":
            return Reading(0.0, at.power_w)
        through_a = float(at.branch_a[0])
        return Reading(through_a if self.state == "high" else -through_a, at.power_w)


@dataclass(frozen=True)
class Sink:
    """A constant-current output: ``I = I_set · clip(v / v_min, 0, 1), I_set = k / R_ext``  (1), with the least
    volts that its current wants."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("out", "zero")
    id: str
    out: str
    zero: str
    constant_v: float
    setting_ohm: float
    on: bool

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("box")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.out, self.zero

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        set_a = set_current(self.constant_v, self.setting_ohm)
        least_v = least_output_v(set_a)
        slope_s = set_a / least_v if self.on else 0.0
        laws.ramp(laws.node(self.out), laws.node(self.zero), slope_s, low_v=0.0, high_v=least_v)  # (1)

    def read(self, at: At) -> Reading:
        """See ``Element``; the current is what goes into the output."""
        return Reading(float(at.branch_a[0]), at.power_w)
