"""Parts that make levels of levels: chips in a chain, a counter, and whatever conducts while it is on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from tiny_lantern.circuit.conductor import End
from tiny_lantern.live.tried.nets import HIGH, LOW, OPEN, Given, Level, Nets

TEN = 10


@dataclass
class ChainChip:
    """A chip in a chain: the bits in it, those behind its latch, None before it was first latched, how many came since,
    and whether one of its outputs was looked at."""

    name: str
    data: End
    clock: End
    latch: End
    sinks: bool
    bits: list[int]
    shown: list[int] | None = None
    clocked: int = 0
    chain: str = ""
    read: bool = False

    def output(self, number: int) -> Given:
        """What an output gives: nothing that anybody knows before the first latch; a sink draws or is open.

        Args:
            number: which output. [-]
        """

        def given() -> Level:
            self.read = True
            if self.shown is None:
                return OPEN
            lit = self.shown[number]
            return (LOW if lit else OPEN) if self.sinks else (HIGH if lit else LOW)

        return given

    def next(self) -> Level:
        """What it hands on to the next chip."""
        return HIGH if self.bits[-1] else LOW


def conducts(nets: Nets, control: End, fixed: End, low: bool) -> Given:
    """What comes through a switch: what is on its far side while its control is high, or low.

    Args:
        nets: the nets.
        control: its base, gate or input.
        fixed: its far side.
        low: whether it is on while its control is low.
    """

    def given() -> Level:
        share, (high, down) = nets.on(control)[1 if low else 0], nets.on(fixed)
        return share * high, share * down

    return given


def chosen(nets: Nets, selects: Sequence[End]) -> int:
    """The number on some select lines, the first the lowest bit. [-]

    Args:
        nets: the nets.
        selects: the lines.
    """
    return sum(nets.high(select) << bit for bit, select in enumerate(selects))


@dataclass
class Counter:
    """A counter of ten: a rising clock steps it, a high reset sets it to its first output; it starts anywhere."""

    nets: Nets
    clock: End
    reset: End
    at: int = 3
    _was: bool = field(default=False)

    def look(self) -> None:
        """See what its lines do."""
        clock = self.nets.high(self.clock)
        if self.nets.high(self.reset):
            self.at = 0
        elif clock and not self._was:
            self.at = (self.at + 1) % TEN
        self._was = clock

    def output(self, number: int) -> Given:
        """What an output gives.

        Args:
            number: which output. [-]
        """
        return lambda: HIGH if self.at == number else LOW
