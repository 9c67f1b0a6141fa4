"""How bright a duty looks: lightness, the steps that an eye sees, and tables of duties."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.memo import read_only

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Law = Literal["lightness", "gamma2.2", "linear"]
SLOPE, KNEE = 903.3, 8.0
VISIBLE_STEP = 1.0


def lightness(luminance: Floats | float) -> Floats:
    """CIE 1976 lightness of a relative luminance, any shape. [-]

    ``L* = 903.3 · Y`` up to 8, ``116 · Y^⅓ − 16`` above  (1).

    Args:
        luminance: 0 to 1, any shape (…). [-]

    Source: CIE 15; the constants as they are usually written.
    """
    y = np.asarray(luminance, float)
    return np.asarray(np.where(y <= KNEE / SLOPE, SLOPE * y, 116 * np.cbrt(y) - 16))  # (1)


def luminance_of(light: Floats | float) -> Floats:
    """Relative luminance of a lightness, any shape: ``((L* + 16) / 116)³`` above 8, ``L* / 903.3`` below  (1). [-]

    Args:
        light: lightness, 0 to 100, any shape (…). [-]

    Source: CIE 15.
    """
    star = np.asarray(light, float)
    return np.asarray(np.where(star > KNEE, ((star + 16) / 116) ** 3, star / SLOPE))  # (1)


@dataclass(frozen=True)
class DimmingSteps:
    """The steps of lightness from each duty of so many bits to the next."""

    bits: int
    step: Floats

    @property
    def top(self) -> int:
        """The highest duty. [-]"""
        return (1 << self.bits) - 1

    @property
    def first(self) -> float:
        """From dark to the lowest. [-]"""
        return float(self.step[0])

    @property
    def last(self) -> float:
        """To the highest. [-]"""
        return float(self.step[-1])

    @property
    def largest(self) -> float:
        """The largest. [-]"""
        return float(self.step.max())

    @property
    def above_visible(self) -> int:
        """How many an eye sees. [-]"""
        return int((self.step > VISIBLE_STEP).sum())

    @property
    def _coarse_below(self) -> int:
        """The upper end of the last step that an eye sees; 0 if there is none. [-]"""
        coarse = np.flatnonzero(self.step > VISIBLE_STEP)
        return int(coarse[-1]) + 1 if len(coarse) else 0

    @property
    def below_duty(self) -> float:
        """The share of full below which an eye sees steps; 0 where it sees none. [-]"""
        return self._coarse_below / self.top

    @property
    def below_lightness(self) -> float:
        """The same as lightness. [-]"""
        return self.lightness_at(self._coarse_below)

    def lightness_at(self, duty: int) -> float:
        """Lightness of a duty. [-]"""
        return float(lightness(duty / self.top))


@lru_cache(maxsize=32)
def dimming_steps(bits: int) -> DimmingSteps:
    """The steps of a dimmer of so many bits.

    Args:
        bits: bits of the duty. [-]
    """
    top = (1 << bits) - 1
    return DimmingSteps(bits, read_only(np.diff(lightness(np.arange(top + 1) / top))))


def duty_table(law: Law, entries: int, bits: int) -> Ints:
    """Duties in even steps of a law, rounded half up. (entries,) [-]

    Args:
        law: even to the eye, a power of 2.2, or even in light.
        entries: how many. [-]
        bits: bits of a duty. [-]

    Source: CIE 15 for lightness; 2.2 is the usual power law of displays.
    """
    even = np.arange(entries) / (entries - 1)
    shares = {"lightness": lambda: luminance_of(100 * even), "gamma2.2": lambda: even**2.2, "linear": lambda: even}
    return np.floor(shares[law]() * ((1 << bits) - 1) + 0.5).astype(np.int64)


def largest_step(table: Ints, bits: int) -> float:
    """The largest step of lightness between neighbouring entries of a table. [-]

    Args:
        table: duties, (entries,). [-]
        bits: bits of a duty. [-]
    """
    return float(np.diff(lightness(table / ((1 << bits) - 1))).max())


def first_lit(table: Ints) -> int | None:
    """The first entry of a table that is not dark; None where all are. [-]

    Args:
        table: duties, (entries,). [-]
    """
    lit = np.flatnonzero(table)
    return int(lit[0]) if len(lit) else None
