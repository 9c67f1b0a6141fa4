"""How long a battery lasts: its charge taken out step by step until its voltage meets what its load needs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.model.parts.supply import Cells

Floats = NDArray[np.float64]

STEPS = 400
SECONDS_AN_HOUR = 3600.0
LEAST_TOLD_S = 120.0


@dataclass(frozen=True)
class Draw:
    """What is taken from a battery: a current of its own, or a power through a converter. [A] or [W]"""

    current_a: float = 0.0
    power_w: float = 0.0


@dataclass(frozen=True)
class RunTime:
    """How long a battery lasts, the share of its charge that is left then, and the current at the start and end, of
    changing ones their mean. [s], [-], [A]"""

    seconds: float
    left: float
    first_a: float
    last_a: float


def run_time(cells: Cells, draw: Draw) -> RunTime:
    """How long a full battery carries a steady draw; with nothing drawn it lasts without end.

    Args:
        cells: the battery.
        draw: what is taken from it.
    """
    return run_time_over(cells, (draw,))


def run_time_over(cells: Cells, draws: Sequence[Draw], weights: Floats | None = None) -> RunTime:
    """How long a full battery carries draws that change fast, such as those of a show played again and again.

    The charge falls by the mean of ``I/C·(I/I_rated)^(k - 1)`` a second (2), until ``V(charge) - I·R`` of the largest
    meets the cut-off (3).

    Args:
        cells: the battery.
        draws: what is taken from it.
        weights: how long each of them lasts beside the others, (n_draws,); equally long without. [-]

    Source: Peukert's law in the form of a rate, any text on secondary cells.
    """
    shares, volts = np.array(cells.open_v, float).T
    grid = np.unique(np.concatenate([np.linspace(0.0, 1.0, STEPS + 1), shares]))[::-1]
    drawn = _Drawn(draws, np.ones(len(draws)) if weights is None else np.asarray(weights, float))
    seconds, first_a, last_a, before = 0.0, 0.0, 0.0, None
    for share in grid.tolist():
        open_v = float(np.interp(share, shares, volts))
        now_a = drawn.currents_at(open_v, cells.own_ohm)
        over = -1.0 if now_a is None else open_v - float(now_a.max()) * cells.own_ohm - cells.cutoff_v
        mean_a = 0.0 if now_a is None else drawn.mean(now_a)
        if before is None:
            if over < 0 or now_a is None:
                return RunTime(0.0, 1.0, mean_a, mean_a)
            first_a = last_a = mean_a
            if now_a.max() <= 0:
                return RunTime(float("inf"), 1.0, 0.0, 0.0)
        else:
            from_share, from_over, from_a = before
            if over < 0 or now_a is None:
                part = from_over / (from_over - over) if now_a is not None else 0.0  # (3)
                end = from_share + part * (share - from_share)
                return RunTime(seconds + drawn.lasts_s(cells, from_share - end, from_a), end, first_a, last_a)
            seconds += drawn.lasts_s(cells, from_share - share, (from_a + now_a) / 2)
            last_a = mean_a
        before = (share, over, now_a)
    return RunTime(seconds, 0.0, first_a, last_a)


class _Drawn:
    """Draws as arrays, (n_draws,), each with its part of the time."""

    def __init__(self, draws: Sequence[Draw], weights: Floats) -> None:
        self._own_a = np.array([draw.current_a for draw in draws])
        self._power_w = np.array([draw.power_w for draw in draws])
        self._part = weights / weights.sum()

    def currents_at(self, open_v: float, own_ohm: float) -> Floats | None:
        """The currents that they take; None where the cells cannot give one of the powers at all. (n_draws,) [A]

        A power P through a converter wants I = P / v with v = V - I·R, so v² - V·v + P·R = 0  (1).
        """
        left = open_v**2 - 4 * self._power_w * own_ohm
        if (left < 0).any():
            return None
        return np.where(self._power_w > 0, 2 * self._power_w / (open_v + np.sqrt(left)), self._own_a)  # (1)

    def mean(self, amps: Floats) -> float:
        return float(amps @ self._part)

    def lasts_s(self, cells: Cells, share: float, amps: Floats) -> float:
        """How long a share of the charge lasts at these currents. [s]"""
        rates = amps / cells.capacity_ah * (amps / cells.rated_at_a) ** (cells.peukert - 1)  # (2) an hour
        return share / self.mean(rates) * SECONDS_AN_HOUR


def lasting(seconds: float) -> str:
    """A run time as people say it: ``6 h 20 min``.

    Args:
        seconds: the time. [s]
    """
    if seconds == float("inf"):
        return "without end"
    if seconds < LEAST_TOLD_S:
        return f"{seconds:.0f} s"
    minutes = int(seconds // 60)
    return f"{minutes // 60} h {minutes % 60:02d} min" if minutes >= 60 else f"{minutes} min"
