"""How long property tests look: a little in every run, long in a soak run by hand."""

from __future__ import annotations

import os

from hypothesis import settings

SOAK = int(os.environ.get("LANTERN_SOAK", "1"))


def some(count: int) -> settings:
    """So many examples in every run, as many times more as the soak asks for."""
    return settings(max_examples=count * SOAK)
