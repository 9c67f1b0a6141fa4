"""Lamps in a matrix that is scanned row by row."""

from __future__ import annotations

import numpy as np

from tiny_lantern.electrical.drive.scanned import MOVING_HZ, Scan, scanned
from tiny_lantern.electrical.drive.scanned import Scanned as ScannedPattern
from tiny_lantern.electrical.driven.contract import Block, Case, ChannelResult, Source
from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.transistor import TransistorPart
from tiny_lantern.model.ways.scanned import Scanned

KIND = Scanned
NO_LED = Led(0.0, 1.0, 0.0)


def solve(case: Case) -> ChannelResult:
    """The matrix with everything lit.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Scanned)
    chip = case.build.shelf.find(ChipPart, driver.chip_id)
    found, scan = pattern(case), scan_of(case)
    at = [divmod(channel.output, driver.columns) for channel in case.channels]
    on_a = np.array([found.peak_a[place] for place in at]) if at else np.zeros(0)
    lamp_v = np.array([led.voltage_v(float(amps)) for led, amps in zip(_leds(case), on_a, strict=True)])
    duty = scan.duty(driver.rows)
    count = len(on_a)
    row_a = float(found.row_line_a.max()) if count else 0.0
    words = f"{driver.rows} rows scanned"
    block = Block(driver.name, 0, count, row_a, row_limit_a(case), "A", words)
    supply_a = row_a
    return ChannelResult(
        case, on_a, on_a * duty * case.duties, np.full(count, chip.output_limit_a),
        np.full(count, chip.output_absolute_a), lamp_v,
        on_a**2 * driver.column_ohm * duty, (block,), driver.led_v, supply_a, driver.chips * chip.icc_a,
    )  # fmt: skip


def _leds(case: Case) -> list[Led]:
    return [lamp.straight(lamp.nominal_v) for lamp in case.lamps]


def pattern(case: Case) -> ScannedPattern:
    """The matrix with everything lit."""
    driver = case.driver
    assert isinstance(driver, Scanned)
    lit = np.zeros((driver.rows, driver.columns), bool)
    leds: dict[tuple[int, int], Led] = {}
    for channel, led in zip(case.channels, _leds(case), strict=True):
        place = divmod(channel.output, driver.columns)
        if place[0] < driver.rows:
            lit[place], leds[place] = True, led
    any_led = next(iter(leds.values()), NO_LED)
    return scanned(scan_of(case), lit, lambda row, column: leds.get((row, column), any_led))


def scan_of(case: Case) -> Scan:
    """How the matrix is scanned."""
    driver = case.driver
    assert isinstance(driver, Scanned)
    chip = case.build.shelf.find(ChipPart, driver.chip_id)
    return Scan(
        driver.led_v, driver.row_ohm, np.full(driver.columns, driver.column_ohm), chip.out_ohm, driver.row_rate_hz,
        driver.blank_s,
    )  # fmt: skip


def row_limit_a(case: Case) -> float:
    """What carries a row may carry: a transistor's limit, else a register output's. [A]"""
    driver = case.driver
    assert isinstance(driver, Scanned)
    if driver.rows_by == "transistor" and driver.row_transistor_id is not None:
        return case.build.shelf.find(TransistorPart, driver.row_transistor_id).most_a
    return driver.row_limit_a


def source(case: Case) -> Source:
    """A column's resistor lies behind what carries its row and its output.

    Args:
        case: the driver with its channels.
    """
    driver = case.driver
    assert isinstance(driver, Scanned)
    return Source(driver.led_v, driver.row_ohm + case.build.shelf.find(ChipPart, driver.chip_id).out_ohm)


def comes_round_hz(case: Case) -> float:
    """How often the matrix comes round. [Hz]

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Scanned)
    return scan_of(case).refresh_hz(case.driver.rows)


def quicker(case: Case) -> tuple[str, dict[str, float]]:
    """What lets it come round often enough for lamps or eyes that move.

    Args:
        case: the driver with its channels.
    """
    assert isinstance(case.driver, Scanned)
    rate_hz = MOVING_HZ * case.driver.rows
    return f"{rate_hz:.0f} rows a second", {"row_rate_hz": rate_hz}
