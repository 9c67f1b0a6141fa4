"""What the pins of boards carry over the show, and each port and each board in all."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.contract import ChannelResult
from tiny_lantern.electrical.driven.solution import carried_by_role
from tiny_lantern.model.build import Build
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.place import Place
from tiny_lantern.show.figure import Figure, figure_of

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class PinUsed:
    """A pin that a channel hangs on: its board, its name, whose it is, its current while it is on, 0 while it is off,
    and its average, (n_ticks,) each. [A]"""

    board_id: str
    pin: str
    driver_id: str
    on_a: Floats
    average_a: Floats


def pins_used(result: ChannelResult, duties: Floats) -> Iterator[PinUsed]:
    """The pins of a driver that carry something.

    Args:
        result: the driver with everything lit.
        duties: of each channel at every tick, (n_ticks, n_channels). [-]
    """
    driver = result.case.driver
    at = {pin.role: pin.pin for pin in driver.pins}
    for number, (role, amps) in enumerate(carried_by_role(result)):
        if role in at and amps > 0:
            duty = duties[:, number]
            yield PinUsed(driver.board_id, at[role], driver.id, np.where(duty > 0, amps, 0.0), duty * amps)


def pin_figures(build: Build, used: Sequence[PinUsed]) -> Iterator[Figure]:
    """A row for each pin, then one for each port that has a limit, then one for all pins of the board.

    Args:
        build: the build.
        used: its pins that carry something.
    """
    for board in build.boards:
        part = build.shelf.find(BoardPart, board.part_id)
        own = [each for each in used if each.board_id == board.id]
        for each in own:
            place = Place.on("drivers", each.driver_id)
            yield _summed(f"{board.name}, pin {each.pin}", place, [each], part.pin_recommended_a)
        place = Place.on("boards", board.id)
        if part.port_limit_a is not None:
            for port in sorted({port_of(part, each.pin) for each in own} - {""}):
                there = [each for each in own if port_of(part, each.pin) == port]
                yield _summed(f"{board.name}, port {port}", place, there, part.port_limit_a)
        if own:
            yield _summed(f"{board.name}, all its pins", place, own, part.board_limit_a)


def port_of(part: BoardPart, pin: str) -> str:
    """The port that a pin of a board belongs to; no name where it belongs to none.

    Args:
        part: the board's part.
        pin: the pin's name.
    """
    there = part.pin(pin)
    return there.port if there is not None else ""


def _summed(what: str, place: Place, pins: Sequence[PinUsed], limit_a: float) -> Figure:
    mean_a = float(sum(each.average_a.mean() for each in pins))
    return figure_of(what, place, np.asarray(sum(each.on_a for each in pins)), limit_a, mean_a)
