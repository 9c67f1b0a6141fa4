"""A P-channel transistor on the high side, driven by a pin that may be of lower voltage than what it switches."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class HighSide:
    """The gate's pull resistor to the supply and the series resistor to the pin, with the threshold as it stands in a
    data sheet without its sign."""

    supply_v: float
    pin_high_v: float
    threshold_abs_v: float
    pull_ohm: float
    series_ohm: float


@dataclass(frozen=True)
class HighSideGate:
    """Voltage from source to gate with the pin high and low, and whether high turns it off."""

    off_v: float
    on_v: float
    turns_off: bool

    @property
    def needs_driver(self) -> bool:
        """Whether a driver between pin and gate is needed."""
        return not self.turns_off


def high_side(stage: HighSide) -> HighSideGate:
    """What the gate gets: ``V_SG = (V − V_pin) · R_pull / (R_pull + R_series)``  (1).

    Args:
        stage: the stage.

    Source: a voltage divider between the supply and the pin.
    """
    share = stage.pull_ohm / (stage.pull_ohm + stage.series_ohm)
    off_v = (stage.supply_v - stage.pin_high_v) * share  # (1)
    return HighSideGate(off_v, stage.supply_v * share, off_v < stage.threshold_abs_v)
