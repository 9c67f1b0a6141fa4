"""Keeps the memory that arrays give back, so that the next ones need not be handed over page by page by the system."""

from __future__ import annotations

import ctypes

TRIM_THRESHOLD, MMAP_THRESHOLD = -1, -3
KEPT_BYTES, LARGE_BYTES = 64 << 20, 32 << 20


def keep_freed_memory() -> bool:
    """Ask the C library not to give memory back until much of it is free; whether it understood.

    An array of some hundred kilobytes costs more in fresh pages than in sums, and frames are made of such arrays.

    Source: mallopt(3), the GNU C library.
    """
    try:
        mallopt = ctypes.CDLL(None).mallopt
    except (OSError, AttributeError):
        return False  # another C library; everything works, only slower
    return bool(mallopt(TRIM_THRESHOLD, KEPT_BYTES) and mallopt(MMAP_THRESHOLD, LARGE_BYTES))
