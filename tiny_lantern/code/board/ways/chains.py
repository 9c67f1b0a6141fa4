"""Lamps on chips in a chain: latch registers, with the inputs that hang on them, and constant-current sinks."""

from __future__ import annotations

import math
from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Chain, Doing, Output
from tiny_lantern.code.board.ways.steered import low_while_lit
from tiny_lantern.electrical.drive.register import chain_timing
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.steering import inputs_on
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.sink import SinkChain

KINDS = (RegisterChain, SinkChain)


def doings(at: AtPins) -> Iterator[Doing]:
    """The chain, output after output; the least bit of dimming lasts as long as the chain is sent.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, RegisterChain | SinkChain)
    chip = at.build.shelf.find(ChipPart, driver.chip_id)
    count = driver.chips * chip.outputs
    outputs = [at.dark()] * count
    low = isinstance(driver, RegisterChain) and driver.sink
    for channel in at.channels:
        outputs[channel.output] = Output(at.level(channel), low, at.title(channel))
    for output, (other, channel) in inputs_on(at.build, driver).items():
        outputs[output] = Output(at.level(channel), low_while_lit(at.build, other), at.title(channel))
    timing = chain_timing(driver.chips, driver.shift_hz, driver.latch_s, chip.outputs)
    unit_us = max(1, math.ceil(timing.frame_s * 1e6 - 1e-9))
    words = f"{driver.name}: {driver.chips} × {chip.name}"
    yield Chain(at.lines(), tuple(outputs), driver.levels_bits, unit_us, words, driver.id)
