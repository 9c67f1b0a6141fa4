"""A sweep of shorts beside single shorts followed one by one, and searches for feeds beside one solve of their answer.

Run by hand: ``.venv/bin/python benchmarks/plans.py``.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parent))

from power import strip_with_feeds

from tiny_lantern.electrical.power import solve_power
from tiny_lantern.electrical.shorts.study import short_at, sweep_of
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build, FullWhite
from tiny_lantern.model.edits import change_parts
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.plans.feeds import plan_feeds
from tiny_lantern.show.loads import duties_for

SINGLE = 20
SWEEPS = ((300, 2), (5000, 10), (5000, 40))
LINES = (300, 1000, 3000, 5000)


def seconds(work: Callable[[], Any]) -> tuple[float, Any]:
    """How long some work takes, and what it gives. [s]"""
    start = time.perf_counter()
    found = work()
    return time.perf_counter() - start, found


def fresh(build: Build) -> Build:
    """The same build made of new parts, for which nothing is remembered."""
    return Build.model_validate(build.model_dump())


def main() -> None:
    """Print times and ratios."""
    for pixels, feeds in SWEEPS:
        build = strip_with_feeds(pixels, feeds)
        swept, _ = seconds(lambda build=build: sweep_of(fresh(build)))
        step = max(1, pixels // SINGLE)
        nodes = range(0, pixels, step)
        single, _ = seconds(lambda build=build, nodes=nodes: [short_at(build, "strip", node) for node in nodes])
        one_by_one = single / len(nodes) * (pixels + 2)
        print(
            f"shorts {pixels:5d} px, {feeds:2d} feeds: sweep {swept * 1e3:7.1f} ms, "
            f"one by one {one_by_one * 1e3:8.0f} ms, ratio {swept / one_by_one:.4f}"
        )
    for pixels in LINES:
        build = strip_with_feeds(pixels, 1)
        spacious = tuple(revise(part, rated_a=1_000.0) for part in build.shelf.of(SupplyPart))
        build = change_parts(build, *spacious)
        took, plans = seconds(lambda build=build: plan_feeds(build, "strip", FullWhite()))
        fed = plans[0].apply(build)
        solve, _ = seconds(lambda fed=fed: solve_power(fresh(fed), duties_for(fed, FullWhite())))
        print(
            f"feeds  {pixels:5d} px: {plans[0].count:3d} found (bound {plans[0].bound.fewest}) in {took:5.2f} s, "
            f"one solve {solve * 1e3:6.1f} ms, ratio {took / solve:.0f}"
        )


if __name__ == "__main__":
    main()
