"""Cost of the nonlinear solve beside one general sparse solve of the same linear system.

Run by hand: ``.venv/bin/python benchmarks/power.py``.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterator

from tiny_lantern.threads import NAMES, one_thread

one_thread()  # before NumPy loads

import numpy as np
from scipy.sparse import csc_array
from scipy.sparse.linalg import spsolve

from tiny_lantern.catalogue.shelf import shelf
from tiny_lantern.electrical.laws import laws_for
from tiny_lantern.electrical.linear import SparseSystem
from tiny_lantern.electrical.network import network_of
from tiny_lantern.electrical.newton import boundary, settle
from tiny_lantern.electrical.power import solve_power
from tiny_lantern.model.build import Build, Conductor, Feed, OnStrip, Supply
from tiny_lantern.model.parts.strip import StripPart
from tiny_lantern.model.strip import Strip

RUNS = 15


def strip_with_feeds(pixels: int, feeds: int, part_id: str = "rgb-5v-60") -> Build:
    """One strip fed at even distances from one supply that has an output resistance."""
    part = next(part for part in shelf().of(StripPart) if part.id == part_id)
    strip = Strip(
        id="strip", name="strip", part_id=part.id, pixel_count=pixels, pitch_m=part.pitch_m,
        colour_order=part.colour_order,
    )  # fmt: skip
    lead = Conductor(wire_id="mm2-2_5", length_m=1.0)
    places = np.linspace(0, strip.length_m, feeds)
    return Build(
        parts=tuple(shelf()),
        pieces=(strip,),
        supplies=(Supply(id="supply", name="supply", part_id="mains-5v-60a", set_v=5.0),),
        feeds=tuple(
            Feed(
                id=f"feed-{n}", supply_id="supply", attach=OnStrip(strip_id="strip", position_m=float(place)),
                positive=lead, negative=lead,
            )
            for n, place in enumerate(places)
        ),
    )  # fmt: skip


def sparse_system(build: Build, duties: tuple[np.ndarray, ...]) -> tuple[csc_array, np.ndarray]:
    """The linear system of the last Newton step as a general sparse one, with a right-hand side."""
    network = network_of(build)
    solved = solve_power(build, duties)
    held, supply_s, source_a, _ = boundary(network, [True] * len(network.supplies))
    matrix = SparseSystem(network, held, supply_s).matrix(solved.laws.conductance_s(solved.pair_v))
    right = source_a.copy()
    right[0 : network.run_node_count : 2] -= solved.pair_a
    right[1 : network.run_node_count : 2] += solved.pair_a
    return matrix, right


def median_s(work: Callable[[], object], runs: int = RUNS) -> float:
    """Median wall time of some work after one warm-up. [s]"""
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def main() -> None:
    """Print times and the ratio for a large and a small run."""
    for pixels, feeds in ((10_000, 20), (10_000, 60), (300, 2)):
        build = strip_with_feeds(pixels, feeds)
        duties = (np.ones((pixels, 3)),)

        fresh = iter([(build, (duties[0] * (1 - 1e-9 * run),)) for run in range(1, RUNS + 2)])  # nothing is remembered

        def whole(fresh: Iterator[tuple[Build, tuple[np.ndarray, ...]]] = fresh) -> object:
            return solve_power(*next(fresh)).pair_v

        network = network_of(build)
        laws = laws_for(network.pixels, duties)
        matrix, right = sparse_system(build, duties)
        solved = solve_power(build, duties)
        ours = median_s(whole)
        newton = median_s(lambda network=network, laws=laws: settle(network, laws))
        general = median_s(lambda matrix=matrix, right=right: spsolve(matrix, right))
        print(
            f"{pixels:6d} px, {feeds:2d} feeds: build to volts {ours * 1e3:6.2f} ms, "
            f"Newton alone {newton * 1e3:6.2f} ms "
            f"({solved.operating.steps} steps, lowest {solved.pair_v.min():.2f} V), "
            f"one spsolve {general * 1e3:6.2f} ms, ratio {ours / general:.2f}"
        )


def beside_all_threads() -> None:
    """The same once more in a process that may use every core for linear algebra, as it was before: both are told."""
    many = {**os.environ, **dict.fromkeys(NAMES, str(os.cpu_count()))}
    done = subprocess.run([sys.executable, __file__, "--alone"], env=many, check=False, capture_output=True, text=True)
    print(f"with {os.cpu_count()} threads for linear algebra:")
    print(done.stdout)


if __name__ == "__main__":
    main()
    if "--alone" not in sys.argv:
        beside_all_threads()
