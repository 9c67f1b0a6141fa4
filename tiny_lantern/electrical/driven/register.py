"""Lamps on the outputs of latch registers in a chain."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.register import EACH, RegisterOutput, RegisterStage, register_frame
from tiny_lantern.electrical.driven import chained
from tiny_lantern.electrical.driven.contract import NO_LIMIT, Block, Case, ChannelResult, Source, resistors
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.register import RegisterChain

KIND = RegisterChain
comes_round_hz, quicker = chained.comes_round_hz, chained.quicker


def solve(case: Case) -> ChannelResult:
    """Every output with its lamp behind its resistor, all lit.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, RegisterChain)
    chip = case.build.shelf.find(ChipPart, driver.chip_id)
    stage = stage_of(driver, chip)
    outputs = outputs_of(case)
    frame = register_frame(stage, outputs, np.array([output is not None for output in outputs]))
    at = [channel.output for channel in case.channels]
    on_a = frame.output_a[at] if at else np.zeros(0)
    ohms, count = resistors(case), len(case.channels)
    blocks = []
    for number, amps in enumerate(frame.chip_a):
        first, stop = span_of(at, number * EACH, EACH)
        name = f"{driver.name} {number + 1}" if len(frame.chip_a) > 1 else driver.name
        blocks.append(Block(name, first, stop, float(amps), stage.chip_limit_a, "A", f"{stop - first} of {EACH}"))
    heat_w = on_a**2 * ohms * case.duties
    return ChannelResult(
        case, on_a, on_a * case.duties, np.full(count, chip.output_limit_a), np.full(count, chip.output_absolute_a),
        driver.led_v - on_a * (ohms + chip.out_ohm), heat_w, tuple(blocks), driver.led_v, float(on_a.sum()),
        driver.chips * chip.icc_a,
    )  # fmt: skip


def stage_of(driver: RegisterChain, chip: ChipPart) -> RegisterStage:
    """The chips of a chain."""
    return RegisterStage(driver.led_v, 0.0, chip.out_ohm, chip.output_limit_a, chip.chip_limit_a or NO_LIMIT)


def outputs_of(case: Case) -> list[RegisterOutput | None]:
    """What hangs on each output of all chips."""
    assert isinstance(case.driver, RegisterChain)
    before = source(case)
    found: list[RegisterOutput | None] = [None] * (case.driver.chips * EACH)
    for channel, lamp in zip(case.channels, case.lamps, strict=True):
        if channel.output < len(found):
            ohm = lamp.shared_ohm(channel.resistor_ohm)
            led = lamp.straight(before.voltage_v, before.output_ohm + ohm)
            found[channel.output] = RegisterOutput(led, ohm)
    return found


def span_of(outputs: list[int], first: int, count: int) -> tuple[int, int]:
    """Which channels, by their place, lie on so many outputs from the first on; outputs rise."""
    there = [number for number, output in enumerate(outputs) if first <= output < first + count]
    return (there[0], there[-1] + 1) if there else (0, 0)


def source(case: Case) -> Source:
    """A lamp's resistor lies behind its output.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, RegisterChain)
    return Source(driver.led_v, case.build.shelf.find(ChipPart, driver.chip_id).out_ohm)
