"""The power tree: what each source feeds, idle and at worst, from strips, boards, chips and lamps together."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.battery import Draw, RunTime, lasting, run_time
from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.hold import heat_of, regulator_of
from tiny_lantern.electrical.driven.solution import DriveSolution, solve_drive
from tiny_lantern.electrical.loose import fully_lit_a
from tiny_lantern.electrical.network import supply_part
from tiny_lantern.electrical.power import PowerSolution
from tiny_lantern.electrical.rails import RailState, rail_state
from tiny_lantern.electrical.supplies import allowed_share
from tiny_lantern.model.build import Build, Supply
from tiny_lantern.model.drive import Board
from tiny_lantern.model.fed import FedBy
from tiny_lantern.model.loose import NOMINAL_V, loose_lamps
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.supply import SupplyPart
from tiny_lantern.model.rail import Rail
from tiny_lantern.model.sources import USB_V, fed_with_v, source_of
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.relay import RelayBoard

Floats = NDArray[np.float64]
LEAST_CONTROL_A = 1e-4


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
        return self.allowed_a is not None and max(self.idle_a, self.worst_a) > self.allowed_a * (1 + 1e-9)


@dataclass(frozen=True, eq=False)
class Hanging:
    """A build with what hangs on each of its sources."""

    build: Build
    drive: DriveSolution

    @cached_property
    def loads(self) -> dict[FedBy | None, tuple[PowerNode, ...]]:
        """Lamps, chips and coils by what feeds them."""
        found: dict[FedBy | None, list[PowerNode]] = {}
        for fed_by, node in self._each():
            found.setdefault(fed_by, []).append(node)
        return {fed_by: tuple(nodes) for fed_by, nodes in found.items()}

    def _each(self) -> Iterator[tuple[FedBy | None, PowerNode]]:
        for result in self.drive.by_driver.values():
            yield from _of_driver(result)
        for piece, part in loose_lamps(self.build):
            yield piece.fed_by, PowerNode(piece.name, "load", NOMINAL_V, 0.0, fully_lit_a(piece, part))

    @cached_property
    def rails(self) -> dict[str, RailState]:
        """Every rail under what hangs on it, by its id."""
        return {rail.id: self._rail(rail) for rail in self.build.rails}

    def _rail(self, rail: Rail) -> RailState:
        return rail_state(self.build, rail, *self.given_a(FedBy(id=rail.id)))

    @cached_property
    def _known(self) -> dict[FedBy, tuple[float, float]]:
        return {}

    def given_a(self, source: FedBy) -> tuple[float, float]:
        """What a source gives to all that hangs on it, but for strips: with nothing lit, and with everything. [A]

        Args:
            source: the source.
        """
        if source not in self._known:
            own = [(node.idle_a, node.worst_a) for node in self.loads.get(source, ())]
            own += [self._rail(rail).in_a for rail in self.build.rails if rail.fed_by == source]
            own += [self.board_a(board) for board in self.build.boards if board.fed_by == source]
            self._known[source] = sum(idle for idle, _ in own), sum(worst for _, worst in own)
        return self._known[source]

    def board_a(self, board: Board) -> tuple[float, float]:
        """What a board takes from what feeds it: for itself, and for what hangs on its pins. [A]

        Args:
            board: the board.
        """
        own_a = self.drive.boards[board.id].own_a
        outlets = [self.given_a(FedBy(id=board.id, pin=pin)) for pin in ("logic", "fed")]
        return own_a + sum(idle for idle, _ in outlets), own_a + sum(worst for _, worst in outlets)


def _of_driver(result: ChannelResult) -> Iterator[tuple[FedBy | None, PowerNode]]:
    """A driver's lamps on what feeds them, and its chips, its coils or its hold regulator on what feeds those.
    Lamps that are full take nothing from that."""
    driver, case = result.case.driver, result.case
    if isinstance(driver, HoldRail):
        heat, part = heat_of(case), regulator_of(case)
        note = f"{driver.out_v:g} V hold, {heat.regulator_c:.0f} °C at {case.board.ambient_c:g} °C around it"
        yield (
            driver.fed_by,
            PowerNode(f"{driver.name}, regulator", "regulator", driver.out_v, heat.hold_a, 0.0, part.most_a, note),
        )
        yield driver.full_fed_by, PowerNode(f"{driver.name}, full", "load", driver.full_v, 0.0, result.lamp_a)
        return
    if not isinstance(driver, RelayBoard) or not _on_mains(result):
        yield driver.lamps_fed_by, PowerNode(driver.name, "load", result.lamp_rail_v, 0.0, result.lamp_a)
    control_a = control_of(result).sum()
    if control_a > LEAST_CONTROL_A:
        logic_v = case.board_part.logic_v
        yield (
            FedBy(id=driver.board_id, pin="logic"),
            PowerNode(f"{driver.name}, control pins", "load", logic_v, 0.0, float(control_a)),
        )
    if result.logic_a > 0:
        coils = isinstance(driver, RelayBoard)
        idle_a, word = (0.0, "coils") if coils else (result.logic_a, "chips")
        yield driver.parts_fed_by, PowerNode(f"{driver.name}, {word}", "load", 0.0, idle_a, result.logic_a)


def control_of(result: ChannelResult) -> Floats:
    """What the pins of a board give to what switches a driver's lamps, as to bases, while each channel is lit; nothing
    where the lamps hang on the pins themselves. (n_channels,) [A]

    Args:
        result: the driver with everything lit.
    """
    return result.pin_a if result.case.driver.lamps_on and len(result.pin_a) else np.zeros(len(result.case.channels))


def _on_mains(result: ChannelResult) -> bool:
    return any(getattr(lamp.part, "mains", False) for lamp in result.case.lamps)


def lamp_loads_a(build: Build, drive: DriveSolution) -> dict[str, float]:
    """What boards, chips, rails and driven lamps draw from each supply with everything lit, by its id. [A]"""
    hanging = Hanging(build, drive)
    return {supply.id: hanging.given_a(FedBy(id=supply.id))[1] for supply in build.supplies}


def idle_loads_a(build: Build, drive: DriveSolution) -> dict[str, float]:
    """What boards, chips, rails and held lamps draw from each supply with nothing lit, by its id. [A]"""
    hanging = Hanging(build, drive)
    return {supply.id: hanging.given_a(FedBy(id=supply.id))[0] for supply in build.supplies}


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


def lasting_words(build: Build, supply: Supply, worst_a: float, with_show: RunTime | None) -> list[str]:
    """How long a battery lasts: with the show where that is known, and with everything lit; nothing of other supplies.

    Args:
        build: the build.
        supply: the supply.
        worst_a: what it gives with everything lit. [A]
        with_show: how long it plays the show.
    """
    part = supply_part(build, supply.id)
    if part.cells is None or worst_a <= 0:
        return []
    all_lit = run_time(part.cells, battery_draw(part, supply.set_v, worst_a))
    told = (("the show", with_show), ("all lit", all_lit))
    return [f"{lasting(life.seconds)} {words}" for words, life in told if life is not None]


def rail_states(build: Build, drive: DriveSolution) -> tuple[RailState, ...]:
    """Every rail under what hangs on it.

    Args:
        build: the build.
        drive: the drivers with everything lit.
    """
    return tuple(Hanging(build, drive).rails.values())


def power_tree(
    build: Build, white: PowerSolution | None, drive: DriveSolution, lives: Mapping[str, RunTime] | None = None
) -> tuple[PowerNode, ...]:
    """Each supply with all that hangs on it, boards on their cables, then what hangs on nothing.

    Args:
        build: the build.
        white: the strips fully white; None where they cannot be solved.
        drive: the drivers with everything lit.
        lives: how long each battery plays the show, by its supply, where that is known.
    """
    hanging = Hanging(build, drive)
    roots = [_supply_node(hanging, supply, white, lives or {}) for supply in build.supplies]
    roots += [_cable_node(hanging, board) for board in build.boards if board.fed_by is None]
    lost = hanging.loads.get(None, ())
    if lost:
        worst_a = sum(node.worst_a for node in lost)
        roots.append(PowerNode("nothing yet", "none", 0.0, 0.0, worst_a, None, "no source is named", lost))
    return tuple(roots)


def _supply_node(
    hanging: Hanging, supply: Supply, white: PowerSolution | None, lives: Mapping[str, RunTime]
) -> PowerNode:
    children = []
    if white is not None and supply.id in white.supplies and white.supplies[supply.id].current_a > 1e-6:
        fed = white.supplies[supply.id].current_a
        children.append(PowerNode("strips, fully white", "load", supply.set_v, 0.0, fed))
    children += _on(hanging, FedBy(id=supply.id))
    part = supply_part(hanging.build, supply.id)
    idle_a, worst_a = sum(n.idle_a for n in children), sum(n.worst_a for n in children)
    words = lasting_words(hanging.build, supply, worst_a, lives.get(supply.id)) or [part.name]
    return PowerNode(
        supply.name, "supply", supply.set_v, idle_a, worst_a, allowed_share(supply) * part.rated_a,
        "; ".join(words), tuple(children),
    )  # fmt: skip


def _cable_node(hanging: Hanging, board: Board) -> PowerNode:
    """The cable that loads a board's program, where nothing else feeds it."""
    part = hanging.build.shelf.find(BoardPart, board.part_id)
    node = _board_node(hanging, board)
    return PowerNode(
        f"{board.name}'s cable", "cable", USB_V, node.idle_a, node.worst_a, part.cable_a, "USB", (node,)
    )  # fmt: skip


