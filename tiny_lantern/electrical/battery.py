"""How long a battery lasts: its charge taken out step by step until its voltage meets what its load needs."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

import numpy as np

from tiny_lantern.model.parts.supply import Cells

STEPS = 400
SECONDS_AN_HOUR = 3600.0
LEAST_TOLD_S = 120.0


@dataclass(frozen=True)
class Draw:
    """What is taken from a battery: a current of its own, or a power through a converter. [A] or [W]"""

    current_a: float = 0.0
    power_w: float = 0.0

    def current_at(self, open_v: float, own_ohm: float) -> float | None:
        """The current that it takes; None where the cells cannot give the power at all. [A]

        A power P through a converter wants I = P / v with v = V - I·R, so v² - V·v + P·R = 0  (1).

        Args:
            open_v: open voltage of the cells. [V]
            own_ohm: the resistance behind it. [ohm]
        """
        if self.power_w <= 0:
            return self.current_a
        left = open_v**2 - 4 * self.power_w * own_ohm
        return None if left < 0 else 2 * self.power_w / (open_v + sqrt(left))  # (1)


@dataclass(frozen=True)
class RunTime:
    """How long a battery lasts, the share of its charge that is left then, and the current at the start and end.
    [s], [-], [A]"""

    seconds: float
    left: float
    first_a: float
    last_a: float


def run_time(cells: Cells, draw: Draw) -> RunTime:
    """How long a full battery carries a steady draw.

    The charge falls by ``I/C·(I/I_rated)^(k - 1)`` a second (2), until ``V(charge) - I·R`` meets the cut-off (3).
    With nothing drawn it lasts without end.

    Args:
        cells: the battery.
        draw: what is taken from it.

    Source: Peukert's law in the form of a rate, any text on secondary cells.
    """
    shares, volts = np.array(cells.open_v, float).T
    grid = np.unique(np.concatenate([np.linspace(0.0, 1.0, STEPS + 1), shares]))[::-1]
    seconds, first_a, last_a, before = 0.0, 0.0, 0.0, None
    for share in grid.tolist():
        open_v = float(np.interp(share, shares, volts))
        now_a = draw.current_at(open_v, cells.own_ohm)
        over = -1.0 if now_a is None else open_v - now_a * cells.own_ohm - cells.cutoff_v
        if before is None:
            if over < 0 or now_a is None:
                return RunTime(0.0, 1.0, now_a or 0.0, now_a or 0.0)
            first_a = last_a = now_a
            if now_a <= 0:
                return RunTime(float("inf"), 1.0, 0.0, 0.0)
        else:
            from_share, from_over, from_a = before
            if over < 0 or now_a is None:
                part = from_over / (from_over - over) if now_a is not None else 0.0  # (3)
                end = from_share + part * (share - from_share)
                return RunTime(seconds + _lasts_s(cells, from_share - end, from_a), end, first_a, from_a)
            seconds += _lasts_s(cells, from_share - share, (from_a + now_a) / 2)
            last_a = now_a
        before = (share, over, now_a)
    return RunTime(seconds, 0.0, first_a, last_a)


def _lasts_s(cells: Cells, share: float, current_a: float) -> float:
    """How long a share of the charge lasts at a current. [s]"""
    rate = current_a / cells.capacity_ah * (current_a / cells.rated_at_a) ** (cells.peukert - 1)  # (2) a hour
    return float(share / rate * SECONDS_AN_HOUR)


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
