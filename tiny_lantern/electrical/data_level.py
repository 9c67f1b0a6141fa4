"""Whether the first pixel takes a board's high for a high."""

from __future__ import annotations

from dataclasses import dataclass

NEEDED_SHARE, HOPELESS_SHARE = 0.7, 0.5


@dataclass(frozen=True)
class FirstPixel:
    """A board's high and the first pixel at the end of its feed: resistances out and back, what the strip and the pixel
    draw, a diode that only the first pixel's current passes, what lies in the data line (pin and series resistor), and
    the resistance of the pixel's input, None for one that draws nothing."""

    high_v: float
    supply_v: float
    out_ohm: float
    back_ohm: float
    strip_a: float
    pixel_a: float
    diode_v: float = 0.0
    line_ohm: float = 0.0
    input_ohm: float | None = None


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

    An input that draws current divides the high with what lies in the data line; its current goes back with the feed's:
    ``I = (V_high − I_feed · R_back) / (R_line + R_in + R_back)``  (2).

    Args:
        first: the pixel, its feed and the board's high.

    Source: the input levels in a pixel chip's data sheet; Kirchhoff's voltage law.
    """
    through_a = first.strip_a + first.pixel_a
    high_v, input_a = first.high_v - through_a * first.back_ohm, 0.0
    if first.input_ohm is not None:
        input_a = high_v / (first.line_ohm + first.input_ohm + first.back_ohm)  # (2)
        high_v = input_a * first.input_ohm
    lost_v = through_a * (first.out_ohm + first.back_ohm) + input_a * first.back_ohm + first.diode_v
    pixel_v = first.supply_v - lost_v
    return DataLevel(pixel_v, high_v, NEEDED_SHARE * pixel_v, high_v / NEEDED_SHARE + lost_v)  # (1)
