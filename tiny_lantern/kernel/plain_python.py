"""The kernel printed as Python that needs nothing else, for small boards."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from tiny_lantern.kernel.nodes import Node, Type
from tiny_lantern.kernel.program import Program
from tiny_lantern.kernel.tables import table_values

HELPERS = """\
def kernel_held(number):
    return max(-2147483648, min(number, 2147483647))


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
    return "\n".join([HELPERS, *(f"kernel_{name} = {table_values(name)}" for name in names), ""])


def python_function(program: Program) -> str:
    """A program as a function of its inputs and then its lists, each in the order of their names, that gives its
    results as a tuple.

    Args:
        program: the program.
    """
    names: dict[int, str] = {}
    lines: list[str] = []
    for node in program.steps:
        words = [names[id(arg)] for arg in node.args]
        if node.op in ("given", "list"):
            names[id(node)] = node.name
        elif node.op == "const":
            names[id(node)] = str(node.value) if node.value >= 0 else f"({node.value})"
        else:
            names[id(node)] = f"step{len(lines)}"
            lines.append(f"    step{len(lines)} = {_OPS[node.op](node, *words)}")
    results = "".join(f"{names[id(node)]}, " for node in program.results)
    given = ", ".join(node.name for node in (*program.inputs, *program.lists))
    return "\n".join([f"def {program.name}({given}):", *lines, f"    return ({results})", ""])


def _wrapped(node: Node, text: str) -> str:
    return f"({text}) & 0xFFFFFFFF" if node.type is Type.U32 else text


_OPS: dict[str, Callable[..., str]] = {
    "add": lambda node, a, b: _wrapped(node, f"{a} + {b}"),
    "sub": lambda node, a, b: _wrapped(node, f"{a} - {b}"),
    "mul": lambda node, a, b: _wrapped(node, f"{a} * {b}"),
    "mulq": lambda node, a, b: f"({a} * {b} + 32768) >> 16",
    "shl": lambda node, a: _wrapped(node, f"{a} << {node.value}"),
    "shr": lambda node, a: f"{a} >> {node.value}",
    "lt": lambda node, a, b: f"1 if {a} < {b} else 0",
    "le": lambda node, a, b: f"1 if {a} <= {b} else 0",
    "eq": lambda node, a, b: f"1 if {a} == {b} else 0",
    "min": lambda node, a, b: f"{a} if {a} < {b} else {b}",
    "max": lambda node, a, b: f"{a} if {a} > {b} else {b}",
    "select": lambda node, c, a, b: f"{a} if {c} != 0 else {b}",
    "div": lambda node, a, b: f"{a} // {b}",
    "mod": lambda node, a, b: f"{a} % {b}",
    "muldiv": lambda node, a, b, c: f"kernel_held({a} * {b} // {c})",
    "mulmod": lambda node, a, b, c: f"{a} * {b} % {c}",
    "turn": lambda node, a, b, c: f"({a} * {b} % {c}) * 65536 // {c}",
    "cast": lambda node, a: _wrapped(node, a),
    "table": lambda node, at: f"kernel_{node.name}[{at}]",
    "item": lambda node, items, at: f"{items}[max(0, min({at}, len({items}) - 1))]",
    "hash": lambda node, a, b, c: f"kernel_hash({a}, {b}, {c})",
}
