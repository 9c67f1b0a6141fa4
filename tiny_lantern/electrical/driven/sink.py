"""Lamps on constant-current sinks in a chain."""

from __future__ import annotations

from collections import Counter

import numpy as np

from tiny_lantern.electrical.drive.sink import SinkChip, SinkOutput, SinkState, best_led_supply_v, sink_state
from tiny_lantern.electrical.driven import chained
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, resistors
from tiny_lantern.electrical.driven.register import span_of
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.sink import SinkChain

KIND = SinkChain
comes_round_hz, quicker = chained.comes_round_hz, chained.quicker
USUAL_SPREAD_V = 0.2


def solve(case: Case) -> ChannelResult:
    """Every chip with all of its outputs lit.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, SinkChain)
    part = case.build.shelf.find(ChipPart, driver.chip_id)
    count = len(case.channels)
    on_a, lamp_v, blocks = np.zeros(count), np.zeros(count), []
    at = [channel.output for channel in case.channels]
    for number in range(driver.chips):
        first, stop = span_of(at, number * part.outputs, part.outputs)
        state = chip_state(case, part, first, stop)
        on_a[first:stop] = state.output_a
        lamp_v[first:stop] = state.node_v - np.nan_to_num(state.output_v) - state.output_a * resistors(case)[first:stop]
        name = f"{driver.name} {number + 1}" if driver.chips > 1 else driver.name
        words = f"set by {driver.rext_ohm:g} Ω"
        blocks.append(Block(name, first, stop, state.junction_c, part.limit_c, "°C", words))
    return ChannelResult(
        case, on_a, on_a * case.duties, np.full(count, part.output_limit_a), np.full(count, part.output_absolute_a),
        lamp_v, on_a**2 * resistors(case), tuple(blocks), driver.led_v, float(on_a.sum()), driver.chips * part.icc_a,
    )  # fmt: skip


def chip_state(case: Case, part: ChipPart, first: int, stop: int, lit: int | None = None) -> SinkState:
    """One chip of the chain with its first so many channels lit, all of them where nothing is said.

    Args:
        case: the driver with its channels.
        part: the chip.
        first: its first channel by place. [-]
        stop: the one after its last. [-]
        lit: how many are lit. [-]
    """
    driver = case.driver
    assert isinstance(driver, SinkChain)
    outputs = outputs_of(case, first, stop)
    on = np.arange(len(outputs)) < (len(outputs) if lit is None else lit)
    return sink_state(chip_of(driver, part), outputs, on, driver.led_v, driver.common_ohm, case.board.ambient_c)


def chip_of(driver: SinkChain, part: ChipPart) -> SinkChip:
    """A sink with its setting resistor."""
    return SinkChip(part.k_v, driver.rext_ohm, part.vcc_v, part.icc_a, part.theta_k_per_w, part.limit_c)


def best_supply_v(case: Case) -> float:
    """The lowest lamp supply at which every sink holds, with the spread of the lamps, their own resistors and
    what the outputs of a chip share. [V]

    Args:
        case: the driver with its channels, one at least.
    """
    driver = case.driver
    assert isinstance(driver, SinkChain)
    part = case.build.shelf.find(ChipPart, driver.chip_id)
    outputs = outputs_of(case, 0, len(case.channels))
    spread_v = max((lamp.die.spread_v for lamp in case.lamps if lamp.die is not None), default=USUAL_SPREAD_V)
    together = max(Counter(channel.output // part.outputs for channel in case.channels).values())
    chip = chip_of(driver, part)
    lost_v = chip.set_a * (max(output.series_ohm for output in outputs) + driver.common_ohm * together)
    return best_led_supply_v(chip, outputs, spread_v) + lost_v


def outputs_of(case: Case, first: int, stop: int) -> list[SinkOutput]:
    """What hangs on some of the channels.

    Args:
        case: the driver with its channels.
        first: the first by place. [-]
        stop: the one after the last. [-]
    """
    assert isinstance(case.driver, SinkChain)
    return [
        SinkOutput(lamp.straight(case.driver.led_v), lamp.shared_ohm(channel.resistor_ohm))
        for channel, lamp in zip(case.channels[first:stop], case.lamps[first:stop], strict=True)
    ]
