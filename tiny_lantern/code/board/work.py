"""How long a board takes to send a chain, and how often what dims or is scanned comes round for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tiny_lantern.code.board.doings import Chain, Doings, Matrix

WIDE_INT = 32
BLANKED, ROUNDS, ENOUGH = 1, 200, 1e-4


@dataclass(frozen=True)
class Hand:
    """Clock cycles of a kind of board: to set a pin by the functions that its tools bring along, and to find out which
    bit comes next. [-]"""

    pin: int
    bit: int


NARROW, WIDE = Hand(70, 90), Hand(40, 25)
PINS_A_BIT = 3


@dataclass(frozen=True)
class Pace:
    """How often something comes round, as is asked for and as the board can; how long sending takes, and how often a
    round it is sent. [Hz], [s], [-]"""

    doing: Chain | Matrix
    asked_hz: float
    kept_hz: float
    send_s: float
    sends: int


def hand_of(int_bits: int) -> Hand:
    """The kind of board by the width of its ``int``.

    Args:
        int_bits: the width. [bit]
    """
    return WIDE if int_bits >= WIDE_INT else NARROW


def paces(doings: Doings, hand: Hand, clock_hz: float) -> list[Pace]:
    """How often each chain that dims and each matrix comes round; what a board has to send at once is sent one after
    another.

    Args:
        doings: what the board does at its pins.
        hand: how quick it is at it.
        clock_hz: its clock. [Hz]
    """
    return [
        *(_chain(chain, hand, clock_hz) for chain in doings.of(Chain) if chain.bits > 1),
        *(_matrix(matrix, hand, clock_hz) for matrix in doings.of(Matrix)),
    ]


def send_s(count: int, hand: Hand, clock_hz: float) -> float:
    """How long so many outputs take to be sent: data, clock up and clock down for each. [s]

    Args:
        count: how many. [-]
        hand: how quick the board is at it.
        clock_hz: its clock. [Hz]
    """
    return count * (PINS_A_BIT * hand.pin + hand.bit) / clock_hz


def _chain(chain: Chain, hand: Hand, clock_hz: float) -> Pace:
    """The lowest bit is shown for as long as sending takes, where that is longer than is asked for."""
    sending, unit_s = send_s(len(chain.outputs), hand, clock_hz), chain.unit_us / 1e6
    units = (1 << chain.bits) - 1
    return Pace(chain, 1 / (units * unit_s), 1 / (units * max(unit_s, sending)), sending, chain.bits)


def _matrix(matrix: Matrix, hand: Hand, clock_hz: float) -> Pace:
    """A row lasts as long as all of its bits take to be sent, and its blank, where that is longer than is asked for."""
    sending, row_s = send_s(matrix.count, hand, clock_hz), matrix.row_us / 1e6
    sends = matrix.bits + (BLANKED if matrix.blank_us or matrix.step is not None else 0)
    longest_s = max(row_s, sends * sending)
    return Pace(matrix, 1 / (matrix.rows * row_s), 1 / (matrix.rows * longest_s), sending, matrix.rows * sends)


def with_sending(work_s: float, lights: int, sent: Sequence[Pace]) -> float:
    """How long a frame takes with what is sent meanwhile: between two of its lights each thing is sent once at most,
    and no more often than it comes round. [s]

    Args:
        work_s: what the frame takes by itself. [s]
        lights: its lights. [-]
        sent: what is sent meanwhile.
    """
    taken_s = work_s
    for _ in range(ROUNDS):
        more_s = sum(min(each.kept_hz * each.sends * taken_s, lights) * each.send_s for each in sent)
        if work_s + more_s - taken_s < ENOUGH * work_s:
            break
        taken_s = work_s + more_s
    return taken_s
