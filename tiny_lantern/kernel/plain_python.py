"""The kernel printed as Python that needs nothing else, for small boards."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from tiny_lantern.kernel.nodes import SIGNED, Node, Type
from tiny_lantern.kernel.printed import (
    ATOM,
    BITS,
    CHOICE,
    COMPARED,
    PRODUCT,
    SHIFT,
    SUM,
    Words,
    call,
    infix,
    printed,
)
from tiny_lantern.kernel.program import Program
from tiny_lantern.kernel.tables import table_values

MASK = Words("0xFFFFFFFF")
HELPERS = """\
def kernel_held(number):
    return max(-2147483648, min(number, 2147483647))


def kernel_read(entries, at):
    # A table from 0 to 65536, on the straight line between the entries beside a place.
    low, high = entries[at >> 8], entries[min((at >> 8) + 1, 256)]
    return low + (((high - low) * (at & 255) + 128) >> 8)


def kernel_mixed(state):
    state = ((state ^ (state >> 16)) * 0x7FEB352D) & 0xFFFFFFFF
    state = ((state ^ (state >> 15)) * 0x846CA68B) & 0xFFFFFFFF
    return state ^ (state >> 16)


def kernel_hash(one, two, three):
    return kernel_mixed(kernel_mixed(kernel_mixed(one) ^ two) ^ three)
"""


def python_prelude(programs: Sequence[Program]) -> str:
    """What printed programs need before them: helpers and the tables that they look into.

    Args:
        programs: the programs.
    """
    names = sorted({name for program in programs for name in program.tables})
    return "\n".join([HELPERS, *(f"{name}_entries = {table_values(name)}" for name in names), ""])


def python_function(program: Program) -> str:
    """A program as a function of its inputs and then its lists, each in the order of their names, that gives its
    results as a tuple.

    Args:
        program: the program.
    """
    lines, words = printed(program, _WAYS, _leaf, lambda node, name, text: f"    {name} = {text}")
    results = "".join(f"{word.text}, " for word in words)
    given = ", ".join(node.name for node in (*program.inputs, *program.lists))
    return "\n".join([f"def {program.name}({given}):", *lines, f"    return ({results})", ""])


def _leaf(node: Node) -> Words:
    if node.op == "const":
        return Words(str(node.value), ATOM if node.value >= 0 else SUM)
    return Words(node.name)


def _wrapped(node: Node, words: Words) -> Words:
    return infix(words, "&", MASK, BITS) if node.type is Type.U32 else words


def _infix(sign: str, binds: int) -> Callable[..., Words]:
    return lambda node, a, b: _wrapped(node, infix(a, sign, b, binds))


def _choice(condition: str, yes: Words, no: Words) -> Words:
    return Words(f"{yes.within(COMPARED)} if {condition} else {no.within(CHOICE)}", CHOICE)


def _compared(sign: str) -> Callable[..., Words]:
    return lambda node, a, b: call("int", infix(a, sign, b, COMPARED))


def _mulq(node: Node, a: Words, b: Words) -> Words:
    return infix(infix(infix(a, "*", b, PRODUCT), "+", Words("32768"), SUM), ">>", Words("16"), SHIFT)


def _select(node: Node, c: Words, a: Words, b: Words) -> Words:
    asked = node.args[0].op in ("lt", "le", "eq") and c.text.startswith("int(")
    return _choice(c.text[4:-1] if asked else c.within(SUM), a, b)


def _muldiv(node: Node, a: Words, b: Words, c: Words) -> Words:
    part = infix(infix(a, "*", b, PRODUCT), "//", c, PRODUCT)
    inside = SIGNED[0] < node.low and node.high < SIGNED[1]
    return part if inside else call("kernel_held", part)


def _mulmod(node: Node, a: Words, b: Words, c: Words) -> Words:
    return infix(infix(a, "*", b, PRODUCT), "%", c, PRODUCT)


def _turn(node: Node, a: Words, b: Words, c: Words) -> Words:
    return infix(infix(_mulmod(node, a, b, c), "*", Words("65536"), PRODUCT), "//", c, PRODUCT)


_WAYS: dict[str, Callable[..., Words]] = {
    "add": _infix("+", SUM),
    "sub": _infix("-", SUM),
    "mul": _infix("*", PRODUCT),
    "mulq": _mulq,
    "shl": lambda node, a: _wrapped(node, infix(a, "<<", Words(str(node.value)), SHIFT)),
    "shr": lambda node, a: infix(a, ">>", Words(str(node.value)), SHIFT),
    "lt": _compared("<"),
    "le": _compared("<="),
    "eq": _compared("=="),
    "min": lambda node, a, b: call("min", a, b),
    "max": lambda node, a, b: call("max", a, b),
    "select": _select,
    "div": _infix("//", PRODUCT),
    "mod": _infix("%", PRODUCT),
    "muldiv": _muldiv,
    "mulmod": _mulmod,
    "turn": _turn,
    "cast": _wrapped,
    "table": lambda node, at: call("kernel_read", f"{node.name}_entries", at),
    "item": lambda node, items, at: Words(f"{items.text}[max(0, min({at.text}, len({items.text}) - 1))]"),
    "hash": lambda node, a, b, c: call("kernel_hash", a, b, c),
}
