"""The kernel printed as C99 that means the same whatever width ``int`` has: every step is cast to its exact width."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from tiny_lantern.kernel.nodes import SIGNED, Node, Type
from tiny_lantern.kernel.program import Program
from tiny_lantern.kernel.tables import table_values

C_TYPES = {Type.I32: "int32_t", Type.U32: "uint32_t", Type.Q16: "int32_t"}
A_LINE, A_ROW = 8, 16
HELPERS = """\
static inline int64_t kernel_floor(int64_t number, int64_t divisor)
{
    int64_t quotient = number / divisor;
    return (number % divisor < 0) ? quotient - 1 : quotient;
}

static inline int64_t kernel_rest(int64_t number, int64_t divisor)
{
    int64_t rest = number % divisor;
    return (rest < 0) ? rest + divisor : rest;
}

static inline int32_t kernel_held(int64_t number)
{
    if (number < -INT64_C(2147483648)) {
        number = -INT64_C(2147483648);
    }
    return (int32_t)((number > INT64_C(2147483647)) ? INT64_C(2147483647) : number);
}

static inline int32_t kernel_turn(int64_t number, int64_t factor, int64_t divisor)
{
    return (int32_t)(kernel_rest(number * factor, divisor) * INT64_C(65536) / divisor);
}

static inline uint32_t kernel_mixed(uint32_t state)
{
    state = (uint32_t)((uint64_t)(state ^ (state >> 16)) * UINT32_C(0x7feb352d));
    state = (uint32_t)((uint64_t)(state ^ (state >> 15)) * UINT32_C(0x846ca68b));
    return state ^ (state >> 16);
}

