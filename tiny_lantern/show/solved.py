"""A build solved for the load in hand, with what its lights look like, as one task."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.power import Duties, PowerSolution, solve_power
from tiny_lantern.electrical.power_tree import beside_strips_a
from tiny_lantern.light.looks import looks_of
from tiny_lantern.model.build import Build, Load
from tiny_lantern.model.errors import LanternError
from tiny_lantern.show.loads import duties_for


@dataclass(frozen=True)
class Solved:
    """The network solved for the load in hand, or why it could not be, and what each light looks like, sRGB bytes
    (n_slots, 3)."""

    build: Build
    duties: Duties
    solution: PowerSolution | None
    refusal: LanternError | None
    looks: NDArray[np.uint8]


def solve_for(
    build: Build, load: Load, near: PowerSolution | None = None, drive: DriveSolution | None = None
) -> Solved:  # fmt: skip
    """Solve a build for a load; a refusal is part of the result.

    Args:
        build: the build.
        load: the load.
        near: the solution of a build like it to begin from.
        drive: its drivers with everything lit, where they are solved already.
    """
    duties = duties_for(build, load)
    try:
        solution = solve_power(build, duties, beside_strips_a(build, drive), near=near)
    except LanternError as refusal:
        return Solved(build, duties, None, refusal, np.zeros((0, 3), np.uint8))
    return Solved(build, duties, solution, None, looks_of(build, solution, duties))


def solve_task(build: Build, load: Load, progress: Callable[[float], None], cancelled: Callable[[], bool]) -> Solved:
    """The same as a task; see ``solve_for``."""
    return solve_for(build, load)
