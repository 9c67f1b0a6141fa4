"""Lamps on pins of the board: on or off, dimmed, or two dies between two pins."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, DrivenLamp, resistors
from tiny_lantern.electrical.lamp.led import LedString
from tiny_lantern.electrical.lamp.loop import Loop, loop_current
from tiny_lantern.electrical.lamp.parallel import on_one_resistor
from tiny_lantern.model.drive import PinDirect, PwmPin, ReversingPair

KINDS = (PinDirect, PwmPin, ReversingPair)


def solve(case: Case) -> ChannelResult:
    """Each lamp behind its resistor on a pin, or between two.

    Args:
        case: the driver with its channels.
    """
    part = case.board_part
    pins = 2 if isinstance(case.driver, ReversingPair) else 1
    ohms = resistors(case)
    on_a = np.array(
        [
            pin_current(part.logic_v, pins * part.pin_ohm, float(ohm), lamp)
            for ohm, lamp in zip(ohms, case.lamps, strict=True)
        ]
    )
    share = 0.5 if isinstance(case.driver, ReversingPair) else 1.0
    count = len(on_a)
    worst = float(on_a.max()) if count else 0.0
    block = Block(case.driver.name, 0, count, worst, part.pin_recommended_a, "A", "worst pin")
    lit_a = _lit_at_once(case, on_a)
    return ChannelResult(
        case, on_a, on_a * np.minimum(case.duties, 1.0) * share, np.full(count, part.pin_recommended_a),
        np.full(count, part.pin_absolute_a), part.logic_v - on_a * (ohms + pins * part.pin_ohm), on_a**2 * ohms * share,
        (block,), part.logic_v, lit_a, 0.0, on_a,
    )  # fmt: skip


def pin_current(supply_v: float, output_ohm: float, resistor_ohm: float, lamp: DrivenLamp) -> float:
    """Current of a lamp behind a resistor on a source. [A]

    Args:
        supply_v: voltage of the source. [V]
        output_ohm: its resistance. [ohm]
        resistor_ohm: the resistor. [ohm]
        lamp: the lamp.
    """
    if lamp.led is None:
        return lamp.load_a
    if lamp.branches > 1:
        return on_one_resistor(supply_v, output_ohm, resistor_ohm, [lamp.led] * lamp.branches).total_a
    return loop_current(Loop(supply_v, output_ohm, LedString((lamp.led,))), resistor_ohm)


def _lit_at_once(case: Case, on_a: np.ndarray) -> float:
    """The most that flows at once: all of them, of a pair the stronger die."""
    if not isinstance(case.driver, ReversingPair):
        return float(on_a.sum())
    pairs: dict[int, float] = {}
    for channel, amps in zip(case.channels, on_a, strict=True):
        pairs[channel.output // 2] = max(pairs.get(channel.output // 2, 0.0), float(amps))
    return sum(pairs.values())