static inline uint32_t kernel_hash(uint32_t one, uint32_t two, uint32_t three)
{
    return kernel_mixed(kernel_mixed(kernel_mixed(one) ^ two) ^ three);
}
"""


def c_prelude(programs: Sequence[Program]) -> str:
    """What printed programs need before them: includes, helpers and the tables that they look into.

    Args:
        programs: the programs.
    """
    names = sorted({name for program in programs for name in program.tables})
    return "\n".join(["#include <stdint.h>", "", HELPERS, *map(_c_table, names)])


def c_function(program: Program) -> str:
    """A program as a function of its inputs, in the order of their names, then of its lists with how many numbers each
    has, that puts each result where it is told.

    Args:
        program: the program.
    """
    given = [f"{C_TYPES[node.type]} {node.name}" for node in program.inputs]
    for node in program.lists:
        given += [f"const {list_type(node)} *{node.name}", f"int32_t {node.name}_count"]
    told = [f"{C_TYPES[node.type]} *result{number}" for number, node in enumerate(program.results)]
    names: dict[int, str] = {}
    lines: list[str] = []
    for node in program.steps:
        words = [names[id(arg)] for arg in node.args]
        if node.op in ("given", "list"):
            names[id(node)] = node.name
        elif node.op == "const":
            names[id(node)] = c_constant(node.value, node.type)
        else:
            names[id(node)] = f"step{len(lines)}"
            lines.append(f"    const {C_TYPES[node.type]} step{len(lines)} = {_OPS[node.op](node, *words)};")
    lines += [f"    *result{number} = {names[id(node)]};" for number, node in enumerate(program.results)]
    return "\n".join([f"static void {program.name}({', '.join(given + told)})", "{", *lines, "}", ""])


def c_constant(value: int, kind: Type) -> str:
    """A number as a constant of its exact width. [-]"""
    if kind is Type.U32:
        return f"UINT32_C({value})"
    if value == SIGNED[0]:
        return "(-INT32_C(2147483647) - INT32_C(1))"
    return f"INT32_C({value})" if value >= 0 else f"(-INT32_C({-value}))"


def list_type(items: Node) -> str:
    """The narrowest type that a list's numbers fit in, so that it takes little of a small board's memory.

    Args:
        items: the list.
    """
    widths = {"uint8_t": (0, 255), "int16_t": (-(2**15), 2**15 - 1)}
    return next((name for name, (low, high) in widths.items() if low <= items.low and items.high <= high), "int32_t")


def c_list(name: str, items: Node, values: Sequence[int]) -> str:
    """A list as a constant array.

    Args:
        name: what it is called.
        items: the list that it is given as.
        values: its numbers. [-]
    """
    wide = list_type(items) == "int32_t"
    words = [c_constant(value, Type.I32) if wide else str(value) for value in values]
    rows = ["    " + ", ".join(words[at : at + A_ROW]) + "," for at in range(0, len(words), A_ROW)]
    return "\n".join([f"static const {list_type(items)} {name}[{len(values)}] = {{", *rows, "};", ""])


def _item(node: Node, items: str, at: str) -> str:
    last = f"{items}_count - INT32_C(1)"
    return f"(int32_t){items}[({at} < INT32_C(0)) ? INT32_C(0) : ({at} > {last}) ? {last} : {at}]"


def _c_table(name: str) -> str:
    values = table_values(name)
    rows = [
        "    " + ", ".join(c_constant(value, Type.I32) for value in values[at : at + A_LINE]) + ","
        for at in range(0, len(values), A_LINE)
    ]
    return "\n".join([f"static const int32_t kernel_{name}[{len(values)}] = {{", *rows, "};", ""])


def _sum(sign: str) -> Callable[..., str]:
    return lambda node, a, b: f"({C_TYPES[node.type]})({a} {sign} {b})"


def _mul(node: Node, a: str, b: str) -> str:
    if node.type is Type.U32:
        return f"(uint32_t)((uint64_t){a} * {b})"
    return f"(int32_t)({a} * {b})"


def _shl(node: Node, a: str) -> str:
    if node.type is Type.U32:
        return f"(uint32_t)((uint64_t){a} << {node.value})"
    return f"(int32_t)((int64_t){a} * INT64_C({1 << node.value}))"


def _shr(node: Node, a: str) -> str:
    if node.type is Type.U32:
        return f"{a} >> {node.value}"
    return f"(int32_t)kernel_floor({a}, INT64_C({1 << node.value}))"


def _compared(sign: str) -> Callable[..., str]:
    return lambda node, a, b: f"(int32_t)({a} {sign} {b})"


_OPS: dict[str, Callable[..., str]] = {
    "add": _sum("+"),
    "sub": _sum("-"),
    "mul": _mul,
    "mulq": lambda node, a, b: f"(int32_t)kernel_floor((int64_t){a} * {b} + INT64_C(32768), INT64_C(65536))",
    "shl": _shl,
    "shr": _shr,
    "lt": _compared("<"),
    "le": _compared("<="),
    "eq": _compared("=="),
    "min": lambda node, a, b: f"({a} < {b}) ? {a} : {b}",
    "max": lambda node, a, b: f"({a} > {b}) ? {a} : {b}",
    "select": lambda node, c, a, b: f"({c} != 0) ? {a} : {b}",
    "div": lambda node, a, b: f"(int32_t)kernel_floor({a}, {b})",
    "mod": lambda node, a, b: f"(int32_t)kernel_rest({a}, {b})",
    "muldiv": lambda node, a, b, c: f"kernel_held(kernel_floor((int64_t){a} * {b}, {c}))",
    "mulmod": lambda node, a, b, c: f"(int32_t)kernel_rest((int64_t){a} * {b}, {c})",
    "turn": lambda node, a, b, c: f"kernel_turn({a}, {b}, {c})",
    "cast": lambda node, a: f"({C_TYPES[node.type]}){a}",
    "table": lambda node, at: f"kernel_{node.name}[{at}]",
    "item": _item,
    "hash": lambda node, a, b, c: f"kernel_hash({a}, {b}, {c})",
}
