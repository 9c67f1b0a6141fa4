"""What controls the transistors, relays and boxes of a driver: pins of its board, or outputs of registers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.contract import NO_LIMIT, Case, case_of
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Driver
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.steering import chain_of, inputs_on

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Steering:
    """An output that controls something: its high level, its resistance, what it should give and may give at most."""

    logic_v: float
    pin_ohm: float
    pin_recommended_a: float
    pin_absolute_a: float


def steering_of(case: Case) -> Steering:
    """What controls a driver's outputs.

    Args:
        case: the driver with its channels.
    """
    chain = chain_of(case.build, case.driver)
    if chain is None:
        part = case.board_part
        return Steering(part.logic_v, part.pin_ohm, part.pin_recommended_a, part.pin_absolute_a)
    chip = case.build.shelf.find(ChipPart, chain.chip_id)
    most_a = chip.output_absolute_a or NO_LIMIT
    return Steering(chain.led_v, chip.out_ohm, chip.output_limit_a or most_a, most_a)


def inputs_a(build: Build, chain: Driver, drawn: dict[str, Floats]) -> dict[int, float]:
    """What the inputs on a chain draw while they are high, by its output. [A]

    Args:
        build: the build.
        chain: the chain.
        drawn: what the outputs that control each driver give, by the driver's id, (n_channels,). [A]
    """
    found = {}
    for output, (driver, channel) in inputs_on(build, chain).items():
        channels = case_of(build, driver, build.channels_of[driver.id]).channels
        given = drawn.get(driver.id, np.zeros(0))
        found[output] = float(given[channels.index(channel)]) if len(given) else 0.0
    return found
