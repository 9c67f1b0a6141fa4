"""A relay board: its coils on their supply, and how long its contacts last."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from tiny_lantern.electrical.nearly import at_least

LEAST_INTERVAL_S = 0.1
Runs = Sequence[tuple[int, int]]


@dataclass(frozen=True)
class CoilBoard:
    """Coils on a supply behind its resistance, each above a driver that loses a voltage."""

    supply_v: float
    supply_ohm: float
    coil_ohm: float
    driver_drop_v: float
    must_operate_v: float
    supply_rated_a: float


@dataclass(frozen=True)
class Coils:
    """Some coils on: current, voltage and heat of each, of all together, and what the supply is left with."""

    coil_a: float
    coil_v: float
    coil_w: float
    total_a: float
    node_v: float
    pulls_in: bool
    over_rating: bool


def coils(board: CoilBoard, on: int, other_load_a: float = 0.0) -> Coils:
    """So many coils on at once: ``I = (V − I_other · R_s − V_drop) / (R_coil + n · R_s)``  (1).

    Args:
        board: the board.
        on: how many are on. [-]
        other_load_a: what else hangs on the supply. [A]

    Source: Kirchhoff's laws for equal branches behind one resistance.
    """
    drive_v = board.supply_v - other_load_a * board.supply_ohm - board.driver_drop_v
    coil_a = max(0.0, drive_v / (board.coil_ohm + on * board.supply_ohm))  # (1)
    total_a = on * coil_a + other_load_a
    coil_v = coil_a * board.coil_ohm
    return Coils(
        coil_a, coil_v, coil_a**2 * board.coil_ohm, total_a, board.supply_v - total_a * board.supply_ohm,
        at_least(coil_v, board.must_operate_v), total_a > board.supply_rated_a,
    )  # fmt: skip


@dataclass(frozen=True)
class ContactLife:
    """One contact over a show: its closings, its shortest intervals (None where there are none) and how many nights it
    lasts (None where it never closes)."""

    per_show: int
    per_night: float
    shortest_on_s: float | None
    shortest_off_s: float | None
    too_short: bool
    nights: float | None


def contact_life(
    runs: Runs, rated_operations: float, shows_per_night: float, tick_hz: float, least_s: float = LEAST_INTERVAL_S
) -> ContactLife:
    """How a contact is used and how long it lasts. Before the first tick and after the last it is off.

    One closing with its opening is one operation: ``nights = rated / (operations · shows)``  (1). An off interval
    counts only between two on intervals.

    Args:
        runs: state (1 on) and ticks of each interval; neighbours of one state are one. [-]
        rated_operations: operations that the contact is rated for. [-]
        shows_per_night: shows a night. [-]
        tick_hz: ticks a second. [Hz]
        least_s: the shortest interval that a relay should be asked for. [s]

    Source: contact endurance in a relay's data sheet.
    """
    merged = [(bool(state), sum(ticks for _, ticks in group)) for state, group in groupby(runs, key=lambda run: run[0])]
    merged = [(state, ticks) for state, ticks in merged if ticks > 0]
    on = [at for at, (state, _) in enumerate(merged) if state]
    on_s = [merged[at][1] / tick_hz for at in on]
    between = [ticks / tick_hz for at, (state, ticks) in enumerate(merged) if not state and on and on[0] < at < on[-1]]
    per_night = len(on) * shows_per_night
    shortest = (min(on_s, default=None), min(between, default=None))
    return ContactLife(
        len(on), per_night, *shortest,
        any(each is not None and not at_least(each, least_s) for each in shortest),
        rated_operations / per_night if per_night else None,  # (1)
    )  # fmt: skip


def first_worn(lives: Sequence[ContactLife]) -> int | None:
    """The contact that wears out first, the lower of two that do at once; None where none ever closes."""
    known = [(life.nights, number) for number, life in enumerate(lives) if life.nights is not None]
    return min(known)[1] if known else None
