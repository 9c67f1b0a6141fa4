"""Which of many plans that are alike is the tidiest: most round places, then ends, joints, least wire."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.feed.judge import HAIR
from tiny_lantern.electrical.feed.ladder import Ladder

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
TENTH_M = 0.1
ALIKE_V = 0.020


@dataclass(frozen=True)
class RoundPlaces:
    """The nodes of a line that a person finds without measuring twice: its ends, its joints, whole tenths of a
    metre."""

    ladder: Ladder

    @cached_property
    def end(self) -> Bools:
        """The two ends of the line. (n_nodes,)"""
        found = np.zeros(self.ladder.size, bool)
        found[[0, -1]] = True
        return found

    @cached_property
    def joint(self) -> Bools:
        """Both nodes of each joint. (n_nodes,)"""
        steps = np.diff(self.ladder.run) != 0
        return np.asarray(np.concatenate([steps, [False]]) | np.concatenate([[False], steps]))

    @cached_property
    def tenth(self) -> Bools:
        """The node that each whole 0.1 m snaps to, the lower one of two alike. (n_nodes,)"""
        place = self.ladder.place_m
        wanted = np.arange(int(np.floor(place[-1] / TENTH_M + HAIR)) + 1) * TENTH_M
        after = np.clip(np.searchsorted(place, wanted), 1, len(place) - 1)
        below = wanted - place[after - 1] <= place[after] - wanted + HAIR
        nearest = place[np.where(below, after - 1, after)]
        found = np.zeros(self.ladder.size, bool)
        found[np.searchsorted(place, nearest - HAIR)] = True
        return found

    @cached_property
    def any(self) -> Bools:
        """Every round node. (n_nodes,)"""
        return self.end | self.joint | self.tenth

    def word(self, node: int) -> str | None:
        """Why a node is round: ``end``, ``joint``, ``tenth``; None when it is not."""
        for word, nodes in (("end", self.end), ("joint", self.joint), ("tenth", self.tenth)):
            if nodes[node]:
                return word
        return None

    def order(self, plans: Ints, wire_m: Floats) -> Ints:
        """Numbers of plans, (n_plans, n_feeds), the tidiest first.

        Args:
            plans: nodes of each plan, rising, (n_plans, n_feeds). [-]
            wire_m: conductor of each, (n_plans,). [m]
        """
        counts = [-nodes[plans].sum(axis=1) for nodes in (self.any, self.end, self.joint)]
        columns = [plans[:, at] for at in reversed(range(plans.shape[1]))]
        return np.lexsort([*columns, np.round(wire_m, 9), *reversed(counts)])
