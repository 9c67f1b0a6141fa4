"""The kernel's operations on single numbers: for whatever in a frame is the same for all of its lights."""

from __future__ import annotations

from collections.abc import Callable

from tiny_lantern.kernel.nodes import HALF, ONE, SIGNED, Node, Type
from tiny_lantern.kernel.tables import read

MASK = 0xFFFFFFFF


def _wrapped(node: Node, value: int) -> int:
    return value & MASK if node.type is Type.U32 else value


def _mixed(state: int) -> int:
    state = ((state ^ (state >> 16)) * 0x7FEB352D) & MASK
    state = ((state ^ (state >> 15)) * 0x846CA68B) & MASK
    return state ^ (state >> 16)


def _hash(node: Node, *words: int) -> int:
    state = 0
    for word in words:
        state = _mixed(state ^ word)
    return state


SINGLE: dict[str, Callable[..., int]] = {
    "add": lambda node, a, b: _wrapped(node, a + b),
    "sub": lambda node, a, b: _wrapped(node, a - b),
    "mul": lambda node, a, b: _wrapped(node, a * b),
    "mulq": lambda node, a, b: (a * b + HALF) >> 16,
    "shl": lambda node, a: _wrapped(node, a << node.value),
    "shr": lambda node, a: a >> node.value,
    "lt": lambda node, a, b: int(a < b),
    "le": lambda node, a, b: int(a <= b),
    "eq": lambda node, a, b: int(a == b),
    "min": lambda node, a, b: min(a, b),
    "max": lambda node, a, b: max(a, b),
    "select": lambda node, c, a, b: a if c else b,
    "div": lambda node, a, b: a // b,
    "mod": lambda node, a, b: a % b,
    "muldiv": lambda node, a, b, c: max(SIGNED[0], min(a * b // c, SIGNED[1])),
    "mulmod": lambda node, a, b, c: a * b % c,
    "turn": lambda node, a, b, c: (a * b % c) * ONE // c,
    "cast": lambda node, a: _wrapped(node, a),
    "table": lambda node, at: read(node.name, at),
    "item": lambda node, items, at: int(items[max(0, min(at, len(items) - 1))]),
    "hash": _hash,
}
