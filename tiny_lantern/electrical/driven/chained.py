"""How often a chain of chips comes round while it dims."""

from __future__ import annotations

from tiny_lantern.electrical.drive.register import ChainTiming, chain_timing
from tiny_lantern.electrical.drive.scanned import STILL_HZ
from tiny_lantern.electrical.driven.contract import Case
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.ways.register import RegisterChain
from tiny_lantern.model.ways.sink import SinkChain

Dimming = RegisterChain | SinkChain


def timing_of(case: Case) -> ChainTiming:
    """How long a chain takes to be sent.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Dimming)
    outputs = case.build.shelf.find(ChipPart, driver.chip_id).outputs
    return chain_timing(driver.chips, driver.shift_hz, driver.latch_s, outputs)


def comes_round_hz(case: Case) -> float | None:
    """How often its levels come round; None where it does not dim. [Hz]

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Dimming)
    return timing_of(case).refresh_hz(case.driver.levels_bits) if case.driver.levels_bits > 1 else None


def quicker(case: Case) -> tuple[str, dict[str, int]]:
    """The most bits of dimming with which it stands still to the eye, at least one.

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Dimming)
    timing, fewer = timing_of(case), range(case.driver.levels_bits - 1, 0, -1)
    bits = next((bits for bits in fewer if timing.refresh_hz(bits) >= STILL_HZ), 1)
    return f"{bits} bits of dimming", {"levels_bits": bits}
