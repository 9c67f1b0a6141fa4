"""Many loads on one copper: its equations are factored once, and each load costs a substitution.

The frames of a show are such loads (what their pixels draw), and so are shorts (a current drawn at each place in turn,
from which Thévenin's theorem tells the one that flows).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Solve = Callable[[Floats], Floats]


class Batch:
    """One copper at rest, and under any number of loads.

    Args:
        solve: its factored equations, from (n_unknowns, n_loads) right-hand sides to the unknowns.
        rest: the unknowns without any load, (n_unknowns,). [V] or [A]
    """

    def __init__(self, solve: Solve, rest: Floats) -> None:
        self._solve, self.rest = solve, rest

    @classmethod
    def dense(cls, matrix: Floats, right: Floats) -> Batch:
        """A batch of a few unknowns.

        Args:
            matrix: the equations, (n_unknowns, n_unknowns). [-]
            right: their right-hand side without any load, (n_unknowns,). [V] or [A]
        """
        found = np.linalg.solve(matrix, np.column_stack([np.eye(len(right)), right]))
        unit, rest = found[:, :-1], found[:, -1]
        return cls(lambda loads: np.asarray(unit @ loads, np.float64), np.asarray(rest, np.float64))

    def response(self, loads: Floats) -> Floats:
        """By how much loads move the unknowns, (n_unknowns, n_loads). [V] or [A]

        Args:
            loads: what they add to the right-hand sides, (n_unknowns, n_loads). [A] or [V]
        """
        return self._solve(loads)

    def under(self, loads: Floats) -> Floats:
        """The unknowns under each load, (n_unknowns, n_loads). [V] or [A]

        Args:
            loads: what they add to the right-hand sides, (n_unknowns, n_loads). [A] or [V]
        """
        found = self._solve(loads)
        found += self.rest[:, None]
        return found
