"""Note messages on a serial line: how long they take."""

from __future__ import annotations

from tiny_lantern.electrical.nearly import whole

BYTES, BITS = 3, 10


def message_s(baud: float) -> float:
    """Time of one note message: three bytes of ten bits  (1). [s]

    Args:
        baud: bits a second. [Hz]

    Source: asynchronous serial framing 8N1.
    """
    return BYTES * BITS / baud  # (1)


def burst_s(baud: float, messages: int) -> float:
    """Time of some messages one after another. [s]

    Args:
        baud: bits a second. [Hz]
        messages: how many. [-]
    """
    return messages * message_s(baud)


def messages_per_tick(baud: float, tick_hz: float) -> int:
    """Whole messages in a tick. [-]

    Args:
        baud: bits a second. [Hz]
        tick_hz: ticks a second. [Hz]
    """
    return whole(1 / tick_hz / message_s(baud))
