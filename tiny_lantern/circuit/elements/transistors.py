"""Transistors in a circuit: bipolar ones with their base, and channels that follow a gate."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Collected, Laws, Switched
from tiny_lantern.circuit.shapes import Shape

SATURATED_WITHIN_V = 1e-7


@dataclass(frozen=True)
class BipolarReading(Reading):
    """Also the current of the base, by the sign of its kind, and what the collector does. [A]"""

    base_a: float
    state: str


@dataclass(frozen=True)
class Bipolar:
    """A bipolar transistor. Base: ``I_b = (v_be − V_be)+ / R_b``  (1). Collector: off, or saturated at V_CEsat with
    less than ``β · I_b``, or underdriven with just that above V_CEsat. A pnp has all volts and currents the
    other way."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("b", "c", "e")
    id: str
    b: str
    c: str
    e: str
    kind: Literal["npn", "pnp"]
    base_v: float
    base_ohm: float
    saturation_v: float
    gain: float

    @property
    def shape(self) -> Shape:
        """See ``Element``; the terminal that is nearer to the rail stands above."""
        return Shape(self.kind, ((1, 2),) if self.kind == "npn" else ((2, 1),), (0,))

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.b, self.c, self.e

    def _pair(self, node: str) -> tuple[str, str]:
        """A terminal and the emitter, the one first that is the higher while it conducts."""
        return (node, self.e) if self.kind == "npn" else (self.e, node)

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        plus, minus = map(laws.node, self._pair(self.b))
        start, end = map(laws.node, self._pair(self.c))
        laws.ramp(plus, minus, 1 / self.base_ohm, low_v=self.base_v, zero_v=self.base_v)  # (1)
        laws.collected.append(
            Collected(start, end, plus, minus, self.base_v, self.base_ohm, self.gain, self.saturation_v)
        )

    def read(self, at: At) -> BipolarReading:
        """See ``Element``; npn: into base and collector, pnp: out of them."""
        base_a, current_a = map(float, at.branch_a)
        return BipolarReading(current_a, at.power_w, base_a, self._state(current_a, at.across(*self._pair(self.c))))

    def _state(self, current_a: float, v: float) -> str:
        if current_a <= 0.0:
            return "off"
        return "active" if v - self.saturation_v > SATURATED_WITHIN_V else "saturated"


@dataclass(frozen=True)
class ChannelReading(Reading):
    """Also the gate's volts, of a p-channel below its source, and the resistance, None where it is off. [V], [ohm]"""

    gate_v: float
    ohm: float | None


@dataclass(frozen=True)
class Mosfet:
    """A channel ``I = v(d, s) / R``  (1) whose resistance follows the gate's volts against the solved source, by a
    table that rises in volts: linear between its points, the last value above them, off below the first. No
    gate current, no body diode. A p-channel counts the gate's volts below its source."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("g", "d", "s")
    id: str
    g: str
    d: str
    s: str
    kind: Literal["nmos", "pmos"]
    table_v: tuple[float, ...]
    table_ohm: tuple[float, ...]

    @property
    def shape(self) -> Shape:
        """See ``Element``; the terminal that is nearer to the rail stands above."""
        return Shape(self.kind, ((1, 2),) if self.kind == "nmos" else ((2, 1),), (0,))

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.g, self.d, self.s

    def _gate(self) -> tuple[str, str]:
        return (self.g, self.s) if self.kind == "nmos" else (self.s, self.g)

    def lay(self, laws: Laws) -> None:
        """See ``Element``."""
        plus, minus = map(laws.node, self._gate())
        drain, source = laws.node(self.d), laws.node(self.s)
        laws.switched.append(Switched(drain, source, plus, minus, self.table_v, self.table_ohm))  # (1)

    def read(self, at: At) -> ChannelReading:
        """See ``Element``; nmos: into the drain, pmos: out of it."""
        current_a, gate_v = float(at.branch_a[0]), at.across(*self._gate())
        ohm = None if gate_v < self.table_v[0] else float(np.interp(gate_v, self.table_v, self.table_ohm))
        return ChannelReading(current_a if self.kind == "nmos" else -current_a, at.power_w, gate_v, ohm)
