"""Expressions of the kernel: typed integers whose ranges are worked out and checked as they are put together.

Three types: ``I32`` and ``U32`` are whole numbers of 32 bits, ``Q16`` is a signed number with 16 bits after the point,
held as the I32 that is 65536 times as large. Sums, differences, products and shifts of I32 and Q16 are refused while
the expression is built unless they fit for every input; those of U32 wrap. What divides works on 64 bits inside.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import Enum
from functools import cache
from itertools import product

ONE = 65536
HALF = 32768
SIGNED = (-(2**31), 2**31 - 1)
UNSIGNED = (0, 2**32 - 1)


class KernelError(ValueError):
    """An expression that is not one: types that do not go together, or a result that may not fit."""


class Type(Enum):
    """What an expression holds."""

    I32 = "i32"
    U32 = "u32"
    Q16 = "q16"

    @property
    def range(self) -> tuple[int, int]:
        """The lowest and the highest integer that it can hold. [-]"""
        return UNSIGNED if self is Type.U32 else SIGNED


@dataclass(frozen=True, eq=False, repr=False)
class Node:
    """One expression. ``low`` and ``high`` bound the integer that stands for it; ``value`` is a constant's or a shift's
    number, ``name`` an input's, a parameter's or a table's name, or what any other is called where it is printed."""

    op: str
    type: Type
    args: tuple[Node, ...]
    low: int
    high: int
    value: int = 0
    name: str = ""

    def __repr__(self) -> str:
        return f"<{self.op} {self.name or self.value}: {self.type.value} from {self.low} to {self.high}>"

    def __add__(self, other: Node | int) -> Node:
        return _combined("add", self, other, lambda a, b: a + b)

    def __sub__(self, other: Node | int) -> Node:
        return _combined("sub", self, other, lambda a, b: a - b)

    def __radd__(self, other: int) -> Node:
        return self + other

    def __rsub__(self, other: int) -> Node:
        return _like(self, other) - self

    def __mul__(self, other: Node | int) -> Node:
        other = _like(self, other) if isinstance(other, int) else other
        kinds = (self.type, other.type)
        if kinds == (Type.Q16, Type.Q16):
            return _checked("mulq", Type.Q16, (self, other), _ends(self, other, lambda a, b: (a * b + HALF) >> 16))
        if kinds in ((Type.Q16, Type.I32), (Type.I32, Type.Q16)):
            return _checked("mul", Type.Q16, (self, other), _ends(self, other, lambda a, b: a * b))
        return _combined("mul", self, other, lambda a, b: a * b)

    def __rmul__(self, other: int) -> Node:
        return self * other

    def __lshift__(self, bits: int) -> Node:
        return _shifted("shl", self, bits, (self.low << bits, self.high << bits))

    def __rshift__(self, bits: int) -> Node:
        return _shifted("shr", self, bits, (self.low >> bits, self.high >> bits))

    def __lt__(self, other: Node | int) -> Node:
        return _compared("lt", self, other, lambda a, b: (a.high < b.low, a is not b and a.low < b.high))

    def __le__(self, other: Node | int) -> Node:
        return _compared("le", self, other, lambda a, b: (a is b or a.high <= b.low, a is b or a.low <= b.high))

    def equals(self, other: Node | int) -> Node:
        """One where they are equal, else zero."""
        return _compared("eq", self, other, lambda a, b: (a is b, a is b or (a.low <= b.high and b.low <= a.high)))

    def least(self, other: Node | int) -> Node:
        """The smaller of the two."""
        other = _same(self, other)
        if self is other or self.high <= other.low:
            return self
        if other.high <= self.low:
            return other
        return _settled("min", self.type, (self, other), min(self.low, other.low), min(self.high, other.high))

    def most(self, other: Node | int) -> Node:
        """The larger of the two."""
        other = _same(self, other)
        if self is other or self.low >= other.high:
            return self
        if other.low >= self.high:
            return other
        return _settled("max", self.type, (self, other), max(self.low, other.low), max(self.high, other.high))

    def clamp(self, low: int, high: int) -> Node:
        """Kept from ``low`` to ``high``, both in the integers that stand for the type. [-]"""
        return self.most(low).least(high)

    def called(self, name: str) -> Node:
        """The same, with a name for whoever reads it as code; what has a name of its own keeps it."""
        if not name or self.name or not self.args:
            return self
        if self.op == "cast" and Type.U32 not in (self.type, self.args[0].type):
            return self.args[0].called(name).seen_as(self.type)
        return Node(self.op, self.type, self.args, self.low, self.high, self.value, name)

    def div(self, other: Node | int) -> Node:
        """The quotient with a positive whole number, rounded down; of a Q16 again a Q16."""
        other = _divisor(self, other)
        return Node("div", self.type, (self, other), *_ends(self, other, lambda a, b: a // b))

    def mod(self, other: Node | int) -> Node:
        """What is left of the integer that stands for it after ``div``, from zero to below the divisor."""
        other = _divisor(self, other)
        inside = self.low >= 0 and self.high < other.low
        low, high = (self.low, self.high) if inside else (0, other.high - 1)
        return Node("mod", self.type, (self, other), low, high)

    def as_q16(self) -> Node:
        """A whole number as Q16."""
        if self.type is not Type.I32:
            raise KernelError(f"{self.type.value} is no whole number with a sign")
        return self * constant(ONE, Type.Q16)

    def floor(self) -> Node:
        """The whole number at or below a Q16."""
        return (self >> 16).seen_as(Type.I32)

    def seen_as(self, kind: Type) -> Node:
        """The same 32 bits as another type, where every value keeps its meaning or the target is U32."""
        if kind is self.type:
            return self
        if kind is not Type.U32 and not SIGNED[0] <= self.low <= self.high <= SIGNED[1]:
            raise KernelError(f"{self.low} to {self.high} does not fit {kind.value}")
        wraps = kind is Type.U32 and self.low < 0
        return Node("cast", kind, (self,), *(UNSIGNED if wraps else (self.low, self.high)))


@cache
def constant(value: int, kind: Type = Type.I32) -> Node:
    """A number that never changes. [-]"""
    if not kind.range[0] <= value <= kind.range[1]:
        raise KernelError(f"{value} does not fit {kind.value}")
    return Node("const", kind, (), value, value, value=value)


@cache
def given(name: str, low: int, high: int, kind: Type = Type.I32) -> Node:
    """An input or a parameter, which will always be from ``low`` to ``high``. [-]"""
    if not kind.range[0] <= low <= high <= kind.range[1]:
        raise KernelError(f"{name} from {low} to {high} does not fit {kind.value}")
    return Node("given", kind, (), low, high, name=name)


def select(condition: Node, yes: Node | int, no: Node | int) -> Node:
    """``yes`` where a condition is not zero, else ``no``."""
    if isinstance(yes, int):
        if isinstance(no, int):
            raise KernelError("select needs one expression at least, which says the type")
        yes = _like(no, yes)
    no = _same(yes, no)
    return Node("select", yes.type, (condition, yes, no), min(yes.low, no.low), max(yes.high, no.high))


def muldiv(number: Node, factor: Node | int, divisor: Node | int) -> Node:
    """``number · factor / divisor`` rounded down, worked out in 64 bits; what does not fit 32 stops at their end."""
    factor, divisor = _signed(number, factor), _divisor(number, divisor)
    return Node("muldiv", number.type, (number, factor, divisor), *_held(_ends3(number, factor, divisor)))


def mulmod(number: Node, factor: Node | int, divisor: Node | int) -> Node:
    """What is left of ``number · factor`` after dividing by a positive number, worked out in 64 bits."""
    factor, divisor = _signed(number, factor), _divisor(number, divisor)
    return Node("mulmod", number.type, (number, factor, divisor), 0, divisor.high - 1)


def turn(number: Node, factor: Node | int, divisor: Node | int) -> Node:
    """The part after the point of ``number · factor / divisor``, rounded down to a Q16 from 0 to below 1."""
    factor, divisor = _signed(number, factor), _divisor(number, divisor)
    return Node("turn", Type.Q16, (number, factor, divisor), 0, ONE - 1)


def table(name: str, values: Sequence[int], at: Node) -> Node:
    """A table of Q16 numbers read at a place from 0 to 1, on the straight line between the entries beside it."""
    if at.type is not Type.Q16 or at.low < 0 or at.high > ONE:
        raise KernelError(f"{at.low} to {at.high} is outside the table {name}")
    entry = ONE // (len(values) - 1)
    touched = values[at.low // entry : -(-at.high // entry) + 1]
    return Node("table", Type.Q16, (at,), min(touched), max(touched), name=name)


@cache
def listed(name: str, low: int, high: int, kind: Type = Type.I32) -> Node:
    """A list of numbers that is given, one at least, each of which will be from ``low`` to ``high``. [-]"""
    if kind is Type.U32 or not SIGNED[0] <= low <= high <= SIGNED[1]:
        raise KernelError(f"a list of {kind.value} from {low} to {high} is not known")
    return Node("list", kind, (), low, high, name=name)


def item(items: Node, at: Node) -> Node:
    """The number at a place of a list, counted from 0; what lies outside counts as the nearer end."""
    if items.op != "list" or at.type is not Type.I32:
        raise KernelError("a place in a list is a whole number")
    return Node("item", items.type, (items, at), items.low, items.high)


def hashed(*words: Node) -> Node:
    """A number without pattern from one to three U32: the same for the same words, on every machine."""
    if not 1 <= len(words) <= 3 or any(word.type is not Type.U32 for word in words):
        raise KernelError("a hash takes one to three u32")
    filled = (*words, *(constant(0, Type.U32),) * (3 - len(words)))
    return Node("hash", Type.U32, filled, *UNSIGNED)


def _like(pattern: Node, value: int) -> Node:
    return constant(value, pattern.type)


def _same(pattern: Node, other: Node | int) -> Node:
    other = _like(pattern, other) if isinstance(other, int) else other
    if other.type is not pattern.type:
        raise KernelError(f"{pattern.type.value} and {other.type.value} do not go together")
    return other


def _signed(number: Node, other: Node | int) -> Node:
    other = constant(other) if isinstance(other, int) else other
    if number.type is Type.U32 or other.type is not Type.I32:
        raise KernelError("division takes a number with a sign, by whole numbers")
    return other


def _divisor(number: Node, other: Node | int) -> Node:
    other = _signed(number, other)
    if other.low < 1:
        raise KernelError(f"a divisor from {other.low} may not be positive")
    return other


def _ends(one: Node, other: Node, result: Callable[[int, int], int]) -> tuple[int, int]:
    """The lowest and highest result of an operation that rises or falls evenly with each of its numbers."""
    found = [result(a, b) for a, b in product((one.low, one.high), (other.low, other.high))]
    return min(found), max(found)


def _ends3(number: Node, factor: Node, divisor: Node) -> tuple[int, int]:
    ends = [(node.low, node.high) for node in (number, factor, divisor)]
    found = [a * b // c for a, b, c in product(*ends)]
    return min(found), max(found)


def _held(ends: tuple[int, int]) -> tuple[int, int]:
    return max(SIGNED[0], min(ends[0], SIGNED[1])), max(SIGNED[0], min(ends[1], SIGNED[1]))


def _combined(op: str, one: Node, other: Node | int, result: Callable[[int, int], int]) -> Node:
    other = _same(one, other)
    return _checked(op, one.type, (one, other), _ends(one, other, result))


def _shifted(op: str, node: Node, bits: int, ends: tuple[int, int]) -> Node:
    if not 0 <= bits <= 31:
        raise KernelError(f"a shift by {bits} is not from 0 to 31")
    return _checked(op, node.type, (node,), ends, bits)


def _compared(op: str, one: Node, other: Node | int, known: Callable[[Node, Node], tuple[bool, bool]]) -> Node:
    """A comparison, of which is known whether it always holds and whether it ever may."""
    other = _same(one, other)
    always, ever = known(one, other)
    return _settled(op, Type.I32, (one, other), int(always), int(ever))


def _checked(op: str, kind: Type, args: tuple[Node, ...], ends: tuple[int, int], value: int = 0) -> Node:
    low, high = ends
    fits = kind.range[0] <= low and high <= kind.range[1]
    if not fits and kind is not Type.U32:
        raise KernelError(f"{op} may reach {low} to {high}, which {kind.value} cannot hold")
    return _settled(op, kind, args, *((low, high) if fits else UNSIGNED), value=value)


def _settled(op: str, kind: Type, args: tuple[Node, ...], low: int, high: int, value: int = 0) -> Node:
    """An expression, or the number that it always is."""
    return constant(low, kind) if low == high else Node(op, kind, args, low, high, value=value)
