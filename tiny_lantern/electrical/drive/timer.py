"""The timers of a board that dims."""

from __future__ import annotations


def pwm_hz(clock_hz: float, prescale: int, bits: int) -> float:
    """Frequency of a timer that counts through so many bits: ``f_clk / (prescale · 2^bits)``  (1). [Hz]

    Args:
        clock_hz: the board's clock. [Hz]
        prescale: the divider before the timer. [-]
        bits: bits that it counts. [-]

    Source: a timer's data sheet, counting up without a limit of its own.
    """
    return clock_hz / (prescale * (1 << bits))  # (1)
