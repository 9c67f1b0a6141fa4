"""Lamps of two opposite dies, each between two pins that change places."""

from __future__ import annotations

from tiny_lantern.electrical.driven.contract import Case, ChannelResult, Source
from tiny_lantern.electrical.driven.on_pins import currents_on_pins, result_on_pins
from tiny_lantern.model.ways.pair import ReversingPair

KIND = ReversingPair
PINS, HALF = 2, 0.5


def solve(case: Case) -> ChannelResult:
    """Each die behind the lamp's resistor, lit while its pin is the higher one.

    Args:
        case: the driver with its channels.
    """
    on_a = currents_on_pins(case, PINS)
    stronger: dict[int, float] = {}
    for channel, amps in zip(case.channels, on_a, strict=True):
        lamp = channel.output // 2
        stronger[lamp] = max(stronger.get(lamp, 0.0), float(amps))
    return result_on_pins(case, on_a, sum(stronger.values()), PINS, HALF)


def source(case: Case) -> Source:
    """A lamp's resistor lies between its two pins.

    Args:
        case: the driver with its channels.
    """
    return Source(case.board_part.logic_v, PINS * case.board_part.pin_ohm)
