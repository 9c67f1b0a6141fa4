"""What a board is asked to do at its pins, by kinds of doing that code is written for; a row says in words what it is.

A way to drive says in its own file which of these it takes; the printers in C and Python know these and no ways.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, TypeVar

from tiny_lantern.code.board.kinds.listening import Told
from tiny_lantern.model.listening import Listening

DARK = -1


@dataclass(frozen=True)
class Pin:
    """A pin by the name that it has in the code: where it is on the board and its number there, what it is for, and
    the level that it has while everything is dark; ``use`` says what it is made, ``pull_up`` that the
    board's own resistor pulls it up where it reads."""

    name: str
    at: str
    number: int
    words: str
    idle: bool = False
    use: Literal["gives", "dims", "reads", "pixels"] = "gives"
    pull_up: bool = False


@dataclass(frozen=True)
class Output:
    """An output of a chip: the channel whose level it shows, ``DARK`` for none; ``low`` where it is low while it is
    lit."""

    channel: int
    low: bool
    words: str


@dataclass(frozen=True)
class Switched:
    """A pin that is on while a channel is lit; it stays on or off for ``least_ms`` at least."""

    pin: Pin
    channel: int
    low: bool
    least_ms: int
    words: str


@dataclass(frozen=True)
class Dimmed:
    """A pin that dims by the board's own timers, in steps from 0 to ``full``."""

    pin: Pin
    channel: int
    low: bool
    full: int
    words: str


@dataclass(frozen=True)
class Lines:
    """The lines of a chain: data, clock and latch, and the select lines that lead the latch to it, each with the level
    that it has then."""

    data: Pin
    clock: Pin
    latch: Pin
    selects: tuple[tuple[Pin, bool], ...] = ()


@dataclass(frozen=True)
class Chain:
    """Chips in a chain, their outputs from the board on; with more than one bit each lasts twice the one before, the
    first ``unit_us``."""

    lines: Lines
    outputs: tuple[Output, ...]
    bits: int
    unit_us: int
    words: str
    driver_id: str = ""


@dataclass(frozen=True)
class Matrix:
    """Rows that are lit one after another for ``row_us`` each, dark for ``blank_us`` of it. The chain's outputs are its
    columns, low while they are lit, from ``columns`` on; rows are outputs of it too, from ``rows_from`` on, or are
    stepped by a counter. ``channels`` are the crossings, row after row."""

    lines: Lines
    count: int
    rows: int
    columns: int
    rows_from: int
    row_low: bool
    channels: tuple[int, ...]
    bits: int
    row_us: int
    blank_us: int
    words: str
    step: Pin | None = None
    reset: Pin | None = None
    driver_id: str = ""


@dataclass(frozen=True)
class Turns:
    """Outputs of a demultiplexer that are lit one at a time, each for ``dwell_us``: a number on the select lines, low
    on the enable line while one is lit."""

    selects: tuple[Pin, ...]
    enable: Pin
    channels: tuple[int, ...]
    dwell_us: int
    words: str


@dataclass(frozen=True)
class Pair:
    """A lamp of two opposite dies between two pins that change places: each die has its own half of the time, after
    ``dead_us`` in which both pins are low."""

    ends: tuple[Pin, Pin]
    channels: tuple[int, int]
    half_us: int
    dead_us: int
    words: str


@dataclass(frozen=True)
class Held:
    """Lamps that change by themselves: full while they are lit, held while they are dark, off while nothing runs."""

    full: Pin
    hold: Pin
    channel: int
    low: bool
    words: str


@dataclass(frozen=True)
class Pixels:
    """A data line: its pin, and the bytes of the frame that it is sent: from where, and how many, piece after piece."""

    pin: Pin
    spans: tuple[tuple[int, int], ...]
    words: str

    @property
    def count(self) -> int:
        """How many bytes that is. [-]"""
        return sum(count for _, count in self.spans)


@dataclass(frozen=True)
class Knob:
    """A pin whose reading sets how bright some channels are: none at ``rest`` counts, all at ``full``."""

    pin: Pin
    first: int
    count: int
    rest: int
    full: int
    words: str


@dataclass(frozen=True)
class Heard:
    """An input: its pin, read as counts where it reads ``volts``, else high or low; without one a signal that a
    computer tells, by its number, or the link to it. Where nobody can tell it, it is ``deaf``, 0 or 1."""

    pin: Pin | None
    volts: bool
    words: str
    told: int | None = None
    deaf: int = 0


Doing = Switched | Dimmed | Chain | Matrix | Turns | Pair | Held | Pixels | Knob
D = TypeVar("D", Switched, Dimmed, Chain, Matrix, Turns, Pair, Held, Pixels, Knob)


@dataclass(frozen=True)
class Doings:
    """Everything that a board does: its pins in the order in which they are set, and what it does with them.
    ``follows`` where a board before it hands it the number of the frame, ``leads`` where it hands it on; ``heard`` are
    the inputs that rules answer to, ``state_bytes`` how many bytes of what they have made of the show go with it;
    ``listens`` says how it hears a computer, if it does, and ``signals`` what that may tell it."""

    pins: tuple[Pin, ...]
    all: tuple[Doing, ...]
    channels: int
    follows: bool = False
    leads: bool = False
    heard: tuple[Heard, ...] = ()
    state_bytes: int = 0
    listens: Listening | None = None
    signals: tuple[Told, ...] = ()

    def of(self, kind: type[D]) -> list[D]:
        """Those of a kind.

        Args:
            kind: the kind.
        """
        return [each for each in self.all if isinstance(each, kind)]

    @property
    def steps(self) -> bool:
        """Whether something has to be done between frames."""
        return any(
            isinstance(each, Matrix | Turns | Pair) or (isinstance(each, Chain) and each.bits > 1) for each in self.all
        )
