"""What a meter should say at a wiring step: before power, and when the lamp is lit."""

from __future__ import annotations

from tiny_lantern.circuit.conductor import Conductor
from tiny_lantern.electrical.driven.contract import case_of
from tiny_lantern.electrical.lamp.loop import fit
from tiny_lantern.model.build import Build
from tiny_lantern.model.quantities import engineering
from tiny_lantern.plans.resistors import loop_of


def meter_words(build: Build, row: Conductor) -> str:
    """What to measure on a conductor, in a line or two.

    Args:
        build: the build.
        row: the conductor.
    """
    before = f"Before power: {_before(row)}"
    driver = next((driver for driver in build.drivers if driver.id == row.driver_id), None)
    if driver is None or row.slot is None:
        return before
    channels = build.channels_of[driver.id]
    case = case_of(build, driver, channels)
    for at, channel in enumerate(channels):
        if row.key.rstrip("0123456789") != f"{driver.id}/{channel.output}/lamp":
            continue
        loop, ohm = loop_of(case, at), channel.resistor_ohm
        if loop is None or not ohm:
            return before
        found = fit(loop, ohm)
        low, high = found.resistor_v
        return f"{before}\nWhen lit: {found.current_a * ohm:.2f} V across the resistor, {low:.2f} to {high:.2f}"
    return before


def _before(row: Conductor) -> str:
    if row.through and row.through.endswith("Ω"):
        return f"about {row.through} from {row.start.words} to {row.end.words}"
    if "nF" in row.through:
        return "no beep between its ends: it is a capacitor"
    cut = f"; cut {engineering(row.cut_m, 'm')} of wire" if row.cut_m else ""
    return f"a beep between {row.start.words} and {row.end.words}{cut}"
