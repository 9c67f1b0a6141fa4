"""A strip in a circuit: two rails with a pixel at every pitch, ends and taps on nodes of the circuit."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.shapes import Shape

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
TIED_WITHIN_V = 1e-9


@dataclass(frozen=True)
class Tap:
    """Nodes that are a pixel's two pads."""

    pixel: int
    plus: str
    minus: str


@dataclass(frozen=True, eq=False)
class StripReading(Reading):
    """Also the voltage of each pixel, (n_pixels,), the lowest and the first pixel that has it, and the current into the
    strip at each of its terminals by name. [V], [A]"""

    pixel_v: Floats
    lowest_v: float
    lowest_pixel: int
    terminal_a: dict[str, float]


@dataclass(frozen=True, eq=False)
class Strip:
    """Pixel k sits at ``(k + ½) · p``; between neighbours each rail has ``r · p``, at each end half of that  (1). The
    positive rail is open before the pixels in ``cuts``. The law of a pixel is a sum of ramps: slopes of shape (n_ramps,
    n_pixels), and the volts where each begins and ends, (n_ramps,). [S], [V]"""

    TERMINALS: ClassVar[tuple[str, ...]] = ("start_plus", "start_minus", "end_plus", "end_minus")
    id: str
    start_plus: str | None
    start_minus: str | None
    end_plus: str | None
    end_minus: str | None
    count: int
    pitch_m: float
    plus_ohm_per_m: float
    minus_ohm_per_m: float
    slope_s: Floats
    low_v: Floats
    high_v: Floats
    cuts: tuple[int, ...] = ()
    taps: tuple[Tap, ...] = ()

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("box")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        ends = (self.start_plus, self.start_minus, self.end_plus, self.end_minus)
        return (*(end for end in ends if end), *(name for tap in self.taps for name in (tap.plus, tap.minus)))

    def lay(self, laws: Laws) -> None:
        """See ``Element``: the plus rail from start to end, the minus rail likewise, then the pixels ramp by ramp."""
        plus, minus = laws.inner(self.count), laws.inner(self.count)
        for tap in self.taps:
            plus[tap.pixel], minus[tap.pixel] = laws.node(tap.plus), laws.node(tap.minus)
        self._lay_rail(laws, plus, self.plus_ohm_per_m, (self.start_plus, self.end_plus), self.cuts)
        self._lay_rail(laws, minus, self.minus_ohm_per_m, (self.start_minus, self.end_minus), ())
        for slope_s, low_v, high_v in zip(self.slope_s, self.low_v, self.high_v, strict=True):
            low = np.full(self.count, low_v)
            laws.ramps(plus, minus, slope_s, low, np.full(self.count, high_v), low)

    def _lay_rail(
        self, laws: Laws, pads: Ints, ohm_per_m: float, ends: tuple[str | None, str | None], cuts: tuple[int, ...]
    ) -> None:
        between_s = np.full(self.count - 1, 1 / (ohm_per_m * self.pitch_m))  # (1)
        between_s[[cut - 1 for cut in cuts if cut > 0]] = 0.0
        free = np.full(self.count - 1, np.inf)
        if ends[0]:
            laws.ramp(laws.node(ends[0]), int(pads[0]), 2 / (ohm_per_m * self.pitch_m))  # (1)
        laws.ramps(pads[:-1], pads[1:], between_s, -free, free, np.zeros(self.count - 1))
        if ends[1]:
            laws.ramp(int(pads[-1]), laws.node(ends[1]), 2 / (ohm_per_m * self.pitch_m))  # (1)

    def read(self, at: At) -> StripReading:
        """See ``Element``; the current is what its pixels draw."""
        plus_a, rest = self._along(at.branch_a, self.start_plus, self.end_plus)
        minus_a, rest = self._along(rest, self.start_minus, self.end_minus)
        pixel_a = rest.reshape(len(self.slope_s), self.count).sum(axis=0)
        terminal_a = {}
        for name, node, into in (
            ("start_plus", self.start_plus, plus_a[0]),
            ("start_minus", self.start_minus, minus_a[0]),
            ("end_plus", self.end_plus, -plus_a[-1]),
            ("end_minus", self.end_minus, -minus_a[-1]),
        ):
            if node:
                terminal_a[name] = float(into)
        for number, tap in enumerate(self.taps):
            here = slice(tap.pixel, tap.pixel + 2)
            terminal_a[f"tap{number}_plus"] = float(np.diff(plus_a[here])[0] + pixel_a[tap.pixel])
            terminal_a[f"tap{number}_minus"] = float(np.diff(minus_a[here])[0] - pixel_a[tap.pixel])
        pixel_v = at.branch_v[-self.count :]
        lowest_v = float(pixel_v.min())
        lowest = int(np.flatnonzero(pixel_v <= lowest_v + TIED_WITHIN_V)[0])
        return StripReading(float(pixel_a.sum()), at.power_w, pixel_v, lowest_v, lowest, terminal_a)

    def _along(self, branch_a: Floats, start: str | None, end: str | None) -> tuple[Floats, Floats]:
        """The current of a rail before each pixel and behind the last, (n_pixels + 1,), and the branches after it."""
        along = np.zeros(self.count + 1)
        used = self.count - 1 + bool(start) + bool(end)
        first = 0 if start else 1
        along[first : first + used] = branch_a[:used]
        return along, branch_a[used:]
