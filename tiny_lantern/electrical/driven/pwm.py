"""Each lamp on a pin that dims."""

from __future__ import annotations

from tiny_lantern.electrical.drive.timer import pwm_hz
from tiny_lantern.electrical.driven.contract import Case, ChannelResult, Source
from tiny_lantern.electrical.driven.on_pins import currents_on_pins, result_on_pins
from tiny_lantern.model.ways.pwm import PwmPin

KIND = PwmPin


def solve(case: Case) -> ChannelResult:
    """Each lamp behind its resistor on a pin.

    Args:
        case: the driver with its channels.
    """
    on_a = currents_on_pins(case)
    return result_on_pins(case, on_a, float(on_a.sum()))


def source(case: Case) -> Source:
    """A lamp's resistor lies behind its pin.

    Args:
        case: the driver with its channels.
    """
    return Source(case.board_part.logic_v, case.board_part.pin_ohm)


def comes_round_hz(case: Case) -> float:
    """How often the board's pins go on and off while they dim. [Hz]

    Args:
        case: the driver with its channels.
    """
    part = case.board_part
    return pwm_hz(part.clock_hz, part.prescale, part.pwm_bits)
