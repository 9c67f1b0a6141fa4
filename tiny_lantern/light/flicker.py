"""Flicker of dimmed lamps, and bands before a camera."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from tiny_lantern.electrical.drive.timer import pwm_hz
from tiny_lantern.electrical.nearly import at_least

Flicker = Literal["seen", "risk", "low_risk", "no_observable_effect"]
EDGES: tuple[tuple[float, Flicker], ...] = (
    (3000.0, "no_observable_effect"), (1250.0, "low_risk"), (90.0, "risk")
)  # fmt: skip


def flicker(frequency_hz: float) -> Flicker:
    """How a lamp that is fully on and off so often is seen; an edge belongs to the better class.

    Args:
        frequency_hz: how often a second. [Hz]

    Source: IEEE 1789-2015, full modulation; below 90 Hz it is seen directly.
    """
    return next((word for edge, word in EDGES if at_least(frequency_hz, edge)), "seen")


def banding(frequency_hz: float, exposure_s: float) -> bool:
    """Whether a camera sees bands: an exposure does not hold whole cycles.

    Args:
        frequency_hz: how often a second. [Hz]
        exposure_s: how long the shutter is open. [s]

    Source: a shutter averages whole cycles only.
    """
    cycles = frequency_hz * exposure_s
    return abs(cycles - round(cycles)) > 1e-9 * max(1.0, cycles)


def by_bits(clock_hz: float, prescale: int, bits: Sequence[int]) -> dict[int, float]:
    """Frequencies of a timer by how many bits it counts. [Hz]

    Args:
        clock_hz: the board's clock. [Hz]
        prescale: the divider before the timer. [-]
        bits: numbers of bits. [-]
    """
    return {each: pwm_hz(clock_hz, prescale, each) for each in bits}


def most_bits(rates_hz: Mapping[int, float], wanted: Flicker) -> int | None:
    """The most bits at which flicker is of a class or better; None where it never is. [-]

    Args:
        rates_hz: frequency by bits. [Hz]
        wanted: the class.
    """
    order = ("seen", "risk", "low_risk", "no_observable_effect")
    good = [bits for bits, hz in rates_hz.items() if order.index(flicker(hz)) >= order.index(wanted)]
    return max(good, default=None)
