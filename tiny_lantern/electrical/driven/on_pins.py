"""What lamps on pins of a board have in common, whatever the pins do."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, DrivenLamp, resistors
from tiny_lantern.electrical.lamp.led import LedString
from tiny_lantern.electrical.lamp.loop import Loop, loop_current

Floats = NDArray[np.float64]


def currents_on_pins(case: Case, pins: int = 1) -> Floats:
    """Current of each lamp behind its resistor, while it is lit. (n_channels,) [A]

    Args:
        case: the driver with its channels.
        pins: how many pins the current of a lamp goes through. [-]
    """
    ohms, part = resistors(case), case.board_part
    lamps = zip(ohms, case.lamps, strict=True)
    return np.array([pin_current(part.logic_v, pins * part.pin_ohm, float(ohm), lamp) for ohm, lamp in lamps])


def result_on_pins(case: Case, on_a: Floats, lit_at_once_a: float, pins: int = 1, share: float = 1.0) -> ChannelResult:
    """The result of lamps on pins.

    Args:
        case: the driver with its channels.
        on_a: current of each while it is lit, (n_channels,). [A]
        lit_at_once_a: the most that flows at once. [A]
        pins: how many pins the current of a lamp goes through. [-]
        share: the part of the time that a lamp is lit at full duty. [-]
    """
    part, ohms, count = case.board_part, resistors(case), len(on_a)
    worst = float(on_a.max()) if count else 0.0
    block = Block(case.driver.name, 0, count, worst, part.pin_recommended_a, "A", "worst pin")
    heat_w = on_a**2 * ohms * share * case.duties
    return ChannelResult(
        case, on_a, on_a * np.minimum(case.duties, 1.0) * share, np.full(count, part.pin_recommended_a),
        np.full(count, part.pin_absolute_a), part.logic_v - on_a * (ohms + pins * part.pin_ohm), heat_w,
        (block,), part.logic_v, lit_at_once_a, 0.0, on_a,
    )  # fmt: skip


def pin_current(supply_v: float, output_ohm: float, resistor_ohm: float, lamp: DrivenLamp) -> float:
    """Current of a lamp behind a resistor on a source. [A]

    Args:
        supply_v: voltage of the source. [V]
        output_ohm: its resistance. [ohm]
        resistor_ohm: the resistor. [ohm]
        lamp: the lamp.
    """
    led = lamp.straight(supply_v, output_ohm + resistor_ohm)
    return loop_current(Loop(supply_v, output_ohm, LedString((led,))), resistor_ohm)
