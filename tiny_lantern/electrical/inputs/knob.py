"""A knob on an analogue input: its counts as a level, in whole numbers, and what an offset does to a dark lamp."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tiny_lantern.model.errors import LanternError


@dataclass(frozen=True)
class Knob:
    """A reading of so many bits, resting at an offset and full at a count, as a level of so many bits; with a dead
    band, a reading counts only when it has moved by more."""

    adc_bits: int
    offset_counts: int
    full_counts: int
    out_bits: int
    dead_band_counts: int | None = None

    def __post_init__(self) -> None:
        if self.full_counts <= self.offset_counts:
            raise LanternError(
                f"full scale {self.full_counts} is not above the offset {self.offset_counts}", "knob",
                f"{self.offset_counts + 1} to {2**self.adc_bits - 1}",
            )  # fmt: skip

    @property
    def top(self) -> int:
        """The highest level. [-]"""
        return (1 << self.out_bits) - 1

    @property
    def offset_fraction(self) -> float:
        """What the offset is of the whole scale. [-]"""
        return self.offset_counts / (1 << self.adc_bits)

    def level(self, reading: int) -> int:
        """The level of a reading: ``(a − o) · (2^m − 1) div (F − o)``, 0 below the offset, the top from F on  (1). [-]

        Args:
            reading: counts a. [-]

        Source: linear scaling in whole numbers; sixteen by sixteen bits need an unsigned product of 32.
        """
        held = min(max(reading, self.offset_counts), self.full_counts)
        return (held - self.offset_counts) * self.top // (self.full_counts - self.offset_counts)  # (1)

    def held(self, readings: Sequence[int]) -> list[int]:
        """What counts of readings one after another: the dead band holds the last one that did. [-]

        Args:
            readings: counts, in order. [-]
        """
        found: list[int] = []
        for reading in readings:
            counts = not found or self.dead_band_counts is None or abs(reading - found[-1]) > self.dead_band_counts
            found.append(reading if counts else found[-1])
        return found

    def levels(self, readings: Sequence[int]) -> list[int]:
        """The levels of readings one after another; the dead band holds the last reading that counted."""
        return [self.level(reading) for reading in self.held(readings)]

    @property
    def product_bits(self) -> int:
        """Bits that the product of the formula needs. [-]"""
        return ((self.full_counts - self.offset_counts) * self.top).bit_length()
