"""What self-changing lamps get while their rail is full and while it is held, through its switches as solved."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.circuit.compiled import Circuit
from tiny_lantern.circuit.elements.loads import HoldLamp
from tiny_lantern.circuit.fitted import Still
from tiny_lantern.circuit.netlist import Solution, solve_netlist
from tiny_lantern.model.build import Build
from tiny_lantern.model.ways.hold import HoldRail


@dataclass(frozen=True)
class HeldLamps:
    """The lowest voltage of a rail's lamps while it is full, and the lowest and the highest while it is held. [V]"""

    full_v: float
    low_v: float
    high_v: float


def held_lamps(build: Build, circuit: Circuit) -> dict[str, HeldLamps]:
    """What the lamps of each hold rail get, by its driver.

    Args:
        build: the build.
        circuit: its circuit.

    Raises:
        NotSolvedError: the circuit has no voltages at which every law holds.
    """
    rails = [driver for driver in build.drivers if isinstance(driver, HoldRail) and build.channels_of[driver.id]]
    if not rails:
        return {}
    held = solve_netlist(circuit.netlist(Still(frozenset())))
    full = solve_netlist(circuit.netlist(Still(frozenset((driver.id, 0) for driver in rails))), held)
    found = {}
    for driver in rails:
        full_v, held_v = (_lamps_v(build, solution, driver) for solution in (full, held))
        found[driver.id] = HeldLamps(min(full_v), min(held_v), max(held_v))
    return found


def _lamps_v(build: Build, solution: Solution, driver: HoldRail) -> list[float]:
    pieces = {ref.piece_id for channel in build.channels_of[driver.id] for ref in channel.slots}
    return [
        solution.volts(each.plus) - solution.volts(each.minus)
        for each in solution.netlist.elements
        if isinstance(each, HoldLamp) and each.id.split("/")[1] in pieces
    ]
