"""What each light draws from its supply at full, and what a supply's cap leaves for light."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.laws import ramps_of
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import part_of
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.electrical.supplies import reaching_supplies
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.strip import PixelRun
from tiny_lantern.show.limit import MICRO, Cap, Load

COLOURS = ("red", "green", "blue", "white")


def loads_on(build: Build, supply_id: str) -> tuple[Load, ...]:
    """The lights that a supply feeds; one that several reach is taken to draw alike from each.

    Args:
        build: the build.
        supply_id: the supply.
    """
    supply = item(build.supplies, supply_id, "supply")
    found = []
    for span in build.line.runs:
        reach = reaching_supplies(build)[span.run.id]
        if supply_id in reach:
            found.append(_load(build, span.run, span.first, supply.set_v, len(reach)))
    return tuple(load for load in found if any(load.full_ua))


def _load(build: Build, run: PixelRun, first: int, set_v: float, shared_by: int) -> Load:
    part = part_of(build, run)
    amps = full_currents_a(part, max(part.nominal_v, set_v))
    ua = {name: -int(-amps_of * MICRO // shared_by) for name, amps_of in amps.items()}  # rounded up
    red, green, blue, white = (ua.get(colour, 0) for colour in COLOURS)
    full = red, green, blue, white
    always = -int(-part.pixel.quiescent_a * MICRO // shared_by)
    return Load(first, first + run.pixel_count, full, always, "W" in run.colour_order)


def full_currents_a(part: StripPart, v: float) -> dict[str, float]:
    """What each channel of a pixel draws at full duty at a voltage, by its name. [A]

    Args:
        part: the strip.
        v: the voltage. [V]
    """
    start, width, slope = ramps_of(part.pixel)
    amps = np.clip(v - start[1:], 0, width[1:]) * slope[1:]
    return dict(zip((channel.name for channel in part.pixel.channels), amps.tolist(), strict=True))


@memoised_on("pieces", "joints", "buses", "supplies", "feeds", "parts", "boards", "drivers", "channels", "rails")
def worked_out(build: Build) -> tuple[Cap, ...]:
    """The caps of a build's supplies that have one; none of supplies that feed no strip."""
    capped = [supply for supply in build.supplies if supply.show_cap_a is not None]
    beside_a = lamp_loads_a(build, solve_drive(build))
    found = []
    for supply in capped:
        loads = loads_on(build, supply.id)
        assert supply.show_cap_a is not None
        always = sum(load.always_ua * (load.stop - load.first) for load in loads)
        room = int((supply.show_cap_a - beside_a[supply.id]) * MICRO) - always
        if loads:
            found.append(Cap(supply.id, max(0, room), loads))
    return tuple(found)
