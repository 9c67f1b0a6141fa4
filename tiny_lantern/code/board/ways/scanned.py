"""Lamps in a matrix that is scanned row by row."""

from __future__ import annotations

from collections.abc import Iterator

from tiny_lantern.code.board.at_pins import AtPins
from tiny_lantern.code.board.doings import Doing, Matrix
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.scanned import Scanned

KINDS = (Scanned,)


def doings(at: AtPins) -> Iterator[Doing]:
    """The matrix: its columns are the first chips of the chain, its rows those after them, or a counter's.

    Args:
        at: the driver.
    """
    driver = at.driver
    assert isinstance(driver, Scanned)
    if not at.channels:
        return
    chip = at.build.shelf.find(ChipPart, driver.chip_id)
    counted = driver.rows_by == "counter"
    row_us = max(1, round(1e6 / driver.row_rate_hz))
    yield Matrix(
        at.lines(), driver.chips * chip.outputs, driver.rows, driver.columns,
        -(-driver.columns // chip.outputs) * chip.outputs, _row_low(at, driver),
        at.by_output(driver.rows * driver.columns), driver.levels_bits, row_us, round(driver.blank_s * 1e6),
        f"{driver.name}: {driver.rows} rows of {driver.columns} columns",
        at.pin("step") if counted else None, at.pin("reset") if counted and driver.starts_known else None,
        driver.id,
    )  # fmt: skip


def _row_low(at: AtPins, driver: Scanned) -> bool:
    """Whether a row's output is low while the row is lit: on a transistor that a low gate turns on."""
    if driver.rows_by != "transistor" or driver.row_transistor_id is None:
        return False
    return at.build.shelf.find(TransistorPart, driver.row_transistor_id).sort == "p_mosfet"
