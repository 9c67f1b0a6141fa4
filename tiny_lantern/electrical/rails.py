"""Trimmed rails solved: what each gives idle and at worst, its voltage there, its headroom and its heat."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.edits import item
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail


@dataclass(frozen=True)
class RailState:
    """A rail under its loads. ``idle_v`` and ``worst_v`` are its voltage with nothing lit and with everything, which is
    trimmed at one of them; ``headroom_v`` what is left above the regulator's dropout."""

    rail: Rail
    part: RegulatorPart
    supply: Supply
    idle_a: float
    worst_a: float
    idle_v: float
    worst_v: float
    headroom_v: float
    heat_w: float
    regulator_c: float

    @property
    def low_margin_v(self) -> float:
        """How far its lowest voltage lies above the foot of its window. [V]"""
        return self.worst_v - self.rail.low_v

    @property
    def high_margin_v(self) -> float:
        """How far its highest voltage lies below the top of its window. [V]"""
        return self.rail.high_v - self.idle_v

    @property
    def serves(self) -> bool:
        """Whether it stays in its window."""
        return self.low_margin_v >= -1e-9 and self.high_margin_v >= -1e-9

    @property
    def target_that_serves_v(self) -> float | None:
        """The voltage to trim it to so that both margins are alike; None where the window is narrower than what it
        falls. [V]"""
        spread = self.idle_v - self.worst_v
        middle = (self.rail.low_v + self.rail.high_v) / 2
        if spread > self.rail.high_v - self.rail.low_v + 1e-9:
            return None
        return middle + spread / 2 if self.rail.trimmed == "unloaded" else middle - spread / 2


def rail_state(build: Build, rail: Rail, idle_a: float, worst_a: float) -> RailState:
    """A rail under a load.

    Trimmed with nothing lit it gives ``V = target - R·(I - I_idle)``, trimmed with everything lit
    ``V = target + R·(I_worst - I)``  (1).

    Args:
        build: the build.
        rail: the rail.
        idle_a: what hangs on it draws with nothing lit. [A]
        worst_a: with everything lit. [A]
    """
    part = build.shelf.find(RegulatorPart, rail.regulator_id)
    supply: Supply = item(build.supplies, rail.supply_id, "supply")
    falls_v = rail.output_ohm * (worst_a - idle_a)
    idle_v = rail.target_v + (falls_v if rail.trimmed == "loaded" else 0.0)  # (1)
    worst_v = idle_v - falls_v
    heat_w = max(0.0, supply.set_v - worst_v) * worst_a
    return RailState(
        rail, part, supply, idle_a, worst_a, idle_v, worst_v, supply.set_v - idle_v - part.dropout_v, heat_w,
        junction_c(heat_w, rail.ambient_c, part.theta_k_per_w),
    )  # fmt: skip
