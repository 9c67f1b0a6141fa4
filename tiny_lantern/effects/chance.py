"""Chance for effects: numbers without pattern that are the same on every machine, and steps of time to draw them in."""

from __future__ import annotations

from tiny_lantern.effects.cycle import MOST, cycle_parts, tick_parts
from tiny_lantern.effects.kind import Number, tick, whole
from tiny_lantern.kernel.nodes import ONE, Node, Type, hashed, muldiv

MOST_SEED = 9999
SEED = Number("seed", "dealt as", 1, 0, MOST_SEED, whole=True)


def step() -> Node:
    """How many whole cycles have passed, one below the most so that the next one has a number too."""
    return muldiv(tick(), tick_parts(), cycle_parts()).clamp(0, MOST - 1)


def chance(*numbers: Node) -> Node:
    """A share drawn for one or two whole numbers, none below zero, and the effect's seed; Q16 from 0 to below 1."""
    seed = whole("seed", 0, MOST_SEED).seen_as(Type.U32)
    words = [number.seen_as(Type.U32) for number in numbers]
    return (hashed(*words, seed) >> 16).seen_as(Type.Q16)


def between(one: Node, other: Node, share: Node) -> Node:
    """The way from one number to another, all Q16 from 0 to 1.

    Args:
        one: where it begins. [-]
        other: where it ends. [-]
        share: how far it has come. [-]
    """
    return (one + (other - one) * share).clamp(0, ONE)
