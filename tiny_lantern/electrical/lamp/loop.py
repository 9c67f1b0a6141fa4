"""One string of LEDs behind a resistor on a pin or a supply: the current, its range, and the resistor to choose."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import product

from tiny_lantern.electrical.lamp.eseries import SERIES, Preferred, preferred
from tiny_lantern.electrical.lamp.led import Led, LedString
from tiny_lantern.electrical.nearly import at_least

HEADROOM_V = 0.3
RATING_FACTOR = 2.0
LEAST_ALTERNATION_HZ = 200.0


@dataclass(frozen=True)
class Loop:
    """A source behind its own resistance and a string of LEDs, with how far each may be off its figure."""

    supply_v: float
    output_ohm: float
    string: LedString
    supply_tolerance: float = 0.0
    spread_v: float = 0.0
    resistor_tolerance: float = 0.0


@dataclass(frozen=True)
class Fit:
    """A loop with a resistor: nominal current and its range, voltages, and the heat of the resistor.

    ``led_v`` is None when nothing flows.
    """

    resistor_ohm: float
    current_a: float
    least_a: float
    most_a: float
    pin_v: float
    led_v: float | None
    resistor_w: float
    resistor_v: tuple[float, float]
    resistor_worst_w: float
    rating_w: float


@dataclass(frozen=True)
class Choice:
    """The resistor that a wanted current asks for; none is offered where the supply is too low to regulate."""

    led_at_wanted_v: float
    headroom_v: float
    too_low: bool
    ideal_ohm: float
    series: dict[str, Preferred] | None
    fits: dict[str, Fit] | None


def loop_current(
    loop: Loop, resistor_ohm: float, supply: float = 0.0, spread: float = 0.0, tolerance: float = 0.0
) -> float:
    """Current of a loop with a resistor, at a corner of its tolerances. [A]

    ``I = max(0, (V − ΣVf0) / (R + R_out + Σr_d))``  (1).

    Args:
        loop: the loop.
        resistor_ohm: its resistor. [ohm]
        supply: which end of the supply's tolerance, −1, 0 or 1. [-]
        spread: which end of the LEDs' spread, all the same way. [-]
        tolerance: which end of the resistor's tolerance. [-]

    Source: Kirchhoff's voltage law with piecewise linear LEDs.
    """
    source_v = loop.supply_v * (1 + supply * loop.supply_tolerance)
    foot_v = loop.string.foot_v + spread * loop.spread_v * loop.string.count
    ohm = resistor_ohm * (1 + tolerance * loop.resistor_tolerance) + loop.output_ohm + loop.string.series_ohm
    if ohm <= 0:
        return 0.0 if source_v <= foot_v else float("inf")
    return max(0.0, (source_v - foot_v) / ohm)  # (1)


def fit(loop: Loop, resistor_ohm: float) -> Fit:
    """A loop with a resistor, solved at its nominal figures and at all corners of its tolerances.

    ``P = I² · R``  (1), of the worst corner with that corner's own resistance; the rating is twice the nominal.

    Args:
        loop: the loop.
        resistor_ohm: its resistor. [ohm]

    Source: Joule's law; the usual factor of two for a small resistor's rating.
    """
    current_a = loop_current(loop, resistor_ohm)
    corners = [
        (loop_current(loop, resistor_ohm, *ends), resistor_ohm * (1 + ends[2] * loop.resistor_tolerance))
        for ends in product((-1, 1), repeat=3)
    ]
    resistor_w = current_a**2 * resistor_ohm  # (1)
    return Fit(
        resistor_ohm=resistor_ohm,
        current_a=current_a,
        least_a=min(amps for amps, _ in corners),
        most_a=max(amps for amps, _ in corners),
        pin_v=loop.supply_v - loop.output_ohm * current_a,
        led_v=loop.string.voltage_v(current_a) if current_a > 0 else None,
        resistor_w=resistor_w,
        resistor_v=(min(amps * ohm for amps, ohm in corners), max(amps * ohm for amps, ohm in corners)),
        resistor_worst_w=max(amps**2 * ohm for amps, ohm in corners),
        rating_w=RATING_FACTOR * resistor_w,
    )


def ideal_ohm(loop: Loop, wanted_a: float) -> float:
    """The resistor that gives a wanted current; below zero where none can. [ohm]

    ``R = (V − ΣVf(I) − I · R_out) / I``  (1).

    Args:
        loop: the loop.
        wanted_a: the current wanted. [A]

    Source: Kirchhoff's voltage law.
    """
    return (loop.supply_v - loop.string.voltage_v(wanted_a) - wanted_a * loop.output_ohm) / wanted_a  # (1)


def choose(loop: Loop, wanted_a: float) -> Choice:
    """Which resistor to buy for a wanted current.

    Args:
        loop: the loop.
        wanted_a: the current wanted. [A]
    """
    led_v = loop.string.voltage_v(wanted_a)
    too_low = not at_least(loop.supply_v, led_v + HEADROOM_V)
    ideal = ideal_ohm(loop, wanted_a)
    if too_low or ideal <= 0:
        return Choice(led_v, loop.supply_v - led_v, too_low, ideal, None, None)
    series = {name: preferred(ideal, values) for name, values in SERIES.items()}
    fits = {
        f"{name}_{side}": fit(loop, getattr(around, side))
        for name, around in series.items()
        for side in ("up", "below")
    }
    return Choice(led_v, loop.supply_v - led_v, too_low, ideal, series, fits)


@dataclass(frozen=True)
class TwoLead:
    """Two dies back to back between two pins: each one's current, what the dark one sees, and the averages when they
    alternate."""

    forward_a: float
    reverse_a: float
    across_b_v: float
    across_a_v: float
    average_a: tuple[float, float]
    fast_enough: bool


def two_lead(loop: Loop, resistor_ohm: float, other: Led, alternate_hz: float) -> TwoLead:
    """A lamp of two opposite dies on two pins; both pins' resistances are the loop's.

    Args:
        loop: the loop of the first die.
        resistor_ohm: the resistor. [ohm]
        other: the opposite die.
        alternate_hz: how often the two change places a second. [Hz]
    """
    back = Loop(loop.supply_v, loop.output_ohm, LedString((other,)))
    forward_a, reverse_a = loop_current(loop, resistor_ohm), loop_current(back, resistor_ohm)
    return TwoLead(
        forward_a, reverse_a, loop.string.voltage_v(forward_a), other.voltage_v(reverse_a),
        (forward_a / 2, reverse_a / 2), at_least(alternate_hz, LEAST_ALTERNATION_HZ),
    )  # fmt: skip
