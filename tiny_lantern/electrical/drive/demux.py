"""A demultiplexer: one way at a time."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class OneAtATime:
    """Each way's share of the time, and how often it comes round a second."""

    duty: float
    flicker_hz: float


def one_at_a_time(ways: int, dwell_s: float) -> OneAtATime:
    """Ways lit in turn: duty ``1/n``, flicker ``1/(n · t)``  (1).

    Args:
        ways: how many. [-]
        dwell_s: how long each is lit. [s]

    Source: time-division multiplexing.
    """
    return OneAtATime(1 / ways, 1 / (ways * dwell_s))  # (1)
