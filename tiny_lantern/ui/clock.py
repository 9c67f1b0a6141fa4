"""The time as the log of the bench writes it."""

from __future__ import annotations

from datetime import datetime


def now() -> str:
    """The date and the minute, ``YYYY-MM-DD HH:MM``, by the clock of this machine."""
    return datetime.now().strftime("%Y-%m-%d %H:%M")
