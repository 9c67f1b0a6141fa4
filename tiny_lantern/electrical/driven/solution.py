"""All drivers of a build, solved, and what each board gives."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import cache
from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical import driven
from tiny_lantern.electrical.drive.register import EACH
from tiny_lantern.electrical.driven.contract import Case, ChannelResult, DrivenLamp, Solve, Source, case_of
from tiny_lantern.electrical.driven.steering import inputs_a
from tiny_lantern.model.base import revise, same_members
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board, Driver, lamp_role
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.steering import chain_of, steered_by
from tiny_lantern.model.ways.hold import HoldRail
from tiny_lantern.model.ways.pair import ReversingPair
from tiny_lantern.model.ways.sink import SinkChain
from tiny_lantern.model.ways.switch import Switch

Floats = NDArray[np.float64]
READ = ("drivers", "channels", "boards", "supplies", "rails", "parts")
WARMED = (SinkChain, Switch, HoldRail)


@dataclass(frozen=True)
class BoardSum:
    """What a board's pins give together, by port too, against what it may give; and what it draws itself."""

    board_id: str
    part: BoardPart
    pins_a: float
    ports_a: dict[str, float]
    own_a: float
    used_pins: int

    @property
    def over(self) -> bool:
        """Whether the board gives more than it may."""
        return self.pins_a > self.part.board_limit_a * (1 + 1e-9)


@dataclass(frozen=True)
class DriveSolution:
    """Each driver's result by its id, and each board's sums; ``all_lit`` when no duties were given. Where the
    circuit was solved with its wires, ``held`` is what was found of each hold rail, by its driver, and ``unborne`` the
    conductors that no wire or no fuse serves, each in words with what it carries and what it might, and ``drooping``
    the channels, each by its driver and output, whose wires take more than a tenth of their current. [A]"""

    build: Build
    by_driver: dict[str, ChannelResult]
    boards: dict[str, BoardSum]
    all_lit: bool = False
    unborne: tuple[tuple[str, float, float], ...] = ()
    drooping: tuple[tuple[tuple[str, int], float, float], ...] = ()
    held: Mapping[str, Any] = field(default_factory=dict)


@cache
def ways() -> dict[type[Driver], ModuleType]:
    """What is written for each way to drive: whatever file of this folder has its ``KIND`` and a ``solve`` for it."""
    modules = [import_module(f"{driven.__name__}.{info.name}") for info in iter_modules(driven.__path__)]
    return {module.KIND: module for module in modules if hasattr(module, "KIND")}


def solver_of(driver: Driver) -> Solve:
    """How a way to drive is solved: by what is written for it, else for what it is a kind of.

    Args:
        driver: the way to drive.
    """
    solve: Solve = _way_of(driver).solve
    return solve


def source_of(case: Case) -> Source | None:
    """What the resistors of a way to drive lie behind; None where none sets a lamp's current.

    Args:
        case: the driver with its channels.
    """
    of: Callable[[Case], Source] | None = getattr(_way_of(case.driver), "source", None)
    return of(case) if of is not None else None


def comes_round_hz(case: Case) -> float | None:
    """How often the lamps of a way to drive go on and off; None where they stay lit. [Hz]

    Args:
        case: the driver with its channels.
    """
    of: Callable[[Case], float | None] | None = getattr(_way_of(case.driver), "comes_round_hz", None)
    return of(case) if of is not None else None


def quicker(case: Case) -> tuple[str, dict[str, Any]] | None:
    """What of a driver, changed, lets its lamps come round more often: in words, and its fields; None where the way
    has nothing of the kind.

    Args:
        case: the driver with its channels.
    """
    of: Callable[[Case], tuple[str, dict[str, Any]]] | None = getattr(_way_of(case.driver), "quicker", None)
    return of(case) if of is not None else None


def _way_of(driver: Driver) -> ModuleType:
    return next(ways()[kind] for kind in type(driver).__mro__ if kind in ways())


