"""What the show draws on average from each supply: strips as solved at every tick, driven lamps by their duties."""

from __future__ import annotations

from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.model.build import Build
from tiny_lantern.show.channels import duties_of_show
from tiny_lantern.show.draw import ShowDraw


def mean_draw_a(build: Build, draw: ShowDraw | None, drive: DriveSolution) -> dict[str, float]:
    """The mean current of each supply over the show, by its id. [A]

    Args:
        build: the build.
        draw: what its strips draw at every tick, where it has any that can be solved.
        drive: its drivers with everything lit.
    """
    if not build.effects:
        return {}
    shown_a = lamp_loads_a(build, drive.lit_for(mean_shares(build)))
    found = {supply_id: amps for supply_id, amps in shown_a.items() if amps > 0}
    if draw is not None and draw.supply_a.shape[1] == len(build.supplies):
        for number, supply in enumerate(build.supplies):
            strips_a = float(draw.supply_a[:, number].mean())
            if strips_a > 0:
                found[supply.id] = found.get(supply.id, 0.0) + strips_a
    return found


@memoised_on("effects", "scenes", "groups", "pieces", "joints", "buses", "supplies", "feeds", "boards", "rails",
             "channels", "drivers", "parts", "tick_hz", "show_s")  # fmt: skip
def mean_shares(build: Build) -> dict[str, float]:
    """Mean duty of each driver's channels over the show, by its id, 0 to 1. [-]"""
    found = {}
    for driver in build.drivers:
        channels = build.channels_of[driver.id]
        found[driver.id] = float(duties_of_show(build, driver).mean()) if channels else 0.0
    return found
