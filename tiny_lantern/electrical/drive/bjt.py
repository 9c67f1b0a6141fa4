"""A bipolar transistor as a low-side switch, driven from a pin through a base resistor."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.electrical.lamp.eseries import SERIES, preferred
from tiny_lantern.electrical.lamp.led import Led


@dataclass(frozen=True)
class StringLoad:
    """Equal strings side by side, each LEDs behind a resistor; without LEDs the resistor alone."""

    supply_v: float
    resistor_ohm: float
    led: Led | None
    strings: int = 1

    def current_a(self, lost_v: float = 0.0, shared_ohm: float = 0.0) -> float:
        """Current of all strings with a voltage lost in the switch, or a resistance that all share. [A]

        ``I = n · (V − V_lost − ΣVf0) / (R + Σr_d + n · R_shared)``  (1), none below zero.

        Args:
            lost_v: voltage across the switch. [V]
            shared_ohm: resistance of the switch. [ohm]

        Source: Kirchhoff's laws for equal branches behind one resistance.
        """
        foot_v = self.led.foot_v if self.led else 0.0
        own_ohm = self.resistor_ohm + (self.led.series_ohm if self.led else 0.0)
        drive_v = self.supply_v - lost_v - foot_v
        return max(0.0, self.strings * drive_v / (own_ohm + self.strings * shared_ohm))  # (1)


@dataclass(frozen=True)
class Bjt:
    """A transistor by its saturated figures and heat, the pin that drives it, and the limits of both."""

    pin_v: float
    pin_ohm: float
    forced_beta: float
    vbe_v: float = 0.7
    vce_sat_v: float = 0.2
    duty: float = 1.0
    ambient_c: float = 25.0
    theta_k_per_w: float = 200.0
    limit_c: float = 150.0
    pin_recommended_a: float = 0.02
    pin_absolute_a: float = 0.04
    base_limit_a: float = 0.05


@dataclass(frozen=True)
class BaseDrive:
    """What a base resistor gives: base current, the gain that is asked for, the pin's voltage, and its limits."""

    base_ohm: float
    base_a: float
    actual_beta: float
    pin_v: float
    over_recommended: bool
    over_absolute: bool


@dataclass(frozen=True)
class Switched:
    """A saturated switch: its current, its heat and its temperature."""

    current_a: float
    heat_w: float
    junction_c: float
    over_limit: bool


def switched(bjt: Bjt, load: StringLoad) -> Switched:
    """The transistor on and saturated: ``P = V_CE(sat) · I_C · duty``  (1).

    Saturation is assumed; what a base resistor gives is told by ``base_drive``.

    Args:
        bjt: the transistor and its pin.
        load: what it switches.

    Source: power dissipation of a saturated switch; any electronics text.
    """
    current_a = load.current_a(lost_v=bjt.vce_sat_v)
    heat_w = bjt.vce_sat_v * current_a * bjt.duty  # (1)
    warm_c = junction_c(heat_w, bjt.ambient_c, bjt.theta_k_per_w)
    return Switched(current_a, heat_w, warm_c, warm_c > bjt.limit_c)


def base_wanted_a(bjt: Bjt, collector_a: float) -> float:
    """Base current for a forced gain: ``I_B = I_C / β``  (1). [A]

    Args:
        bjt: the transistor and its pin.
        collector_a: collector current. [A]

    Source: the usual overdrive of a saturated switch, a forced gain of 10 to 20.
    """
    return collector_a / bjt.forced_beta  # (1)


def base_ideal_ohm(bjt: Bjt, collector_a: float) -> float:
    """The base resistor for it: ``R_B = (V_pin − I_B · R_pin − V_BE) / I_B``  (1). [ohm]

    Args:
        bjt: the transistor and its pin.
        collector_a: collector current. [A]

    Source: Kirchhoff's voltage law in the base loop.
    """
    base_a = base_wanted_a(bjt, collector_a)
    return (bjt.pin_v - base_a * bjt.pin_ohm - bjt.vbe_v) / base_a  # (1)


def base_drive(bjt: Bjt, collector_a: float, base_ohm: float) -> BaseDrive:
    """What a base resistor gives; with 0 ohm only the pin limits, which is what a missing resistor means.

    Args:
        bjt: the transistor and its pin.
        collector_a: collector current. [A]
        base_ohm: the base resistor. [ohm]

    Source: Kirchhoff's voltage law in the base loop.
    """
    base_a = max(0.0, (bjt.pin_v - bjt.vbe_v) / (base_ohm + bjt.pin_ohm))
    return BaseDrive(
        base_ohm, base_a, collector_a / base_a if base_a > 0 else float("inf"), bjt.pin_v - base_a * bjt.pin_ohm,
        base_a > bjt.pin_recommended_a, base_a > bjt.pin_absolute_a,
    )  # fmt: skip


def base_over_limit(bjt: Bjt, drive: BaseDrive) -> bool:
    """Whether a base carries more than it may.

    Args:
        bjt: the transistor.
        drive: what its base gets.
    """
    return drive.base_a > bjt.base_limit_a


def base_choices(bjt: Bjt, collector_a: float) -> dict[str, BaseDrive]:
    """What the preferred base resistors give; rounded down they keep the gain at most as wanted, up they do not.

    Args:
        bjt: the transistor and its pin.
        collector_a: collector current. [A]
    """
    found = {}
    for name, values in SERIES.items():
        around = preferred(base_ideal_ohm(bjt, collector_a), values)
        for side in ("down", "up"):
            found[f"{name}_{side}"] = base_drive(bjt, collector_a, getattr(around, side))
    return found
