"""The kernel evaluated by NumPy on whole blocks, whatever shapes the inputs have."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.kernel.nodes import HALF, ONE, SIGNED, Node, Type
from tiny_lantern.kernel.program import MOST_PROGRAMS, Program, decided
from tiny_lantern.kernel.single import SINGLE
from tiny_lantern.kernel.tables import read

Ints = NDArray[Any]
DTYPES: dict[Type, type] = {Type.I32: np.int32, Type.U32: np.uint32, Type.Q16: np.int32}


SMALL = 1 << 12
LARGE = 1 << 14
MOST_OUTCOMES = 1 << 18
LEAST_STEPS = 6
MOST_TABLES = 128
WORD_HALF, WORD_BITS, WORD_ONE = np.uint32(HALF), np.uint32(16), np.uint32(ONE)


def evaluate(program: Program, inputs: Mapping[str, Any]) -> list[Ints]:
    """What a program results in, one array for each of its results, as large as the inputs that it needs.

    Args:
        program: the program.
        inputs: integers or arrays of them by name, of shapes that fit each other, and its lists. [-]

    Raises:
        KeyError: an input is missing.
        ValueError: an input is outside the range that the program was built for.
    """
    taken = {node.name: as_input(node, inputs[node.name]) for node in program.inputs}
    lists = {node.name: as_input(node, np.asarray(inputs[node.name])) for node in program.lists}
    program = decided(program, _known(program, taken))
    shapes = [value.shape for value in taken.values() if not isinstance(value, int)]
    if math.prod(np.broadcast_shapes(*shapes)) <= SMALL:
        return _at_once(program, taken | lists)
    found: dict[int, Any] = {}
    for node in program.steps:
        if node.op in ("given", "list"):
            value = (lists if node.op == "list" else taken)[node.name]
            found[id(node)] = as_number(value, node.type) if isinstance(value, int) else value
    work_out(program.results, found, shortcuts_of(program))
    return [found[id(node)] for node in program.results]


def _known(program: Program, taken: Mapping[str, Any]) -> frozenset[tuple[str, int]]:
    """The switches of a program that have one number everywhere."""
    values = ((node.name, taken.get(node.name)) for node in program.switches)
    return frozenset((name, int(value != 0)) for name, value in values if isinstance(value, int))


def _at_once(program: Program, taken: Mapping[str, Any]) -> list[Any]:
    """Every step in turn, which for small arrays takes the least time; what no array comes into as a plain number."""
    arrays = frozenset(name for name, value in taken.items() if not isinstance(value, int))
    order = _order(program, arrays, frozenset())
    values = order.constants.copy()
    order.early.run(values, taken)
    return [values[at] for at in order.results]


Step = tuple[int, Callable[..., Any], Node, tuple[int, ...]]


@dataclass(frozen=True)
class _Phase:
    """Steps that can be done at one time: where each input is put, steps with single numbers, where those are put for
    arrays that meet them, and steps with arrays."""

    given: list[tuple[int, str]]
    single: list[Step]
    between: list[tuple[int, int, Type]]
    arrays: list[Step]

    def run(self, values: list[Any], taken: Mapping[str, Any]) -> None:
        """Do them in a row of values."""
        for at, name in self.given:
            values[at] = taken[name]
        for at, function, node, args in self.single:
            values[at] = function(node, *[values[arg] for arg in args])
        for at, to, kind in self.between:
            values[to] = as_number(values[at], kind)
        for at, function, node, args in self.arrays:
            values[at] = function(node, *[values[arg] for arg in args])


@dataclass(frozen=True)
class _Order:
    """A row of values with the constants in it, what is done before all inputs are known and after, and where each
    result is. The second half of the row has single numbers as arrays meet them."""

    constants: list[Any]
    early: _Phase
    late: _Phase
    results: list[int]


@lru_cache(maxsize=MOST_PROGRAMS)
def _order(program: Program, arrays: frozenset[str], later: frozenset[str]) -> _Order:
    """In which order a program is worked out when some of its inputs are arrays, and some come later."""
    at = {id(node): place for place, node in enumerate(program.steps)}
    size = len(program.steps)
    many: set[int] = set()
    delayed: set[int] = set()
    phases = _Phase([], [], [], []), _Phase([], [], [], [])
    met: dict[int, int] = {}

    def as_met(place: int) -> int:
        """Where an array finds the value of a step."""
        if place in many or program.steps[place].op == "list":
            return place
        if place not in met:
            met[place] = size + place
            phases[place in delayed].between.append((place, size + place, program.steps[place].type))
        return met[place]

    for place, node in enumerate(program.steps):
        args = tuple(at[id(arg)] for arg in node.args)
        if (node.op in ("given", "list") and node.name in later) or delayed.intersection(args):
            delayed.add(place)
        phase = phases[place in delayed]
        if node.op in ("given", "list"):
            many |= {place} if node.op == "given" and node.name in arrays else set()
            phase.given.append((place, node.name))
        elif many.intersection(args):
            many.add(place)
            phase.arrays.append((place, _OPS[node.op], node, tuple(map(as_met, args))))
        elif node.op != "const":
            phase.single.append((place, SINGLE[node.op], node, args))
    constants = [node.value if node.op == "const" else None for node in program.steps] + [None] * size
    return _Order(constants, *phases, [as_met(at[id(node)]) for node in program.results])


class Ready:
    """A program with all of its inputs but some, of which what follows from those alone is worked out once.

    Args:
        program: the program.
        inputs: integers or arrays of them by name, of shapes that fit each other, and its lists. [-]
        later: names of inputs that come later, and whether each is an array.

    Raises:
        KeyError: an input is missing.
        ValueError: an input is outside the range that the program was built for.
    """

    def __init__(self, program: Program, inputs: Mapping[str, Any], later: Mapping[str, bool]) -> None:
        nodes = (*program.inputs, *program.lists)
        self._later = [node for node in nodes if node.name in later]
        taken = {node.name: as_input(node, inputs[node.name]) for node in nodes if node.name not in later}
        program = decided(program, _known(program, taken))
        arrays = {name for name, value in taken.items() if not isinstance(value, int)}
        arrays |= {name for name, many in later.items() if many}
        self._order = _order(program, frozenset(arrays), frozenset(node.name for node in self._later))
        self._values: list[Any] = self._order.constants.copy()
        self._order.early.run(self._values, taken)

    def __call__(self, inputs: Mapping[str, Any]) -> list[Any]:
        """The results for the inputs that were left out. [-]

        Args:
            inputs: integers or arrays of them by name. [-]
        """
        values = self._values.copy()
        self._order.late.run(values, {node.name: as_input(node, inputs[node.name]) for node in self._later})
        return [values[at] for at in self._order.results]


def as_input(node: Node, values: Any) -> Any:
    """An input: a single number as it is, an array in its own width.

    Args:
        node: the input or the list.
        values: what it is given, any shape (…). [-]

    Raises:
        ValueError: it is outside the range that the program was built for.
    """
    if not isinstance(values, int):
        values = np.asarray(values)
        if values.size == 1 and node.op == "given":
            values = int(values.flat[0])
        elif node.op == "list" and not values.size:
            raise ValueError(f"{node.name} is empty")
    low, high = (values, values) if isinstance(values, int) else _ends(values)
    if not node.low <= low <= high <= node.high:
        raise ValueError(f"{node.name} is {low} to {high}, and {node.low} to {node.high} is expected")
    return values if isinstance(values, int) else values.astype(DTYPES[node.type])


def _ends(values: Ints) -> tuple[int, int]:
    return (int(values.min()), int(values.max())) if values.size else (0, 0)


def as_number(value: int, kind: Type) -> Any:
    """A single number; a U32 as an array, which wraps without a word.

    Args:
        value: the integer that stands for it. [-]
        kind: its type.
    """
    return np.array([value], np.uint32) if kind is Type.U32 else np.int32(value)


def work_out(wanted: Iterable[Node], found: dict[int, Any], shortcuts: Mapping[int, Node]) -> None:
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
        chosen = _chosen(node, found)
        needed = node.args if chosen is None else (chosen,)
        missing = [arg for arg in needed if id(arg) not in found]
        if missing:
            waiting += missing[:1] if node.op == "select" else missing
        elif node.op == "const":
            found[id(node)] = as_number(node.value, node.type)
        elif chosen is not None:
            found[id(node)] = found[id(chosen)]
        else:
            found[id(node)] = _OPS[node.op](node, *(found[id(arg)] for arg in node.args))


def _chosen(node: Node, found: Mapping[int, Any]) -> Node | None:
    """What a choice comes to that is known to be the same everywhere; the other need not be worked out."""
    if node.op != "select" or np.size(found.get(id(node.args[0]), ())) != 1:
        return None
    return node.args[1] if np.any(found[id(node.args[0])]) else node.args[2]


@lru_cache(maxsize=MOST_TABLES)
def _outcomes(node: Node, root: Node) -> Ints:
    """An expression for every value that the one it follows from may have, (root.high - root.low + 1,)."""
    found: dict[int, Any] = {id(root): np.arange(root.low, root.high + 1).astype(DTYPES[root.type])}
    work_out((node,), found, {})
    outcomes = np.broadcast_to(found[id(node)], root.high - root.low + 1).copy()
    outcomes.setflags(write=False)
    return outcomes


@lru_cache(maxsize=MOST_PROGRAMS)
def shortcuts_of(program: Program) -> dict[int, Node]:
    """Of the expressions that follow from one other alone, through many steps and from few values: which other."""
    roots: dict[int, Node | None] = {}
    steps: dict[int, int] = {}
    for node in program.steps:
        if node.op == "list":
            roots[id(node)], steps[id(node)] = None, 0
            continue
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
        if min(a.low, b.low) >= 0 and max(a.high, b.high) <= ONE:
            return _share(one, other)
        one, other = _wide(one, other)
    return _narrow(node, (one * other + HALF) >> 16)


def _share(one: Ints, other: Ints) -> Ints:
    """The product of two Q16 from 0 to 1 in 32 bits, which hold it but for 1 by 1: that is added."""
    one, other = one.view(np.uint32), other.view(np.uint32)
    product = (np.multiply(one, other) + WORD_HALF >> WORD_BITS) + (one & other & WORD_ONE)
    return product.view(np.int32)


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
    if np.size(number) < SMALL or np.size(divisor) > 1:
        return number % divisor
    of, once = node.args[0], int(np.ravel(divisor)[0])
    near = -once <= of.low and of.high < 2 * once and (of.low >= 0 or of.high < once)
    low, high = (of.low, of.high) if near else (int(number.min()), int(number.max()))
    if low >= 0 and high < 2 * once:
        return _below(number, number - divisor)  # division is much slower than this
    if -once <= low and high < once:
        return _below(number, number + divisor)
    return np.asarray(number % divisor)


def _below(one: Ints, other: Ints) -> Ints:
    """Of two numbers each the lower one that is not below zero: what is, is the largest as a word."""
    return np.minimum(one.view(np.uint32), other.view(np.uint32)).view(np.int32)


@cache
def _entries(name: str) -> Ints:
    """A table at every place from 0 to 1, (65537,), of which one look-up is less work than the line between two."""
    values = np.array([read(name, at) for at in range(ONE + 1)], np.int32)
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
    "item": lambda node, items, at: items.take(at, mode="clip"),
    "hash": _hash,
}
