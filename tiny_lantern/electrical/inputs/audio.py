"""Sound on an analogue input: two resistors lift it to half the supply, a capacitor lets it in, and its counts."""

from __future__ import annotations

import math
from dataclasses import dataclass

from tiny_lantern.electrical.nearly import whole


@dataclass(frozen=True)
class AudioIn:
    """A source of so much peak voltage through ``coupling_f`` onto two equal resistors between the supply and 0 V, read
    against a reference by an input of so many bits."""

    peak_v: float
    supply_v: float
    bias_ohm: float
    coupling_f: float
    reference_v: float
    adc_bits: int

    @property
    def idle_v(self) -> float:
        """The voltage in silence: half the supply. [V]"""
        return self.supply_v / 2

    @property
    def low_hz(self) -> float:
        """Below this the capacitor takes more than it gives: ``1 / (2π · R/2 · C)``  (1). [Hz]

        Source: the corner of a first-order high-pass.
        """
        return 1 / (2 * math.pi * self.bias_ohm / 2 * self.coupling_f)  # (1)

    @property
    def clips(self) -> bool:
        """Whether the peaks leave the range between 0 V and the reference."""
        return self.idle_v + self.peak_v > self.reference_v + 1e-9 or self.peak_v > self.idle_v + 1e-9

    @property
    def idle_counts(self) -> int:
        """The reading in silence, which a level is counted from. [-]"""
        return self._counts(self.idle_v)

    @property
    def peak_counts(self) -> int:
        """How far the loudest moves the reading from there. [-]"""
        return self._counts(min(self.idle_v + self.peak_v, self.reference_v)) - self.idle_counts

    @property
    def widest_v(self) -> float:
        """The largest peak that is not clipped. [V]"""
        return min(self.idle_v, self.reference_v - self.idle_v)

    def _counts(self, volts: float) -> int:
        steps = 1 << self.adc_bits
        return min(max(whole(volts / self.reference_v * steps), 0), steps - 1)
