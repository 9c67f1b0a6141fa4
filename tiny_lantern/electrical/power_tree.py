"""The power tree: what each supply feeds, idle and at worst, from strips and driven lamps together."""

from __future__ import annotations

from dataclasses import dataclass

from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.rails import heat_of, regulator_of
from tiny_lantern.electrical.driven.solution import DriveSolution
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power import PowerSolution
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.drive import HoldRail, PinDirect, PwmPin, RelayBoard, ReversingPair

ALIKE_V = 0.5


@dataclass(frozen=True)
class PowerNode:
    """A supply, a rail or a load: its volts, what it may give (None for a load), idle and worst current, its heat where
    it makes any worth telling, and what hangs on it."""

    name: str
    kind: str
    volts: float
    idle_a: float
    worst_a: float
    allowed_a: float | None = None
    note: str = ""
    children: tuple[PowerNode, ...] = ()

    @property
    def over(self) -> bool:
        """Whether it gives more than it may."""
        return self.allowed_a is not None and self.worst_a > self.allowed_a * (1 + 1e-9)


def rail_supply(build: Build, result: ChannelResult) -> Supply | None:
    """The supply that feeds a driver's lamps: the board's own where its voltage fits, else the first that does."""
    if isinstance(result.case.driver, RelayBoard):
        return None
    board = next((supply for supply in build.supplies if supply.id == result.case.board.supply_id), None)
    candidates = ([board] if board is not None else []) + list(build.supplies)
    wanted_v = result.case.driver.in_v if isinstance(result.case.driver, HoldRail) else result.lamp_rail_v
    return next((supply for supply in candidates if abs(supply.set_v - wanted_v) <= ALIKE_V), None)


def lamp_loads_a(build: Build, drive: DriveSolution) -> dict[str, float]:
    """What boards, chips and driven lamps draw from each supply with everything lit, by its id. [A]"""
    found = {supply.id: 0.0 for supply in build.supplies}
    for board in build.boards:
        if board.supply_id is not None:
            found[board.supply_id] += drive.boards[board.id].own_a
    for result in drive.by_driver.values():
        lamps, logic = rail_supply(build, result), result.case.board.supply_id
        if lamps is not None:
            found[lamps.id] += result.lamp_a
        if logic is not None and not isinstance(result.case.driver, HoldRail):
            found[logic] += result.logic_a
    return found


def power_tree(build: Build, white: PowerSolution | None, drive: DriveSolution) -> tuple[PowerNode, ...]:
    """Each supply with all that hangs on it, then what hangs on none.

    Args:
        build: the build.
        white: the strips fully white; None where they cannot be solved.
        drive: the drivers with everything lit.
    """
    roots = [_supply_node(build, supply, white, drive) for supply in build.supplies]
    lost = [
        _driver_node(result)
        for result in drive.by_driver.values()
        if rail_supply(build, result) is None
    ]  # fmt: skip
    if lost:
        roots.append(PowerNode("on circuits of their own", "none", 0.0, 0.0, sum(n.worst_a for n in lost), None, "",
                               tuple(lost)))  # fmt: skip
    return tuple(roots)


def _supply_node(build: Build, supply: Supply, white: PowerSolution | None, drive: DriveSolution) -> PowerNode:
    children = []
    if white is not None and supply.id in white.supplies and white.supplies[supply.id].current_a > 1e-6:
        fed = white.supplies[supply.id].current_a
        children.append(PowerNode("strips, fully white", "load", supply.set_v, 0.0, fed))
    for board in build.boards:
        if board.supply_id == supply.id:
            children.append(_board_node(build, board.id, supply, drive))
    for result in drive.by_driver.values():
        if rail_supply(build, result) is supply and not _on_board(result, supply):
            children.append(_driver_node(result))
    part = supply_part(build, supply.id)
    return PowerNode(
        supply.name, "supply", supply.set_v, sum(n.idle_a for n in children), sum(n.worst_a for n in children),
        allowed_share(supply) * part.rated_a, part.name, tuple(children),
    )  # fmt: skip


def _on_board(result: ChannelResult, supply: Supply) -> bool:
    """Whether a driver's lamps draw through the board itself."""
    through_pins = isinstance(result.case.driver, PinDirect | PwmPin | ReversingPair)
    return through_pins and result.case.board.supply_id == supply.id


def _board_node(build: Build, board_id: str, supply: Supply, drive: DriveSolution) -> PowerNode:
    board = next(board for board in build.boards if board.id == board_id)
    total = drive.boards[board_id]
    children = [PowerNode("the board itself", "load", supply.set_v, total.own_a, total.own_a)]
    for result in drive.by_driver.values():
        if result.case.board.id != board_id:
            continue
        if _on_board(result, supply):
            children.append(_driver_node(result))
        elif result.logic_a > 0 and not isinstance(result.case.driver, HoldRail):
            word = "coils" if isinstance(result.case.driver, RelayBoard) else "chips"
            name = f"{result.case.driver.name}, {word}"
            idle = 0.0 if word == "coils" else result.logic_a
            children.append(PowerNode(name, "load", supply.set_v, idle, result.logic_a))
    idle_a, worst_a = sum(n.idle_a for n in children), sum(n.worst_a for n in children)
    name, logic_v = total.part.name, total.part.logic_v
    return PowerNode(board.name, "board", logic_v, idle_a, worst_a, None, name, tuple(children))


def _driver_node(result: ChannelResult) -> PowerNode:
    driver, case = result.case.driver, result.case
    if isinstance(driver, HoldRail):
        heat, part = heat_of(case), regulator_of(case)
        note = f"{driver.out_v:g} V hold, {heat.regulator_c:.0f} °C at {case.board.ambient_c:g} °C around it"
        return PowerNode(
            f"{driver.name}, regulator", "regulator", driver.out_v, heat.hold_a, result.lamp_a, part.most_a, note
        )
    idle = 0.0
    return PowerNode(driver.name, "load", result.lamp_rail_v, idle, result.lamp_a)
