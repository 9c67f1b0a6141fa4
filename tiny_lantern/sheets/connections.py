"""Every conductor of a build as rows of its wiring list: those of its circuit, and how full the passages are."""

from __future__ import annotations

from collections.abc import Callable

from tiny_lantern.circuit.conductor import Conductor
from tiny_lantern.circuit.drive import whole_circuit
from tiny_lantern.electrical.room_behind import fill_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits_room import feeds_through
from tiny_lantern.model.room import Passage

OUTER_M = 0.0015


def connections(build: Build) -> tuple[Conductor, ...]:
    """Every conductor, in the order of the hands: commons, chip supply, control, lamps, feeds, the lamp supply last;
    each numbered, with its colour, its length and the passage that it goes through."""
    return whole_circuit(build).conductors


def rows_of(build: Build, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> tuple[Conductor, ...]:
    """The same, as work in the background.

    Args:
        build: the build.
        progress: told how far it is. [-]
        cancelled: asked whether to stop.
    """
    return connections(build)


def most_through(passage: Passage, outer_m: float = OUTER_M) -> int:
    """How many thin conductors a passage takes. [-]

    Args:
        passage: the passage.
        outer_m: how thick each is outside. [m]
    """
    count = int(fill_of(3) * passage.diameter_m**2 / outer_m**2 + 1e-9)
    return max(count, 1 if outer_m <= passage.diameter_m else 0)


def through_counts(build: Build, rows: tuple[Conductor, ...]) -> dict[str, int]:
    """How many conductors go through each passage, those of feeds included, by its name."""
    counts = {hole.name: 2 * len(list(feeds_through(build, hole))) + hole.others for hole in build.passages}
    for row in rows:
        if row.passage in counts:
            counts[row.passage] += 1
    return counts
