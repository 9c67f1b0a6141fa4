"""The currents that lamps are asked for by default: ten milliamperes, less where their supply, their pin, their chip or
their board gives less."""

from __future__ import annotations

from collections.abc import Callable, Collection

from tiny_lantern.electrical.driven.contract import Case, case_of
from tiny_lantern.electrical.driven.solution import solve_drive
from tiny_lantern.model.base import revise
from tiny_lantern.model.build import Build
from tiny_lantern.model.edits import item
from tiny_lantern.plans.resistors import chosen_ohm, loop_of

USUAL_A = 0.010
STEPS_A = (USUAL_A, 0.008, 0.006, 0.005, 0.004, 0.003, 0.002, 0.0015, 0.001)
NEARLY = 1 + 1e-9
WithResistors = Callable[[Build, str, Collection[str]], Build]


def lasting_a(case: Case, at: int) -> float | None:
    """The largest usual current, no more than what a channel is asked for, that a resistor can set: with 0.3 V left for
    it. None where no usual one will do, or nothing but the lamp sets its current. [A]

    Args:
        case: the driver with its channels.
        at: which channel, by its place. [-]
    """
    if loop_of(case, at) is None or not case.lamps[at].needs_resistor:
        return None
    channel = case.channels[at]
    for amps in (each for each in STEPS_A if each <= channel.wanted_a * NEARLY):
        asked = tuple(revise(each, wanted_a=amps) if each is channel else each for each in case.channels)
        if chosen_ohm(case_of(case.build, case.driver, asked), at) is not None:
            return amps
    return None


def asked_within_limits(build: Build, driver_id: str, ids: Collection[str], fitted: WithResistors) -> Build:
    """The build with channels asked for no more than what their supply leaves a resistor for, and what their pins,
    chips and board give together.

    Args:
        build: the build.
        driver_id: their driver.
        ids: the channels that are asked anew.
        fitted: gives a driver's channels their resistors.
    """
    case = case_of(build, item(build.drivers, driver_id, "driver"), build.channels_of[driver_id])
    amps = {
        channel.id: least for at, channel in enumerate(case.channels)
        if channel.id in ids and (least := lasting_a(case, at)) is not None
    }  # fmt: skip
    for most_a in STEPS_A if amps else ():
        asked = {key: min(own_a, most_a) for key, own_a in amps.items()}
        tried = fitted(_asking(build, asked), driver_id, ids)
        if _within(tried, driver_id):
            return tried
    return build


def _asking(build: Build, amps: dict[str, float]) -> Build:
    channels = (
        revise(each, wanted_a=amps[each.id]) if amps.get(each.id, each.wanted_a) != each.wanted_a else each
        for each in build.channels
    )
    return revise(build, channels=tuple(channels))


def _within(build: Build, driver_id: str) -> bool:
    """Whether nothing of a driver and of its board is over its limit."""
    solution = solve_drive(build)
    result = solution.by_driver[driver_id]
    board = solution.boards.get(result.case.board.id)
    over = any(block.over for block in result.blocks) or bool((result.on_a > result.most_a * NEARLY).any())
    return not over and (board is None or not board.over)
