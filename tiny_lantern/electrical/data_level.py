"""Whether the first pixel takes a board's high for a high."""

from __future__ import annotations

from dataclasses import dataclass

NEEDED_SHARE, HOPELESS_SHARE = 0.7, 0.5


@dataclass(frozen=True)
class FirstPixel:
    """A board's high and the first pixel at the end of its feed: resistances out and back, what the strip and the pixel
    draw, and a diode that only the first pixel's current passes."""

    high_v: float
    supply_v: float
    out_ohm: float
    back_ohm: float
    strip_a: float
    pixel_a: float
    diode_v: float = 0.0


@dataclass(frozen=True)
class DataLevel:
    """The pixel's own voltage, the high against its return node, what it needs, and the supply at which they meet."""

    pixel_v: float
    high_v: float
    needed_v: float
    highest_supply_v: float

    @property
    def margin_v(self) -> float:
        """How far the high is above what is needed. [V]"""
        return self.high_v - self.needed_v

    @property
    def ok(self) -> bool:
        """Whether the high exceeds what is needed."""
        return self.margin_v > 1e-9

    @property
    def hopeless(self) -> bool:
        """Whether it is below half of the pixel's voltage, where it does not work at all."""
        return self.high_v < HOPELESS_SHARE * self.pixel_v


def data_level(first: FirstPixel) -> DataLevel:
    """The level at the first pixel: ``V_IH = 0.7 · VDD``  (1), from its return node, which the feed's return lifts.

    Args:
        first: the pixel, its feed and the board's high.

    Source: the input levels in a pixel chip's data sheet.
    """
    through_a = first.strip_a + first.pixel_a
    lost_v = through_a * (first.out_ohm + first.back_ohm) + first.diode_v
    high_v = first.high_v - through_a * first.back_ohm
    pixel_v = first.supply_v - lost_v
    return DataLevel(pixel_v, high_v, NEEDED_SHARE * pixel_v, high_v / NEEDED_SHARE + lost_v)  # (1)
