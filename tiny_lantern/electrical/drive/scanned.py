"""A matrix scanned row by row: each lamp's peak and average, what each line carries, and its bytes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.electrical.lamp.led import Led
from tiny_lantern.electrical.lamp.node import branch_currents, settled_v
from tiny_lantern.electrical.nearly import at_least
from tiny_lantern.model.errors import LanternError

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
STILL_HZ, MOVING_HZ = 100.0, 400.0


@dataclass(frozen=True)
class Scan:
    """How a matrix is scanned: its supply, the switch of a row, each column's resistor and sink, and its pace."""

    supply_v: float
    row_switch_ohm: float
    column_ohm: Floats
    column_sink_ohm: float
    row_rate_hz: float
    blank_s: float = 0.0

    def duty(self, rows: int) -> float:
        """Share of the time that a row is lit: ``(1/f − t_blank) / (rows/f)``. [-]

        Args:
            rows: how many rows there are. [-]
        """
        return (1 / self.row_rate_hz - self.blank_s) / (rows / self.row_rate_hz)

    def refresh_hz(self, rows: int) -> float:
        """How often all rows are shown a second. [Hz]

        Args:
            rows: how many rows there are. [-]
        """
        return self.row_rate_hz / rows

    def peak_for(self, average_a: float, rows: int) -> float:
        """The peak that a wanted average asks for. [A]

        Args:
            average_a: the average. [A]
            rows: how many rows there are. [-]
        """
        return average_a / self.duty(rows)


@dataclass(frozen=True)
class Scanned:
    """A pattern, solved: peak of each lamp and average, (rows, columns); node and current of each row, (rows,)."""

    lit: Bools
    peak_a: Floats
    average_a: Floats
    row_node_v: Floats

    @property
    def row_line_a(self) -> Floats:
        """What each row's line carries while it is lit. (rows,) [A]"""
        return np.asarray(self.peak_a.sum(axis=1))

    @property
    def column_line_a(self) -> Floats:
        """The most that each column's line carries. (columns,) [A]"""
        return np.asarray(self.peak_a.max(axis=0))

    @property
    def dimmest_over_brightest(self) -> float | None:
        """How uneven the lit places are; None where none is lit. [-]"""
        lit = self.peak_a[self.lit]
        return float(lit.min() / lit.max()) if len(lit) and lit.max() > 0 else None


@dataclass(frozen=True)
class ScanLimits:
    """What an LED bears in pulses, and what a row's and a column's line may carry; None where nobody says."""

    pulse_a: float | None
    row_a: float | None
    column_a: float | None

    def pulse_over(self, peak_a: float) -> bool:
        """Whether a peak is more than an LED bears.

        Args:
            peak_a: the peak. [A]
        """
        return self.pulse_a is not None and peak_a > self.pulse_a

    def peak_over(self, found: Scanned) -> bool:
        """Whether the largest peak is."""
        return self.pulse_over(float(found.peak_a.max()))

    def row_over(self, found: Scanned) -> bool:
        """Whether a row's line carries more than it may."""
        return self.row_a is not None and float(found.row_line_a.max()) > self.row_a

    def column_over(self, found: Scanned) -> bool:
        """Whether a column's line does."""
        return self.column_a is not None and float(found.column_line_a.max()) > self.column_a


def scanned(scan: Scan, lit: Bools, led_at: Callable[[int, int], Led]) -> Scanned:
    """A pattern, one row at a time; a lamp that is not lit carries nothing.

    Args:
        scan: how it is scanned.
        lit: the pattern, (rows, columns). [-]
        led_at: the LED at a row and a column.

    Source: nodal analysis of each row behind its switch.
    """
    rows, columns = lit.shape
    peak_a, node_v = np.zeros((rows, columns)), np.full(rows, scan.supply_v)
    for row in range(rows):
        leds = [led_at(row, column) for column in range(columns)]
        foot_v = np.array([led.foot_v for led in leds])
        ohm = np.array([led.series_ohm for led in leds]) + scan.column_ohm + scan.column_sink_ohm
        on = lit[row]
        node_v[row] = settled_v(scan.supply_v, scan.row_switch_ohm, foot_v[on], ohm[on])
        peak_a[row] = np.where(on, branch_currents(float(node_v[row]), foot_v, ohm), 0.0)
    return Scanned(lit, peak_a, peak_a * scan.duty(rows), node_v)


def steady_enough(refresh_hz: float, moving: bool) -> bool:
    """Whether a refresh is fast enough for a lamp that stands still, or that moves.

    Args:
        refresh_hz: how often a second. [Hz]
        moving: whether the lamp or the eye moves.
    """
    return at_least(refresh_hz, MOVING_HZ if moving else STILL_HZ)


def pattern_of(rows: Sequence[str]) -> Bools:
    """A pattern written in ones and zeros, a row a line, column 0 left. (rows, columns)

    Raises:
        LanternError: the rows are of unlike lengths, or a character is neither.
    """
    for number, row in enumerate(rows):
        wrong = next((mark for mark in row if mark not in "01"), None)
        if wrong is not None or len(row) != len(rows[0]):
            what = f"“{wrong}” is neither 0 nor 1" if wrong else f"{len(row)} columns, the first row has {len(rows[0])}"
            raise LanternError(what, f"row {number + 1}", "rows of 0 and 1, all as long as the first")
    return np.array([[mark == "1" for mark in row] for row in rows], bool).reshape(len(rows), -1)


def row_bytes(lit: Bools) -> list[list[int]] | None:
    """Each row as bytes, column 0 the most significant bit of the first; None unless the columns make whole bytes.

    Args:
        lit: the pattern, (rows, columns). [-]
    """
    if lit.shape[1] % 8:
        return None
    return [row.tolist() for row in np.packbits(lit, axis=1)]


def active_low(values: Sequence[Sequence[int]]) -> list[list[int]]:
    """Bytes for lines that are on when low."""
    return [[255 - value for value in row] for row in values]
