"""The power tree: what each supply feeds, idle and at worst, from strips and driven lamps together."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from tiny_lantern.electrical.battery import Draw, RunTime, lasting, run_time
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.hold import heat_of, regulator_of
from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.electrical.loose import NOMINAL_V, fully_lit_a, loose_lamps
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power import PowerSolution
from tiny_lantern.electrical.rails import RailState, rail_state
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.drive import Board
from tiny_lantern.model.lamps import LampGroup
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.pin import PinDirect
from tiny_lantern.model.ways.pwm import PwmPin
from tiny_lantern.model.ways.relay import RelayBoard

ALIKE_V = 0.5
Source = Supply | Rail


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


def source_v(source: Source) -> float:
    """What a supply is set to, or a rail trimmed to. [V]"""
    return source.target_v if isinstance(source, Rail) else source.set_v


def board_source(build: Build, board: Board) -> Source | None:
    """What feeds a board: its rail, else its supply."""
    sources: tuple[Source, ...] = (*build.rails, *build.supplies)
    return next((source for source in sources if source.id == (board.rail_id or board.supply_id)), None)


def lamp_source(build: Build, result: ChannelResult) -> Source | None:
    """What feeds a driver's lamps: what feeds the board where its voltage fits, else the first supply or rail that
    does."""
    if isinstance(result.case.driver, RelayBoard):
        return None
    driver = result.case.driver
    return source_for(build, result.case.board, driver.in_v if isinstance(driver, HoldRail) else result.lamp_rail_v)


def source_for(build: Build, board: Board | None, volts: float) -> Source | None:
    """What feeds lamps of a voltage: what feeds their board where its voltage fits, else the first supply or rail that
    does.

    Args:
        build: the build.
        board: the board that drives them, where there is one.
        volts: the voltage that they want. [V]
    """
    own = board_source(build, board) if board is not None else None
    candidates = ([own] if own is not None else []) + [*build.supplies, *build.rails]
    return next((source for source in candidates if abs(source_v(source) - volts) <= ALIKE_V), None)


def loose_source(build: Build, piece: LampGroup) -> Source | None:
    """What feeds loose addressable lamps, by the board of their data line."""
    return source_for(build, loose_board(build, piece), NOMINAL_V)


def loose_board(build: Build, piece: LampGroup) -> Board | None:
    """The board on whose data line loose addressable lamps hang: their own, else the first; None without any."""
    return next((board for board in build.boards if board.id == piece.board_id), next(iter(build.boards), None))


@dataclass
class _Loads:
    """What hangs on each source, idle and at worst, by its id. [A]"""

    idle_a: dict[str, float] = field(default_factory=dict)
    worst_a: dict[str, float] = field(default_factory=dict)

    def add(self, source: Source | None, idle_a: float, worst_a: float) -> None:
        if source is not None:
            self.idle_a[source.id] = self.idle_a.get(source.id, 0.0) + idle_a
            self.worst_a[source.id] = self.worst_a.get(source.id, 0.0) + worst_a


def _loads(build: Build, drive: DriveSolution) -> _Loads:
    """Boards, chips, coils, driven and loose lamps on each source; what a rail gives comes from its supply."""
    found = _Loads()
    for board in build.boards:
        own_a = drive.boards[board.id].own_a
        found.add(board_source(build, board), own_a, own_a)
    for result in drive.by_driver.values():
        found.add(lamp_source(build, result), _idle_of(result), result.lamp_a)
        if not isinstance(result.case.driver, HoldRail):
            coils = isinstance(result.case.driver, RelayBoard)
            idle_a = 0.0 if coils else result.logic_a
            found.add(board_source(build, result.case.board), idle_a, result.logic_a)
    for piece, part in loose_lamps(build):
        found.add(loose_source(build, piece), 0.0, fully_lit_a(piece, part))
    for rail in build.rails:
        supply = next(supply for supply in build.supplies if supply.id == rail.supply_id)
        found.add(supply, found.idle_a.get(rail.id, 0.0), found.worst_a.get(rail.id, 0.0))
    return found


def _idle_of(result: ChannelResult) -> float:
    """What a driver's lamps draw while the show is dark: those that are held, nothing else. [A]"""
    return heat_of(result.case).hold_a if isinstance(result.case.driver, HoldRail) else 0.0


def lamp_loads_a(build: Build, drive: DriveSolution) -> dict[str, float]:
    """What boards, chips and driven lamps draw from each supply with everything lit, by its id. [A]"""
    worst_a = _loads(build, drive).worst_a
    return {supply.id: worst_a.get(supply.id, 0.0) for supply in build.supplies}


def idle_loads_a(build: Build, drive: DriveSolution) -> dict[str, float]:
    """What boards, chips and held lamps draw from each supply with nothing lit, by its id. [A]"""
    idle_a = _loads(build, drive).idle_a
    return {supply.id: idle_a.get(supply.id, 0.0) for supply in build.supplies}


def beside_strips_a(build: Build, drive: DriveSolution | None = None) -> tuple[float, ...]:
    """What is drawn at each supply's terminals beside the strips, with everything lit; nothing where it is zero or
    changes no voltage, since the supply has no resistance. (n_supplies,) or () [A]

    Args:
        build: the build.
        drive: its drivers with everything lit, where they are solved already.
    """
    if not (build.boards or build.drivers or build.rails or loose_lamps(build)):
        return ()
    loads_a = lamp_loads_a(build, drive or solve_drive(build))
    found = tuple(
        loads_a[supply.id] if supply_part(build, supply.id).output_ohm > 0 else 0.0 for supply in build.supplies
    )
    return found if any(found) else ()


