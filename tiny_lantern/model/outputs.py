"""How many outputs a way to drive has, and how many chips its lamps take."""

from __future__ import annotations

from tiny_lantern.model.drive import Demux, Driver, RegisterChain, RelayBoard, Scanned, SinkChain
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Shelf
from tiny_lantern.model.parts.relay import RelayPart


def output_count(driver: Driver, shelf: Shelf) -> int | None:
    """How many outputs it has; None where each lamp has pins of its own.

    Args:
        driver: the way to drive.
        shelf: the parts of its build.
    """
    if isinstance(driver, Scanned):
        return driver.rows * driver.columns
    if isinstance(driver, RegisterChain | SinkChain):
        return driver.chips * shelf.find(ChipPart, driver.chip_id).outputs
    if isinstance(driver, Demux):
        return shelf.find(ChipPart, driver.chip_id).outputs
    if isinstance(driver, RelayBoard):
        return shelf.find(RelayPart, driver.relay_id).channels
    return None


def chips_for(driver: RegisterChain | SinkChain | Scanned, used: int, shelf: Shelf) -> int:
    """How many chips it takes: of a matrix those of its columns, and those of its rows unless a counter steps them.

    Args:
        driver: the chain.
        used: how many outputs its lamps use. [-]
        shelf: the parts of its build.
    """
    each = shelf.find(ChipPart, driver.chip_id).outputs
    if not isinstance(driver, Scanned):
        return max(1, -(-used // each))
    return -(-driver.columns // each) + (0 if driver.rows_by == "counter" else -(-driver.rows // each))
