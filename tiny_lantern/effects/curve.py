"""Curves that a level follows from 0 to 1: eased, in steps, or drawn by a person as some levels in a row."""

from __future__ import annotations

import math
from functools import cache

import numpy as np

from tiny_lantern.effects.kind import TextParameter, whole
from tiny_lantern.kernel.nodes import ONE, Node, Type, item, listed, select

PARTS = 64
PART = ONE // PARTS
HINT = "straight, even to the eye, ease in, ease out, ease, steps 4, or levels from 0 to 1 in a row: 0 0.1 0.8 1"
MOST_LEVELS = 64
STEPS, EVEN, FOOT = "steps", "even to the eye", 8.0


def _eased(share: float) -> float:
    return 0.5 - 0.5 * math.cos(math.pi * share)


def _even(share: float) -> float:
    """The light that looks so bright beside full: lightness as CIE 1976 has it, its foot a straight line."""
    lightness = 100 * share
    return ((lightness + 16) / 116) ** 3 if lightness > FOOT else lightness / 903.3


EASES = {
    "straight": lambda share: share,
    EVEN: _even,
    "ease in": lambda share: 1 - math.cos(math.pi * share / 2),
    "ease out": lambda share: math.sin(math.pi * share / 2),
    "ease": _eased,
}


@cache
def curve_points(text: str) -> tuple[int, ...]:
    """Levels at 65 places from the beginning to the end of a curve. [Q16]

    Raises:
        ValueError: the text is no curve.
    """
    words = text.lower().replace(",", " ").split()
    name = " ".join(words)
    if name in EASES:
        return tuple(round(EASES[name](at / PARTS) * ONE) for at in range(PARTS + 1))
    if len(words) == 2 and words[0] == STEPS and words[1].isdigit() and 2 <= int(words[1]) <= PARTS:
        steps = int(words[1])
        return tuple(round(min(at * steps // PARTS, steps - 1) / (steps - 1) * ONE) for at in range(PARTS + 1))
    try:
        levels = [float(word) for word in words]
    except ValueError:
        raise ValueError(f"“{text[:30]}” is no curve") from None
    if not 2 <= len(levels) <= MOST_LEVELS or not all(0 <= level <= 1 for level in levels):
        raise ValueError(f"a curve has 2 to {MOST_LEVELS} levels from 0 to 1")
    at_parts = np.interp(np.linspace(0, 1, PARTS + 1), np.linspace(0, 1, len(levels)), levels)
    return tuple(round(level * ONE) for level in at_parts.tolist())


CURVE = TextParameter("curve", "curve", "straight", curve_points, HINT, "curve")


def curve_numbers(text: str) -> dict[str, int | tuple[int, ...]]:
    """What ``curved`` is told of a curve: its levels, whether it is straight, so that nothing need be looked up, and
    whether it goes from one place to the next in a line or holds.

    Raises:
        ValueError: the text is no curve.
    """
    points = curve_points(text)
    straight, smooth = points == curve_points("straight"), text.lower().split()[0] != STEPS
    return {"curve_points": points, "curve_straight": int(straight), "curve_smooth": int(smooth)}


def curved(share: Node) -> Node:
    """A share on its curve, both Q16 from 0 to 1; straight lines between the places of the curve, none between steps.

    Args:
        share: how far it has come. [-]
    """
    points = listed("curve_points", 0, ONE, Type.Q16)
    raw = share.seen_as(Type.I32)
    at, rest = raw >> 10, raw.mod(PART) * whole("curve_smooth", 0, 1)
    low, high = item(points, at), item(points, at + 1)
    bent = (low + (((high - low) * rest) >> 10)).clamp(0, ONE)
    return select(whole("curve_straight", 0, 1), share, bent.called("bent"))
