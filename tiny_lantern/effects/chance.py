"""Chance for effects: numbers without pattern that are the same on every machine, and steps of time to draw them in."""

from __future__ import annotations

from tiny_lantern.effects.cycle import FINEST, MOST, cycle_parts, fraction, tick_parts
from tiny_lantern.effects.kind import Number, tick, whole
from tiny_lantern.kernel.nodes import ONE, Node, Type, hashed, muldiv, turn

MOST_SEED = 9999
SEED = Number("seed", "dealt as", 1, 0, MOST_SEED, whole=True)


def step() -> Node:
    """How many whole cycles have passed, one below the most so that the next one has a number too."""
    return muldiv(tick(), tick_parts(), cycle_parts()).clamp(0, MOST - 1).called("cycles")


def beat_numbers(beat_s: float, tick_hz: float) -> dict[str, int]:
    """What ``beat`` and ``in_beat`` need of a second, faster time beside the cycle.

    Args:
        beat_s: how long a beat lasts. [s]
        tick_hz: frames a second. [Hz]
    """
    above, below = fraction(beat_s * tick_hz)
    return {"beat_of": max(1, above), "beat_parts": below}


def beat() -> Node:
    """How many whole beats have passed, one below the most so that the next one has a number too."""
    return muldiv(tick(), *_beat_parts()).clamp(0, MOST - 1).called("beats")


def in_beat() -> Node:
    """How far the effect is in its beat, Q16 from 0 to below 1."""
    return turn(tick(), *_beat_parts()).called("in_beat")


def _beat_parts() -> tuple[Node, Node]:
    return whole("beat_parts", 1, FINEST), whole("beat_of", 1, MOST)


def chance(*numbers: Node) -> Node:
    """A share drawn for one or two whole numbers, none below zero, and the effect's seed; Q16 from 0 to below 1."""
    seed = whole("seed", 0, MOST_SEED).seen_as(Type.U32)
    words = [number.seen_as(Type.U32) for number in numbers]
    return (hashed(*words, seed) >> 16).seen_as(Type.Q16).called("drawn")


def between(one: Node, other: Node, share: Node) -> Node:
    """The way from one number to another, all Q16 from 0 to 1.

    Args:
        one: where it begins. [-]
        other: where it ends. [-]
        share: how far it has come. [-]
    """
    return (one + (other - one) * share).clamp(0, ONE)