def _on(hanging: Hanging, source: FedBy) -> list[PowerNode]:
    """What hangs on a source: boards, lamps, chips and coils, then rails with what hangs on those."""
    build = hanging.build
    boards = [_board_node(hanging, board) for board in build.boards if board.fed_by == source]
    rails = [_rail_node(hanging, rail) for rail in build.rails if rail.fed_by == source]
    given = source_of(build, source)
    volts = given.volts if given is not None else 0.0
    return boards + [_at(node, volts) for node in hanging.loads.get(source, ())] + rails


def _at(node: PowerNode, volts: float) -> PowerNode:
    """A load that says no voltage of its own, at that of its source."""
    return node if node.volts else replace(node, volts=volts)


def _rail_node(hanging: Hanging, rail: Rail) -> PowerNode:
    """A rail with what hangs on it. Its own currents are those that it gives; a switching regulator takes others."""
    state = hanging.rails[rail.id]
    note = f"{state.worst_v:.2f} to {state.idle_v:.2f} V, {state.regulator_c:.0f} °C at {rail.ambient_c:g} °C around it"
    if state.part.sort != "linear":
        note += f", takes {state.in_a[1]:.2f} A"
    children = _on(hanging, FedBy(id=rail.id))
    return PowerNode(
        rail.name, "rail", rail.target_v, state.idle_a, state.worst_a, state.part.most_a, note, tuple(children)
    )


def _board_node(hanging: Hanging, board: Board) -> PowerNode:
    """A board with itself and what hangs on its pins."""
    total, feeds_v = hanging.drive.boards[board.id], fed_with_v(hanging.build, board)
    children = [PowerNode("the board itself", "load", feeds_v, total.own_a, total.own_a)]
    for pin in ("logic", "fed"):
        children += _on(hanging, FedBy(id=board.id, pin=pin))
    idle_a, worst_a = hanging.board_a(board)
    return PowerNode(board.name, "board", total.part.logic_v, idle_a, worst_a, None, total.part.name, tuple(children))
