"""Trimmed rails solved: what each gives idle and at worst, its voltage there, its headroom and its heat."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.electrical.heat import junction_c
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.parts.regulator import RegulatorPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import Source, behind, source_of


@dataclass(frozen=True)
class RailState:
    """A rail under its loads. ``idle_v`` and ``worst_v`` are its voltage with nothing lit and with everything, which is
    trimmed at one of them; ``headroom_v`` what is left above what the regulator needs."""

    rail: Rail
    part: RegulatorPart
    source: Source
    idle_a: float
    worst_a: float
    idle_v: float
    worst_v: float
    headroom_v: float
    heat_w: float
    regulator_c: float

    @property
    def in_a(self) -> tuple[float, float]:
        """What it takes from its source, idle and at worst: what it gives, or of a switching regulator the same power
        with its losses; and what the regulator draws itself. [A]"""
        return self._taken_a(self.idle_v, self.idle_a), self._taken_a(self.worst_v, self.worst_a)

    def _taken_a(self, out_v: float, out_a: float) -> float:
        if self.part.sort == "linear":
            return out_a + self.part.idle_a
        return out_v * out_a / (self.part.efficiency * max(self.source.volts, 1.0)) + self.part.idle_a

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
    ``V = target + R·(I_worst - I)``  (1). A linear regulator turns ``(V_in - V)·I`` to heat, a switching one
    ``V·I·(1/η - 1)``  (2).

    Args:
        build: the build.
        rail: the rail.
        idle_a: what hangs on it draws with nothing lit. [A]
        worst_a: with everything lit. [A]
    """
    part = build.shelf.find(RegulatorPart, rail.regulator_id)
    source = source_of(build, rail.fed_by)
    assert source is not None
    falls_v = rail.output_ohm * (worst_a - idle_a)
    idle_v = rail.target_v + (falls_v if rail.trimmed == "loaded" else 0.0)  # (1)
    worst_v = idle_v - falls_v
    lost_w = worst_v * worst_a * (1 / part.efficiency - 1)  # (2)
    heat_w = max(0.0, source.volts - worst_v) * worst_a if part.sort == "linear" else lost_w
    needed_v = part.least_in_v if part.sort == "step_up" else idle_v + part.dropout_v
    return RailState(
        rail, part, source, idle_a, worst_a, idle_v, worst_v, source.volts - needed_v, heat_w,
        junction_c(heat_w, rail.ambient_c, part.theta_k_per_w),
    )  # fmt: skip


def taken_of_supply(build: Build, fed_by: FedBy | None) -> tuple[str, float]:
    """The supply that something hangs on at last, by its id, and what that gives for each ampere of it: 1 through
    boards and linear regulators, the share of their power with their losses through switching ones. [-]

    Args:
        build: the build.
        fed_by: what feeds it.
    """
    source, share = source_of(build, fed_by), 1.0
    while source is not None:
        before = behind(build, source)
        if isinstance(source.thing, Supply):
            return source.id, share
        if isinstance(source.thing, Rail) and before is not None:
            part = build.shelf.find(RegulatorPart, source.thing.regulator_id)
            if part.sort != "linear":
                share *= source.volts / (part.efficiency * max(before.volts, 1.0))
        source = before
    return "", share
