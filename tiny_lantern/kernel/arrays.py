"""The kernel evaluated by NumPy on whole blocks, whatever shapes the inputs have."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.kernel.nodes import HALF, SIGNED, Node, Type
from tiny_lantern.kernel.program import Program
from tiny_lantern.kernel.tables import table_values

Ints = NDArray[Any]
DTYPES: dict[Type, type] = {Type.I32: np.int32, Type.U32: np.uint32, Type.Q16: np.int32}


SMALL = 1 << 12
LARGE = 1 << 14
MOST_OUTCOMES = 1 << 18
LEAST_STEPS = 6


def evaluate(program: Program, inputs: Mapping[str, Any]) -> list[Ints]:
    """What a program results in, one array for each of its results, as large as the inputs that it needs.

    Args:
        program: the program.
        inputs: integers or arrays of them by name, of shapes that fit each other. [-]

    Raises:
        KeyError: an input is missing.
        ValueError: an input is outside the range that the program was built for.
    """
    taken = {node.name: _taken(node, inputs[node.name]) for node in program.inputs}
    if math.prod(np.broadcast_shapes(*(np.shape(value) for value in taken.values()))) <= SMALL:
        return _in_order(program, taken)
    found: dict[int, Any] = {id(node): taken[node.name] for node in program.steps if node.op == "given"}
    _work_out(program.results, found, _shortcuts(program))
    return [found[id(node)] for node in program.results]


def _in_order(program: Program, taken: Mapping[str, Any]) -> list[Any]:
    """Every step in turn, which for small arrays takes the least time."""
    values = _constants(program).copy()
    for at, name in _places(program)[0]:
        values[at] = taken[name]
    for at, function, node, args in _places(program)[1]:
        values[at] = function(node, *[values[arg] for arg in args])
    return [values[at] for at in _places(program)[2]]


Step = tuple[int, Callable[..., Any], Node, tuple[int, ...]]


@cache
def _places(program: Program) -> tuple[list[tuple[int, str]], list[Step], list[int]]:
    """Where in a row of values each input is put, each step to be done, and each result."""
    at = {id(node): place for place, node in enumerate(program.steps)}
    given = [(at[id(node)], node.name) for node in program.steps if node.op == "given"]
    done = [node for node in program.steps if node.op not in ("given", "const")]
    steps = [(at[id(node)], _OPS[node.op], node, tuple(at[id(arg)] for arg in node.args)) for node in done]
    return given, steps, [at[id(node)] for node in program.results]


@cache
def _constants(program: Program) -> list[Any]:
    """The row of values with nothing in it but the constants."""
    return [_number(node.value, node.type) if node.op == "const" else None for node in program.steps]


def _taken(node: Node, values: Any) -> Any:
    """An input in its own width."""
    low, high = (values, values) if isinstance(values, int) else _ends(np.asarray(values))
    if not node.low <= low <= high <= node.high:
        raise ValueError(f"{node.name} is {low} to {high}, and {node.low} to {node.high} is expected")
    return _number(values, node.type) if isinstance(values, int) else np.asarray(values).astype(DTYPES[node.type])


def _ends(values: Ints) -> tuple[int, int]:
    return (int(values.min()), int(values.max())) if values.size else (0, 0)


def _number(value: int, kind: Type) -> Any:
    """A single number; a U32 as an array, which wraps without a word."""
    return np.full(1, value, np.uint32) if kind is Type.U32 else np.int32(value)


def _work_out(wanted: Iterable[Node], found: dict[int, Any], shortcuts: Mapping[int, Node]) -> None:
    """Work expressions out, each after those that it needs, and put them among those found.

    Args:
        wanted: the expressions.
        found: what is known already, by identity; added to.
        shortcuts: expressions that follow from one other alone, whose outcomes are worth looking up.
    """
    waiting = list(wanted)
    while waiting:
        node = waiting[-1]
        if id(node) in found:
            waiting.pop()
            continue
        root = shortcuts.get(id(node))
        if root is not None and id(root) not in found:
            waiting.append(root)
            continue
        if root is not None and np.size(found[id(root)]) > LARGE:
            found[id(node)] = _outcomes(node, root).take(found[id(root)] - np.int32(root.low))
            continue
        missing = [arg for arg in node.args if id(arg) not in found]
        if missing:
            waiting += missing
        elif node.op == "const":
            found[id(node)] = _number(node.value, node.type)
        else:
            found[id(node)] = _OPS[node.op](node, *(found[id(arg)] for arg in node.args))


@cache
def _outcomes(node: Node, root: Node) -> Ints:
    """An expression for every value that the one it follows from may have, (root.high - root.low + 1,)."""
    found: dict[int, Any] = {id(root): np.arange(root.low, root.high + 1).astype(DTYPES[root.type])}
    _work_out((node,), found, {})
    outcomes = np.broadcast_to(found[id(node)], root.high - root.low + 1).copy()
    outcomes.setflags(write=False)
    return outcomes


@cache
def _shortcuts(program: Program) -> dict[int, Node]:
    """Of the expressions that follow from one other alone, through many steps and from few values: which other."""
    roots: dict[int, Node | None] = {}
    steps: dict[int, int] = {}
    for node in program.steps:
        from_what = {id(roots[id(arg)]): roots[id(arg)] for arg in node.args if arg.op != "const"}
        only = next(iter(from_what.values())) if len(from_what) == 1 else None
        few = node.type is not Type.U32 and node.high - node.low < MOST_OUTCOMES
        roots[id(node)] = only or (node if few else None)
        steps[id(node)] = 1 + sum(steps[id(arg)] for arg in node.args if arg.op != "const") if only else 0
    found = ((node, roots[id(node)]) for node in program.steps if steps[id(node)] >= LEAST_STEPS)
    return {id(node): root for node, root in found if root is not None}


def _fits(low: int, high: int) -> bool:
    return SIGNED[0] <= low and high <= SIGNED[1]


def _wide(*values: Ints) -> list[Ints]:
    return [value.astype(np.int64) for value in values]  # single numbers too


def _narrow(node: Node, value: Ints) -> Ints:
    return value.astype(DTYPES[node.type])


def _mulq(node: Node, one: Ints, other: Ints) -> Ints:
    """The product of two Q16, in 32 bits where it is known to fit."""
    a, b = node.args
    ends = [x * y for x in (a.low, a.high) for y in (b.low, b.high)]
    if not _fits(min(ends), max(ends) + HALF):
        one, other = _wide(one, other)
    return _narrow(node, (one * other + HALF) >> 16)


def _muldiv(node: Node, number: Ints, factor: Ints, divisor: Ints) -> Ints:
    number, factor, divisor = _wide(number, factor, divisor)
    return _narrow(node, np.minimum(np.maximum(number * factor // divisor, SIGNED[0]), SIGNED[1]))


def _mulmod(node: Node, number: Ints, factor: Ints, divisor: Ints) -> Ints:
    number, factor, divisor = _wide(number, factor, divisor)
    return _narrow(node, number * factor % divisor)


def _turn(node: Node, number: Ints, factor: Ints, divisor: Ints) -> Ints:
    number, factor, divisor = _wide(number, factor, divisor)
    return _narrow(node, ((number * factor % divisor) << 16) // divisor)


def _mod(node: Node, number: Ints, divisor: Ints) -> Ints:
    by = node.args[1]
    if by.op == "const" and by.value & (by.value - 1) == 0:
        return number & np.int32(by.value - 1)
    return number % divisor


@cache
def _entries(name: str) -> Ints:
    values = np.array(table_values(name), np.int32)
    values.setflags(write=False)
    return values


def _hash(node: Node, *words: Ints) -> Ints:
    """The finaliser of a well-mixed 32-bit hash, once for every word."""
    state = np.zeros(1, np.uint32)
    for word in words:
        state = state ^ word
        state = (state ^ (state >> np.uint32(16))) * np.uint32(0x7FEB352D)
        state = (state ^ (state >> np.uint32(15))) * np.uint32(0x846CA68B)
        state = state ^ (state >> np.uint32(16))
    return state


def _flag(value: Any) -> Any:
    return value.astype(np.int32)


_OPS: dict[str, Callable[..., Ints]] = {
    "add": lambda node, a, b: a + b,
    "sub": lambda node, a, b: a - b,
    "mul": lambda node, a, b: a * b,
    "mulq": _mulq,
    "shl": lambda node, a: a << a.dtype.type(node.value),
    "shr": lambda node, a: a >> a.dtype.type(node.value),
    "lt": lambda node, a, b: _flag(a < b),
    "le": lambda node, a, b: _flag(a <= b),
    "eq": lambda node, a, b: _flag(a == b),
    "min": lambda node, a, b: np.minimum(a, b),
    "max": lambda node, a, b: np.maximum(a, b),
    "select": lambda node, c, a, b: np.asarray(np.where(c != 0, a, b)),
    "div": lambda node, a, b: a // b,
    "mod": _mod,
    "muldiv": _muldiv,
    "mulmod": _mulmod,
    "turn": _turn,
    "cast": lambda node, a: a.astype(DTYPES[node.type]),
    "table": lambda node, at: _entries(node.name).take(at),
    "hash": _hash,
}
