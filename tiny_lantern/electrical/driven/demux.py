"""Lamps that a demultiplexer lights one at a time."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.demux import one_at_a_time
from tiny_lantern.electrical.drive.scanned import MOVING_HZ
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, Source, resistors
from tiny_lantern.electrical.driven.on_pins import pin_current
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.demux import Demux

KIND = Demux


def solve(case: Case) -> ChannelResult:
    """Each way of the demultiplexer.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Demux)
    chip = case.build.shelf.find(ChipPart, driver.chip_id)
    ohms, count = resistors(case), len(case.channels)
    pairs = zip(ohms, case.lamps, strict=True)
    on_a = np.array([pin_current(driver.led_v, chip.out_ohm, float(ohm), lamp) for ohm, lamp in pairs])
    ways = max(1, count)
    share = one_at_a_time(ways, driver.dwell_s).duty
    worst = float(on_a.max()) if count else 0.0
    block = Block(driver.name, 0, count, worst, chip.output_limit_a, "A", f"one of {ways} at a time")
    heat_w = on_a**2 * ohms * share * case.duties
    return ChannelResult(
        case, on_a, on_a * share * case.duties, np.full(count, chip.output_limit_a),
        np.full(count, chip.output_absolute_a), driver.led_v - on_a * (ohms + chip.out_ohm), heat_w,
        (block,), driver.led_v, worst, chip.icc_a,
    )  # fmt: skip


def source(case: Case) -> Source:
    """A lamp's resistor lies behind its output.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Demux)
    return Source(driver.led_v, case.build.shelf.find(ChipPart, driver.chip_id).out_ohm)


def comes_round_hz(case: Case) -> float:
    """How often each lamp has its turn. [Hz]

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Demux)
    return one_at_a_time(max(1, len(case.channels)), case.driver.dwell_s).flicker_hz


def quicker(case: Case) -> tuple[str, dict[str, float]]:
    """What lets it come round often enough for lamps or eyes that move.

    Args:
        case: the driver with its channels.
    """
    dwell_s = 1 / (MOVING_HZ * max(1, len(case.channels)))
    return f"{dwell_s * 1e6:.0f} µs each", {"dwell_s": dwell_s}
