"""The most that the whole show draws from each supply, and when: every frame counted, with what hangs on it beside."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.electrical.memo import memoised_on
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power_tree import lamp_loads_a
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.errors import CancelledError
from tiny_lantern.show.caps import loads_on
from tiny_lantern.show.limit import FULL, MICRO, Load, drawn_ua
from tiny_lantern.show.weave import blocks


@dataclass(frozen=True)
class Peak:
    """The most that a supply is asked for: light, what strips always draw, lamps and boards; and in which frame. [A]"""

    supply: Supply
    light_a: float
    always_a: float
    beside_a: float
    tick: int

    @property
    def total_a(self) -> float:
        """All of it. [A]"""
        return self.light_a + self.always_a + self.beside_a


@memoised_on("effects", "scenes", "groups", "tick_hz", "show_s", "pieces", "joints", "buses", "supplies", "feeds",
             "parts", "boards", "drivers", "channels", "rails")  # fmt: skip
def show_peaks(build: Build, *, cancelled: Callable[[], bool] = lambda: False) -> tuple[Peak, ...]:
    """The peaks of supplies that the show could overload; those that even full white leaves within what they may give
    for long are left out.

    Pixels are taken to hold their currents, driven lamps to be all lit; so it is the most that can be.

    Args:
        build: the build.
        cancelled: asked now and then whether to stop.

    Raises:
        CancelledError: asked to stop.
    """
    if not build.effects or not build.strips:
        return ()
    beside_a = lamp_loads_a(build, solve_drive(build))
    asked = [(supply, loads_on(build, supply.id)) for supply in build.supplies]
    asked = [
        (supply, loads) for supply, loads in asked if loads and _may_pass(build, supply, loads, beside_a[supply.id])
    ]
    if not asked:
        return ()
    most: dict[str, tuple[int, int]] = {}
    for first, block in blocks(build):
        if cancelled():
            raise CancelledError
        for supply, loads in asked:
            drawn = drawn_ua(block, loads)
            at = int(drawn.argmax())
            if int(drawn[at]) > most.get(supply.id, (-1, 0))[0]:
                most[supply.id] = int(drawn[at]), first + at
    return tuple(
        Peak(supply, most[supply.id][0] / FULL / MICRO, _always_a(loads), beside_a[supply.id], most[supply.id][1])
        for supply, loads in asked
    )


def _always_a(loads: tuple[Load, ...]) -> float:
    return sum(load.always_ua * (load.stop - load.first) for load in loads) / MICRO


def _may_pass(build: Build, supply: Supply, loads: tuple[Load, ...], beside_a: float) -> bool:
    full_a = sum(sum(load.full_ua) * (load.stop - load.first) for load in loads) / MICRO
    return full_a + _always_a(loads) + beside_a > allowed_share(supply) * supply_part(build, supply.id).rated_a
