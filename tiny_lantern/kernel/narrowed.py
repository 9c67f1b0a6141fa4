"""A program for inputs of which more is known: what that settles is put in, and steps that are alike become one."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from math import gcd

from tiny_lantern.kernel.nodes import (
    ONE,
    SIGNED,
    Node,
    Type,
    constant,
    given,
    item,
    listed,
    muldiv,
    mulmod,
    select,
    table,
    turn,
)
from tiny_lantern.kernel.program import MOST_PROGRAMS, Program
from tiny_lantern.kernel.single import SINGLE
from tiny_lantern.kernel.tables import table_values

BITS = 32
Known = frozenset[tuple[str, int, int]]


@lru_cache(maxsize=MOST_PROGRAMS)
def narrowed(program: Program, known: Known) -> Program:
    """A program that results in the same, for inputs and lists that keep to narrower ends than it was built for.

    Args:
        program: the program.
        known: names of inputs and of lists, each with the lowest and the highest number that it will have. [-]

    Raises:
        KernelError: ends that are wider than those it was built for, where a step would not fit.
    """
    ends = {name: (low, high) for name, low, high in known}
    found: dict[int, Node] = {}
    for node in program.steps:
        args = tuple(found[id(arg)] for arg in node.args)
        found[id(node)] = _leaf(node, ends) if not args else _again(node, args)
    return _merged(Program(program.name, tuple(found[id(node)] for node in program.results)))


def _leaf(node: Node, ends: Mapping[str, tuple[int, int]]) -> Node:
    if node.op == "const" or node.name not in ends:
        return node
    low, high = ends[node.name]
    if node.op == "list":
        return listed(node.name, low, high, node.type)
    return constant(low, node.type) if low == high else given(node.name, low, high, node.type)


def _again(node: Node, args: tuple[Node, ...]) -> Node:
    """The same expression of narrower ones."""
    if all(arg.op == "const" for arg in args):
        return constant(SINGLE[node.op](node, *(arg.value for arg in args)), node.type)
    made = _SHORTER.get(node.op, _AGAIN.get(node.op))
    return made(node, *args).called(node.name) if made else Node(node.op, node.type, args, node.low, node.high)


def _is(node: Node, value: int) -> bool:
    return node.op == "const" and node.value == value


def _fits(one: Node, other: Node) -> bool:
    ends = [a * b for a in (one.low, one.high) for b in (other.low, other.high)]
    return SIGNED[0] <= min(ends) and max(ends) <= SIGNED[1]


def _apart(node: Node) -> tuple[Node, int]:
    """A sum without the numbers that are added to it, and those together."""
    if node.op in ("add", "sub") and node.type is not Type.U32 and node.args[1].op == "const":
        inner, more = _apart(node.args[0])
        return inner, more + (node.args[1].value if node.op == "add" else -node.args[1].value)
    return node, 0


def _more(node: Node, number: int) -> Node:
    """An expression with a number added to all that is added to it already."""
    inner, before = _apart(node)
    number += before
    if not number:
        return inner
    return inner + number if number > 0 else inner - -number


def _added(node: Node, a: Node, b: Node) -> Node:
    if node.type is Type.U32:
        return a + b
    if a.op == "const":
        a, b = b, a
    return _more(a, b.value) if b.op == "const" else a + b


def _less(node: Node, a: Node, b: Node) -> Node:
    if b.op == "const" and node.type is not Type.U32:
        return _more(a, -b.value)
    return a - b


def _down(node: Node, a: Node) -> Node:
    inner = a.args[0] if a.op == "shr" and a.value + node.value < BITS else a
    return inner >> (node.value + a.value if inner is not a else node.value)


def _multiplied(node: Node, a: Node, b: Node) -> Node:
    if _is(a, 1):
        return b
    return a if _is(b, 1) else a * b


def _shared(node: Node, a: Node, b: Node) -> Node:
    if _is(a, ONE):
        return b
    return a if _is(b, ONE) else a * b


def _chosen(node: Node, condition: Node, yes: Node, no: Node) -> Node:
    if condition.low > 0 or condition.high < 0 or yes is no:
        return yes
    return no if _is(condition, 0) else select(condition, yes, no)


def _reduced(b: Node, c: Node) -> tuple[Node, Node]:
    """A factor and a divisor without what they have in common."""
    if b.op != "const" or c.op != "const":
        return b, c
    common = max(1, gcd(b.value, c.value))
    return constant(b.value // common), constant(c.value // common)


def _part(node: Node, a: Node, b: Node, c: Node) -> Node:
    b, c = _reduced(b, c)
    if _is(c, 1) and _fits(a, b):
        return _multiplied(node, a, b)
    return a.div(c) if _is(b, 1) else muldiv(a, b, c)


def _left(node: Node, a: Node, b: Node, c: Node) -> Node:
    return _multiplied(node, a, b).mod(c) if _fits(a, b) else mulmod(a, b, c)


def _turned(node: Node, a: Node, b: Node, c: Node) -> Node:
    b, c = _reduced(b, c)
    if _is(c, 1):
        return constant(0, Type.Q16)
    if c.op != "const" or not _fits(a, b) or c.value > SIGNED[1] // ONE:
        return turn(a, b, c)
    rest = _multiplied(node, a, b).mod(c).seen_as(Type.I32)
    return (rest * ONE).div(c).seen_as(Type.Q16)


def _inside(node: Node, a: Node, b: Node) -> Node:
    return a if a.low >= 0 and a.high < b.low else a.mod(b)


_SHORTER: dict[str, Callable[..., Node]] = {
    "add": _added,
    "sub": _less,
    "shr": _down,
    "mul": _multiplied,
    "mulq": _shared,
    "select": _chosen,
    "mod": _inside,
    "muldiv": _part,
    "mulmod": _left,
    "turn": _turned,
}
_AGAIN: dict[str, Callable[..., Node]] = {
    "shl": lambda node, a: a << node.value,
    "lt": lambda node, a, b: a < b,
    "le": lambda node, a, b: a <= b,
    "eq": lambda node, a, b: a.equals(b),
    "min": lambda node, a, b: a.least(b),
    "max": lambda node, a, b: a.most(b),
    "div": lambda node, a, b: a if _is(b, 1) else a.div(b),
    "cast": lambda node, a: a.seen_as(node.type),
    "table": lambda node, at: table(node.name, table_values(node.name), at),
    "item": lambda node, items, at: item(items, at),
}


def _merged(program: Program) -> Program:
    """A program in which no expression stands twice."""
    found: dict[int, Node] = {}
    alike: dict[tuple[object, ...], Node] = {}
    for node in program.steps:
        args = tuple(found[id(arg)] for arg in node.args)
        name = "" if args and node.op != "table" else node.name
        key = (node.op, node.type, node.value, name, *map(id, args))
        if key not in alike:
            same = all(one is other for one, other in zip(args, node.args, strict=True))
            alike[key] = node if same else Node(node.op, node.type, args, node.low, node.high, node.value, node.name)
        found[id(node)] = alike[key]
    return Program(program.name, tuple(found[id(node)] for node in program.results))
