"""Edits of what places for feeds are judged by: the design corner, where one can reach, where wires arrive."""

from __future__ import annotations

from typing import Any

from tiny_lantern.model.base import made, revise
from tiny_lantern.model.build import Approach, Build
from tiny_lantern.model.edits import fresh_id, item
from tiny_lantern.model.edits_pieces import change_strip
from tiny_lantern.model.errors import LanternError

Spans = tuple[tuple[float, float], ...]


def change_corner(build: Build, **changes: Any) -> Build:
    """Change factors of the design corner."""
    return revise(build, corner=revise(build.corner, **changes))


def set_reach(build: Build, strip_id: str, spans_m: Spans | None) -> Build:
    """Say in which spans of a strip a feed can be soldered; None means everywhere.

    Args:
        build: the build.
        strip_id: the strip.
        spans_m: where each span begins and ends, (n_spans, 2). [m]

    Raises:
        LanternError: a span ends before it begins or past the strip.
    """
    strip = item(build.strips, strip_id, "strip")
    for first, last in spans_m or ():
        if not 0 <= first <= last <= strip.length_m + 1e-6:
            raise LanternError(
                f"{first:g} to {last:g} m is no span of “{strip.name}”",
                "reach",
                f"spans from 0 to {strip.length_m:g} m",
            )
    return change_strip(build, strip_id, reach_m=spans_m)


def set_approach(build: Build, supply_id: str, strip_id: str, position_m: float, standoff_m: float) -> Build:
    """Say where a supply's wires come to a strip, and how much wire leads there.

    Args:
        build: the build.
        supply_id: the supply.
        strip_id: the strip.
        position_m: where the wires come to it. [m]
        standoff_m: wire from the supply to there. [m]
    """
    strip = item(build.strips, strip_id, "strip")
    item(build.supplies, supply_id, "supply")
    others = tuple(a for a in build.approaches if (a.supply_id, a.strip_id) != (supply_id, strip_id))
    place = min(max(position_m, 0.0), strip.length_m)
    approach = made(
        Approach, id=fresh_id(build, f"approach-{supply_id}"[:40]), supply_id=supply_id, strip_id=strip_id,
        position_m=place, standoff_m=standoff_m,
    )  # fmt: skip
    return revise(build, approaches=(*others, approach))