def rail_states(build: Build, drive: DriveSolution) -> tuple[RailState, ...]:
    """Every rail under what hangs on it.

    Args:
        build: the build.
        drive: the drivers with everything lit.
    """
    loads = _loads(build, drive)
    return tuple(
        rail_state(build, rail, loads.idle_a.get(rail.id, 0.0), loads.worst_a.get(rail.id, 0.0)) for rail in build.rails
    )


def power_tree(
    build: Build, white: PowerSolution | None, drive: DriveSolution, lives: Mapping[str, RunTime] | None = None
) -> tuple[PowerNode, ...]:
    """Each supply with all that hangs on it, then what hangs on none.

    Args:
        build: the build.
        white: the strips fully white; None where they cannot be solved.
        drive: the drivers with everything lit.
        lives: how long each battery plays the show, by its supply, where that is known.
    """
    states = {state.rail.id: state for state in rail_states(build, drive)}
    roots = [_supply_node(build, supply, white, drive, states, lives or {}) for supply in build.supplies]
    lost = [_driver_node(result) for result in drive.by_driver.values() if lamp_source(build, result) is None]
    lost += _loose_nodes(build, None)
    if lost:
        worst_a = sum(node.worst_a for node in lost)
        roots.append(PowerNode("on circuits of their own", "none", 0.0, 0.0, worst_a, None, "", tuple(lost)))
    return tuple(roots)


def _supply_node(
    build: Build, supply: Supply, white: PowerSolution | None, drive: DriveSolution, states: Mapping[str, RailState],
    lives: Mapping[str, RunTime],
) -> PowerNode:  # fmt: skip
    children = []
    if white is not None and supply.id in white.supplies and white.supplies[supply.id].current_a > 1e-6:
        fed = white.supplies[supply.id].current_a
        children.append(PowerNode("strips, fully white", "load", supply.set_v, 0.0, fed))
    children += _hanging_on(build, supply, drive)
    children += [
        _rail_node(build, states[rail.id], drive) for rail in build.rails if rail.supply_id == supply.id
    ]  # fmt: skip
    part = supply_part(build, supply.id)
    idle_a, worst_a = sum(n.idle_a for n in children), sum(n.worst_a for n in children)
    words = _lasting(part, supply, worst_a, lives.get(supply.id)) or [part.name]
    return PowerNode(
        supply.name, "supply", supply.set_v, idle_a, worst_a, allowed_share(supply) * part.rated_a,
        "; ".join(words), tuple(children),
    )  # fmt: skip


def battery_draw(part: SupplyPart, set_v: float, current_a: float) -> Draw:
    """What a battery's cells are asked for when it gives a current: the same, or a power where a converter is between.

    Args:
        part: the battery.
        set_v: what it gives. [V]
        current_a: the current that it gives. [A]
    """
    if part.cells is not None and part.cells.stage:
        return Draw(power_w=set_v * current_a / part.efficiency)
    return Draw(current_a=current_a)


def _lasting(part: SupplyPart, supply: Supply, worst_a: float, with_show: RunTime | None) -> list[str]:
    """How long a battery lasts: with the show where that is known, and with everything lit."""
    if part.cells is None or worst_a <= 0:
        return []
    all_lit = run_time(part.cells, battery_draw(part, supply.set_v, worst_a))
    told = (("the show", with_show), ("all lit", all_lit))
    return [f"{lasting(life.seconds)} {words}" for words, life in told if life is not None]


def _rail_node(build: Build, state: RailState, drive: DriveSolution) -> PowerNode:
    rail = state.rail
    children = _hanging_on(build, rail, drive)
    note = f"{state.worst_v:.2f} to {state.idle_v:.2f} V, {state.regulator_c:.0f} °C at {rail.ambient_c:g} °C around it"
    return PowerNode(
        rail.name, "rail", rail.target_v, state.idle_a, state.worst_a, state.part.most_a, note, tuple(children)
    )


def _hanging_on(build: Build, source: Source, drive: DriveSolution) -> list[PowerNode]:
    """The boards and the driven lamps on a supply or a rail."""
    children = [
        _board_node(build, board, source, drive) for board in build.boards if board_source(build, board) is source
    ]  # fmt: skip
    for result in drive.by_driver.values():
        if lamp_source(build, result) is source and not _on_board(build, result, source):
            children.append(_driver_node(result))
    return children + _loose_nodes(build, source)


def _loose_nodes(build: Build, source: Source | None) -> list[PowerNode]:
    """The loose addressable lamps on a supply or a rail, or on none."""
    own = [(piece, part) for piece, part in loose_lamps(build) if loose_source(build, piece) is source]
    volts = source_v(source) if source is not None else NOMINAL_V
    return [PowerNode(piece.name, "load", volts, 0.0, fully_lit_a(piece, part)) for piece, part in own]


def _on_board(build: Build, result: ChannelResult, source: Source) -> bool:
    """Whether a driver's lamps draw through the board itself."""
    through_pins = isinstance(result.case.driver, PinDirect | PwmPin | ReversingPair)
    return through_pins and board_source(build, result.case.board) is source


def _board_node(build: Build, board: Board, source: Source, drive: DriveSolution) -> PowerNode:
    total, feeds_v = drive.boards[board.id], source_v(source)
    children = [PowerNode("the board itself", "load", feeds_v, total.own_a, total.own_a)]
    for result in drive.by_driver.values():
        if result.case.board.id != board.id:
            continue
        if _on_board(build, result, source):
            children.append(_driver_node(result))
        elif result.logic_a > 0 and not isinstance(result.case.driver, HoldRail):
            word = "coils" if isinstance(result.case.driver, RelayBoard) else "chips"
            name = f"{result.case.driver.name}, {word}"
            idle = 0.0 if word == "coils" else result.logic_a
            children.append(PowerNode(name, "load", feeds_v, idle, result.logic_a))
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
