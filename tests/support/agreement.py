"""Comparing results with a solved case: every word, list and count exactly, every number to a tolerance."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any


def disagreements(found: Any, wanted: Any, tolerance: float, where: str = "") -> Iterator[str]:
    """Each place where a result is not what the case says; keys that the case does not have are not looked at."""
    if isinstance(wanted, dict):
        for key, value in wanted.items():
            if not isinstance(found, dict) or key not in found:
                yield f"{where}.{key} is missing"
            else:
                yield from disagreements(found[key], value, tolerance, f"{where}.{key}")
    elif isinstance(wanted, list):
        if not isinstance(found, list) or len(found) != len(wanted):
            yield f"{where}: {found} is not {wanted}"
        else:
            for number, (one, other) in enumerate(zip(found, wanted, strict=True)):
                yield from disagreements(one, other, tolerance, f"{where}[{number}]")
    elif isinstance(wanted, float) or (isinstance(wanted, int) and isinstance(found, float)):
        if not isinstance(found, float | int) or abs(found - wanted) > tolerance * max(1.0, abs(wanted)):
            yield f"{where}: {found} is not {wanted}"
    elif found != wanted:
        yield f"{where}: {found!r} is not {wanted!r}"
