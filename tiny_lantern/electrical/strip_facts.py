"""A strip's numbers from what a person knows of it: its watts per metre, or two voltages on a lit length."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.optimize import brentq

from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Build, Conductor, Feed, OnStrip, Supply
from tiny_lantern.model.errors import LanternError
from tiny_lantern.model.parts.strip import CcPixel, Pixel, RlPixel, StripPart, nominal_currents_a
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.parts.wire import WirePart
from tiny_lantern.model.strip import Strip

LEAST_OHM_PER_M, MOST_OHM_PER_M = 1e-5, 20.0
NEARLY_NONE_OHM = 1e-6
MOST_MEASURED = 5000


def of_watts(part: StripPart, watts_per_m: float) -> StripPart:
    """A strip that takes so many watts a metre at full white and its nominal voltage, its channels in the proportions
    that they have.

    ``I_pixel = W/m · pitch / V``  (1).

    Args:
        part: a strip of the same kind, with its pitch and voltage.
        watts_per_m: what is printed on it or was measured. [W/m]

    Raises:
        LanternError: the pixels' chips alone would take more.

    Source: power is voltage times current; any circuits text.
    """
    wanted_a = watts_per_m * part.pitch_m / part.nominal_v  # (1)
    lit_a = wanted_a - part.pixel.quiescent_a
    if lit_a <= 0:
        least = part.pixel.quiescent_a * part.nominal_v / part.pitch_m
        raise LanternError(
            f"{watts_per_m:g} W/m is less than the pixels take when dark",
            "watts per metre",
            f"more than {least:.2g} W/m",
        )
    return revise(part, pixel=_scaled(part.pixel, lit_a / sum(nominal_currents_a(part))))


def _scaled(pixel: Pixel, factor: float) -> Pixel:
    """A pixel whose lit channels carry so many times their current."""
    if isinstance(pixel, CcPixel):
        lit = tuple(revise(each, full_current_a=each.full_current_a * factor) for each in pixel.channels)
        return revise(pixel, channels=lit)
    assert isinstance(pixel, RlPixel)
    behind = tuple(revise(each, resistor_ohm=each.resistor_ohm / factor) for each in pixel.channels)
    return revise(pixel, channels=behind)


def of_voltages(part: StripPart, pixel_count: int, near_v: float, far_v: float) -> StripPart:
    """A strip whose rails lose what was measured on a length of it, fed at one end and fully white; both rails alike.

    The resistance is found by solving the length, since pixels draw less where they sag.

    Args:
        part: the strip with what its pixels draw.
        pixel_count: pixels of the length that was lit. [-]
        near_v: voltage between the pads at the fed end. [V]
        far_v: voltage between the pads at the other end. [V]

    Raises:
        LanternError: the voltages do not fit such a strip.
    """
    if not 2 <= pixel_count <= MOST_MEASURED:
        raise LanternError(f"{pixel_count} pixels cannot tell", "pixels", f"2 to {MOST_MEASURED}, all fully white")
    if not far_v < near_v:
        what = f"{far_v:g} V at the far end is not below {near_v:g} V at the fed end"
        raise LanternError(what, "far volts", "what a meter shows there while all is fully white")
    beyond = _far_end(part, pixel_count, near_v)
    highest, lowest = beyond(LEAST_OHM_PER_M), beyond(MOST_OHM_PER_M)
    if not lowest < far_v < highest:
        raise LanternError(
            f"no copper lets {far_v:g} V reach the far end",
            "far volts",
            f"{lowest:.3f} to {highest:.3f} V by this strip",
        )
    ohm_per_m = float(brentq(lambda ohm: beyond(ohm) - far_v, LEAST_OHM_PER_M, MOST_OHM_PER_M, xtol=1e-9, rtol=1e-10))
    return _with_rails(part, ohm_per_m)


def _with_rails(part: StripPart, ohm_per_m: float) -> StripPart:
    return revise(part, rail_pos_ohm_per_m=ohm_per_m, rail_neg_ohm_per_m=ohm_per_m)


def _far_end(part: StripPart, pixel_count: int, near_v: float) -> Callable[[float], float]:
    """The voltage at the far end for a resistance of each rail."""

    white = np.ones((pixel_count, len(part.pixel.channels)))

    def beyond(ohm_per_m: float) -> float:
        build = _lit_length(_with_rails(part, ohm_per_m), pixel_count, near_v)
        return float(solve_power(build, (white,)).runs["length"].pixel_v[-1])

    return beyond


def _lit_length(part: StripPart, pixel_count: int, near_v: float) -> Build:
    """A length of strip on a source without resistance."""
    source = SupplyPart(id="source", name="Source", source="bench", nominal_v=near_v, rated_a=1000, output_ohm=0.0,
                        sinks_current=True)  # fmt: skip
    wire = WirePart(id="wire", name="Wire", area_mm2=100, ohm_per_m=1e-6, limit_a=1000)
    conductor = Conductor(wire_id="wire", length_m=0.0, measured_ohm=NEARLY_NONE_OHM)
    strip = Strip(id="length", name="Length", part_id=part.id, pixel_count=pixel_count, pitch_m=part.pitch_m,
                  colour_order=part.colour_order)  # fmt: skip
    feed = Feed(id="feed", supply_id="supply", attach=OnStrip(strip_id="length", position_m=0.0),
                positive=conductor, negative=conductor)  # fmt: skip
    supply = made(Supply, id="supply", name="Source", part_id="source", set_v=near_v)
    return Build(parts=(part, source, wire), pieces=(strip,), supplies=(supply,), feeds=(feed,))
