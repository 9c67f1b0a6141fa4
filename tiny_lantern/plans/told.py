"""One channel in figures: what it carries and between which bounds, how it looks, how finely it dims, what it heats."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.lamp.loop import Fit, fit
from tiny_lantern.light.perception import dimming_steps, lightness
from tiny_lantern.model.quantities import amps, engineering
from tiny_lantern.model.ways.scanned import Scanned
from tiny_lantern.model.working import Step, Working
from tiny_lantern.plans.resistors import asked_a, loop_of
from tiny_lantern.plans.worst import chip_steps


@dataclass(frozen=True)
class Told:
    """The figures of a channel; what does not apply is None."""

    wanted_a: float
    actual_a: float
    average_a: float
    fit: Fit | None
    lightness: float
    bits: int
    first_step: float
    coarse_below: float
    resistor_w: float


def told_of(result: ChannelResult, at: int) -> Told:
    """The figures of a channel.

    Args:
        result: its driver, solved.
        at: which channel, by its place. [-]
    """
    case = result.case
    channel, loop = case.channels[at], loop_of(case, at)
    ohm = _resistor_of(result, at)
    solved = fit(loop, ohm) if loop is not None and ohm else None
    bits = bits_of(result)
    steps = dimming_steps(bits)
    share = float(result.average_a[at]) / channel.wanted_a
    return Told(
        channel.wanted_a, float(result.on_a[at]), float(result.average_a[at]), solved,
        float(lightness(min(1.0, max(0.0, share)))), bits, steps.first, steps.below_duty,
        float(result.resistor_w[at]) / case.lamps[at].own_resistors,
    )  # fmt: skip


def _resistor_of(result: ChannelResult, at: int) -> float | None:
    driver = result.case.driver
    if isinstance(driver, Scanned):
        return driver.column_ohm
    return result.case.channels[at].resistor_ohm


def bits_of(result: ChannelResult) -> int:
    """How many bits a channel dims with; one where it is on or off."""
    driver = result.case.driver
    if driver.on_off:
        return 1
    return driver.steps_bits(result.case.board_part.pwm_bits)


def channel_working(result: ChannelResult, at: int) -> Working:
    """How a channel's current comes about, with its values put in.

    Args:
        result: its driver, solved.
        at: which channel, by its place. [-]
    """
    case = result.case
    name = case.lamps[at].piece.spoken(case.channels[at].slots[0].index)
    loop, ohm = loop_of(case, at), _resistor_of(result, at)
    current = amps(float(result.on_a[at]))
    if loop is None or ohm is None:
        steps = (Step("I as its driver sets it", "", current), *chip_steps(case))
        return Working(name, steps, "the driver's data sheet")
    wanted_a = asked_a(case, at)
    led_v = loop.string.voltage_v(wanted_a)
    solved = fit(loop, ohm)
    told = (
        Step("R = (V − ΣVf(I) − I·R_out) / I",
             f"({loop.supply_v:g} − {led_v:.3f} − {wanted_a * 1000:g} mA·{loop.output_ohm:g}) / {wanted_a * 1000:g} mA",
             engineering((loop.supply_v - led_v - wanted_a * loop.output_ohm) / wanted_a, "ohm")),
        Step("fitted", "", engineering(ohm, "ohm")),
        Step("I = (V − ΣVf0) / (R + R_out + Σr_d)",
             f"({loop.supply_v:g} − {loop.string.foot_v:.3f}) / ({ohm:g} + {loop.output_ohm:g} + "
             f"{loop.string.series_ohm:g})", amps(solved.current_a)),
        Step("range over Vf, supply and resistor", f"±{loop.spread_v:g} V, ±{loop.supply_tolerance:.0%}, "
             f"±{loop.resistor_tolerance:.0%}", f"{amps(solved.least_a)} to {amps(solved.most_a)}"),
        Step("P = I²·R, rating twice that", f"{amps(solved.current_a)}²·{ohm:g}",
             f"{engineering(solved.resistor_w, 'W')}, take {engineering(solved.rating_w, 'W')} or more"),
    )  # fmt: skip
    return Working(
        name, (*told, *chip_steps(case)), "Kirchhoff's voltage law with piecewise linear LEDs; IEC 60063 for the value"
    )