def solve_drive(
    build: Build, duties: Mapping[str, Floats] | None = None, near: DriveSolution | None = None
) -> DriveSolution:
    """Every driver with its channels.

    Args:
        build: the build.
        duties: of each driver by id those of its channels, 0 to 1, (n_channels,) each; everything lit without. [-]
        near: a solution of a build like it, from which the figures of drivers that nothing changed for are taken.
    """
    if near is not None and near.all_lit and duties is None and _same_drive(near.build, build):
        return _about(near, build)
    results = {}
    for driver in build.drivers:
        channels = build.channels_of[driver.id]
        given = duties.get(driver.id) if duties is not None else None
        case = case_of(build, driver, channels, given)
        by_itself = chain_of(build, driver) is None and not any(steered_by(build, driver))
        known = near.by_driver.get(driver.id) if near is not None and by_itself else None
        if known is not None and _alike(known.case, case):
            results[driver.id] = known if known.case.build is build else replace(known, case=case)
        else:
            results[driver.id] = solver_of(driver)(case)
    results |= {driver.id: _with_inputs(build, driver, results) for driver in build.drivers}
    sums = {board.id: _board_sum(build, board.id, results) for board in build.boards}
    return DriveSolution(build, results, sums, duties is None)


def _with_inputs(build: Build, driver: Driver, results: Mapping[str, ChannelResult]) -> ChannelResult:
    """A chain of registers whose chips carry the inputs that hang on them too."""
    drawn = inputs_a(build, driver, {key: result.pin_a for key, result in results.items()})
    own = results[driver.id]
    if not drawn:
        return own
    more = [0.0] * len(own.blocks)
    for output, amps in drawn.items():
        more[output // EACH] += amps
    blocks = tuple(
        replace(block, value=block.value + amps, words=f"{block.words} and inputs" if amps else block.words)
        for block, amps in zip(own.blocks, more, strict=True)
    )
    return replace(own, blocks=blocks, lamp_a=own.lamp_a + sum(more))


def _same_drive(one: Build, other: Build) -> bool:
    """Whether all that is driven, and what drives it, is the same in two builds, but for where pieces lie."""
    return one.line.wired == other.line.wired and all(
        same_members(getattr(one, field), getattr(other, field)) for field in READ
    )


def _about(known: DriveSolution, build: Build) -> DriveSolution:
    """A solution with the build that it now belongs to."""
    if known.build is build:
        return known
    results = {
        driver_id: replace(result, case=replace(result.case, build=build))
        for driver_id, result in known.by_driver.items()
    }
    return replace(known, build=build, by_driver=results)


def _alike(one: Case, other: Case) -> bool:
    """Whether two cases come to the same: the same things, or equal ones."""
    return (
        one.driver is other.driver
        and (one.board == other.board if isinstance(one.driver, WARMED) else _but_for_air(one.board, other.board))
        and one.board_part is other.board_part
        and same_members(one.channels, other.channels)
        and same_members(one.build.supplies, other.build.supplies)
        and same_members(one.build.rails, other.build.rails)
        and same_members(one.build.parts, other.build.parts)
        and all(_same_piece(a, b) for a, b in zip(one.lamps, other.lamps, strict=True))
        and np.array_equal(one.duties, other.duties)
    )


def _but_for_air(one: Board, other: Board) -> bool:
    """Whether two boards are alike but for the air around them."""
    return one is other or one == revise(other, ambient_c=one.ambient_c)


def _same_piece(one: DrivenLamp, other: DrivenLamp) -> bool:
    return one.piece is other.piece or one.piece.unplaced == other.piece.unplaced


def carried_by_role(result: ChannelResult) -> list[tuple[str, float]]:
    """What the pin of each channel gives at most, by its role; of a reversing pair the end that gives. Empty where the
    channels do not hang on pins. [A]"""
    if not len(result.pin_a):
        return []
    pair = isinstance(result.case.driver, ReversingPair)
    outputs = (channel.output for channel in result.case.channels)
    roles = (f"lamp {at // 2} end {at % 2}" if pair else lamp_role(at) for at in outputs)
    return list(zip(roles, result.pin_a.tolist(), strict=True))


def _board_sum(build: Build, board_id: str, results: Mapping[str, ChannelResult]) -> BoardSum:
    board = next(board for board in build.boards if board.id == board_id)
    part = build.shelf.find(BoardPart, board.part_id)
    own = [driver for driver in build.drivers if driver.board_id == board_id]
    ports: dict[str, float] = {}
    total_a = 0.0
    for driver in own:
        if chain_of(build, driver) is not None:
            continue
        pin_a = results[driver.id].pin_a
        carried = dict(carried_by_role(results[driver.id]))
        for pin in driver.pins:
            there = part.pin(pin.pin)
            if there is not None and there.port:
                ports[there.port] = ports.get(there.port, 0.0) + carried.get(pin.role, 0.0)
        total_a += float(pin_a.sum())
    used = sum(len(driver.pins) for driver in own) + len(board.reserved) + len(board.lines)
    return BoardSum(board_id, part, total_a, ports, part.idle_a, used)
