"""The kernel printed as C99 that means the same whatever width ``int`` has.

What is known of a step's range decides how it is put: 32 bits wherever its numbers fit, and no division where a shift
does, since both are dear on a small board.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from tiny_lantern.kernel.nodes import HALF, ONE, SIGNED, UNSIGNED, Node, Type
from tiny_lantern.kernel.printed import (
    ATOM,
    BITS,
    CHOICE,
    COMPARED,
    PRODUCT,
    SHIFT,
    SUM,
    UNARY,
    Words,
    call,
    infix,
    printed,
)
from tiny_lantern.kernel.program import Program
from tiny_lantern.kernel.tables import ENTRIES, ENTRY, table_values

C_TYPES = {Type.I32: "int32_t", Type.U32: "uint32_t", Type.Q16: "int32_t"}
LIST_WIDTHS = {"uint8_t": (0, 255), "int16_t": (-(2**15), 2**15 - 1), "uint16_t": (0, 2**16 - 1)}
A_LINE, A_ROW, LONGEST_HEAD = 8, 16, 110
SIGN_BIT, HALF_WAY = 31, 15
HELPERS = {
    "kernel_down": """\
/* number / 2^bits, rounded down */
static inline int32_t kernel_down(int32_t number, uint8_t bits)
{
    return (number < 0) ? ~(~number >> bits) : number >> bits;
}
""",
    "kernel_floor": """\
/* number / divisor, rounded down; the divisor is positive */
static inline int32_t kernel_floor(int32_t number, int32_t divisor)
{
    return (number < 0) ? -1 - (-1 - number) / divisor : number / divisor;
}
""",
    "kernel_rest": """\
/* what is left of the number after that, from 0 to below the divisor */
static inline int32_t kernel_rest(int32_t number, int32_t divisor)
{
    const int32_t rest = number % divisor;
    return (rest < 0) ? rest + divisor : rest;
}
""",
    "kernel_share": """\
/* number x share / 65536, rounded; the share is from 0 to 65536, the number from -65536 to 65536 */
static inline int32_t kernel_share(int32_t number, int32_t share)
{
    if (share == 65536) {
        return number;
    }
    if (number < 0) {
        return -(int32_t)(((uint32_t)-number * (uint32_t)share + 32767u) >> 16);
    }
    return (int32_t)(((uint32_t)number * (uint32_t)share + 32768u) >> 16);
}
""",
    "kernel_floor_wide": """\
static inline int64_t kernel_floor_wide(int64_t number, int64_t divisor)
{
    return (number < 0) ? -1 - (-1 - number) / divisor : number / divisor;
}
""",
    "kernel_times": """\
/* number x other / 65536, rounded */
static inline int32_t kernel_times(int32_t number, int32_t other)
{
    return (int32_t)kernel_floor_wide((int64_t)number * other + 32768, 65536);
}
""",
    "kernel_part": """\
/* number x factor / divisor, rounded down, and kept within 32 bits */
static inline int32_t kernel_part(int32_t number, int32_t factor, int32_t divisor)
{
    const int64_t part = kernel_floor_wide((int64_t)number * factor, divisor);
    if (part < -INT64_C(2147483648)) {
        return -2147483647 - 1;
    }
    return (part > 2147483647) ? 2147483647 : (int32_t)part;
}
""",
    "kernel_left": """\
/* what is left of number x factor after dividing */
static inline int32_t kernel_left(int32_t number, int32_t factor, int32_t divisor)
{
    const int32_t rest = (int32_t)(((int64_t)number * factor) % divisor);
    return (rest < 0) ? rest + divisor : rest;
}
""",
    "kernel_turn": """\
/* the part after the point of number x factor / divisor, 65536 for a whole turn */
static inline int32_t kernel_turn(int32_t number, int32_t factor, int32_t divisor)
{
    const int64_t rest = ((int64_t)number * factor) % divisor;
    return (int32_t)(((rest < 0) ? rest + divisor : rest) * 65536 / divisor);
}
""",
    "kernel_least": """\
static inline int32_t kernel_least(int32_t one, int32_t other)
{
    return (one < other) ? one : other;
}
""",
    "kernel_most": """\
static inline int32_t kernel_most(int32_t one, int32_t other)
{
    return (one > other) ? one : other;
}
""",
    "kernel_least_u32": """\
static inline uint32_t kernel_least_u32(uint32_t one, uint32_t other)
{
    return (one < other) ? one : other;
}
""",
    "kernel_most_u32": """\
static inline uint32_t kernel_most_u32(uint32_t one, uint32_t other)
{
    return (one > other) ? one : other;
}
""",
    "kernel_mixed": """\
/* chance: numbers without pattern, the same on every machine */
static inline uint32_t kernel_mixed(uint32_t state)
{
    state = (uint32_t)(1u * (state ^ (state >> 16)) * 0x7feb352du);
    state = (uint32_t)(1u * (state ^ (state >> 15)) * 0x846ca68bu);
    return state ^ (state >> 16);
}
""",
    "kernel_hash": """\
static inline uint32_t kernel_hash(uint32_t one, uint32_t two, uint32_t three)
{
    return kernel_mixed(kernel_mixed(kernel_mixed(one) ^ two) ^ three);
}
""",
}
WHERE = """\
/* Tables are constants, and stay with the program. Where a compiler would keep them in memory and has another
 * word for it than this, say so, for instance with -DLANTERN_FLASH=__far. */
#ifndef LANTERN_FLASH
#ifdef __FLASH
#define LANTERN_FLASH __flash
#else
#define LANTERN_FLASH
#endif
#endif
"""
TABLE = """\
/* the {name} table from 0 to 65536, on the straight line between the entries beside a place */
static inline int32_t kernel_{name}(int32_t at)
{{
    const LANTERN_FLASH int32_t *low = &{name}_entries[at >> {bits}];
    if ((at >> {bits}) == {last}) {{
        return *low;
    }}
    return *low + kernel_down((low[1] - *low) * (at & {rest}) + {half}, {bits});
}}
"""


def c_prelude(programs: Sequence[Program], functions: Sequence[str]) -> str:
    """What printed programs need before them: the helpers that they call and the tables that they look into.

    Args:
        programs: the programs.
        functions: what they are printed as, and whatever else calls helpers.
    """
    tables = [_c_table(name) for name in sorted({name for program in programs for name in program.tables})]
    needed: list[str] = []
    for name, text in reversed(HELPERS.items()):
        if any(f"{name}(" in other for other in (*functions, *tables, *needed)):
            needed.append(text)
    return "\n".join(["#include <stdint.h>", "", WHERE, *reversed(needed), *tables])


def c_function(program: Program, results: Sequence[str] = ()) -> str:
    """A program as a function of its inputs, then of its lists with how many numbers each has, that puts each result
    where it is told.

    Args:
        program: the program.
        results: what the results are called.
    """
    results = results or [f"result{number}" for number in range(len(program.results))]
    given = [f"{C_TYPES[node.type]} {node.name}" for node in program.inputs]
    for node in program.lists:
        given += [f"const LANTERN_FLASH {list_type(node)} *{node.name}", f"int32_t {node.name}_count"]
    told = [f"{C_TYPES[node.type]} *{name}" for name, node in zip(results, program.results, strict=True)]
    lines, words = printed(program, _WAYS, _leaf, _line, results)
    lines += [f"    *{name} = {word.text};" for name, word in zip(results, words, strict=True)]
    counts = [f"{node.name}_count" for node in program.lists]
    lines += [f"    (void){count};" for count in counts if not any(f"{count} - 1" in line for line in lines)]
    return "\n".join([*_head(program.name, given + told), "{", *lines, "}", ""])


def _head(name: str, given: Sequence[str]) -> list[str]:
    """A function's name and what it is given, in lines that are not too long."""
    lines = [f"static void {name}("]
    for number, words in enumerate(given):
        words += ")" if number == len(given) - 1 else ", "
        if len(lines[-1]) + len(words) > LONGEST_HEAD:
            lines.append("    ")
        lines[-1] += words
    return [line.rstrip() for line in lines]


def c_constant(value: int, kind: Type = Type.I32) -> str:
    """A number as C writes it: a decimal is as wide as it must be. [-]"""
    if kind is Type.U32:
        return f"{value}u"
    return "-2147483647 - 1" if value == SIGNED[0] else str(value)


def list_type(items: Node) -> str:
    """The narrowest type that a list's numbers fit in, so that it takes little of a small board's memory.

    Args:
        items: the list.
    """
    fitting = (name for name, (low, high) in LIST_WIDTHS.items() if low <= items.low and items.high <= high)
    return next(fitting, "int32_t")


def c_list(name: str, kind: str, values: Sequence[int]) -> str:
    """A list as a constant array.

    Args:
        name: what it is called.
        kind: the type of its numbers in C.
        values: its numbers. [-]
    """
    return _array(kind, name, values, A_ROW)


def _c_table(name: str) -> str:
    return "\n".join([
        _array("int32_t", f"{name}_entries", table_values(name), A_LINE),
        TABLE.format(name=name, last=ENTRIES - 1, bits=ENTRY.bit_length() - 1, rest=ENTRY - 1, half=ENTRY // 2),
    ])  # fmt: skip


def _array(kind: str, name: str, values: Sequence[int], a_row: int) -> str:
    words = [c_constant(value) for value in values]
    rows = ["    " + ", ".join(words[at : at + a_row]) + "," for at in range(0, len(words), a_row)]
    return "\n".join([f"static const LANTERN_FLASH {kind} {name}[{len(values)}] = {{", *rows, "};", ""])


def _leaf(node: Node) -> Words:
    if node.op == "const":
        return Words(c_constant(node.value, node.type), ATOM if node.value >= 0 else SUM)
    return Words(node.name)


def _line(node: Node, name: str, text: str) -> str:
    return f"    const {C_TYPES[node.type]} {name} = {text};"


def _infix(sign: str, binds: int) -> Callable[..., Words]:
    def put(node: Node, a: Words, b: Words) -> Words:
        found = infix(a, sign, b, binds)
        return Words(f"(uint32_t)({found.text})", UNARY) if node.type is Type.U32 else found

    return put


def _ends(*nodes: Node) -> tuple[int, int]:
    """The lowest and the highest product of two expressions."""
    one, other = nodes
    ends = [a * b for a in (one.low, one.high) for b in (other.low, other.high)]
    return min(ends), max(ends)


def _fits(ends: tuple[int, int], more: int = 0, within: tuple[int, int] = SIGNED) -> bool:
    return within[0] <= ends[0] and ends[1] + more <= within[1]


def _mul(node: Node, a: Words, b: Words) -> Words:
    found = infix(a, "*", b, PRODUCT)
    return Words(f"(uint32_t)(1u * {found.text})", UNARY) if node.type is Type.U32 else found


def _mulq(node: Node, a: Words, b: Words) -> Words:
    one, other = node.args
    for number, share, words in ((one, other, (a, b)), (other, one, (b, a))):
        if number.low >= -ONE and number.high <= ONE and share.low >= 0 and share.high <= ONE:
            return call("kernel_share", *words)
    ends = _ends(one, other)
    if not _fits(ends, HALF):
        return call("kernel_times", a, b)
    return _shifted(infix(infix(a, "*", b, PRODUCT), "+", Words(str(HALF)), SUM), 16, ends[0] + HALF >= 0)


def _shifted(a: Words, bits: int, positive: bool) -> Words:
    return infix(a, ">>", Words(str(bits)), SHIFT) if positive else call("kernel_down", a, str(bits))


def _shl(node: Node, a: Words) -> Words:
    if node.type is Type.U32:
        return Words(f"(uint32_t)({infix(a, '<<', Words(str(node.value)), SHIFT).text})", UNARY)
    if node.value == SIGN_BIT:  # which as one number would be wider than 32 bits
        a = infix(a, "*", Words(str(1 << HALF_WAY)), PRODUCT)
    return infix(a, "*", Words(str(1 << (node.value - HALF_WAY if node.value == SIGN_BIT else node.value))), PRODUCT)


TRUTH = "(int32_t)"


def _compared(sign: str) -> Callable[..., Words]:
    def compared(node: Node, a: Words, b: Words) -> Words:
        if a.text == b.text:  # which a compiler would warn of
            return Words(str(int("=" in sign)))
        return Words(f"{TRUTH}({infix(a, sign, b, COMPARED).text})", UNARY)

    return compared


def _held(name: str) -> Callable[..., Words]:
    return lambda node, a, b: call(f"kernel_{name}{'_u32' if node.type is Type.U32 else ''}", a, b)


def _select(node: Node, c: Words, a: Words, b: Words) -> Words:
    asked = node.args[0].op in ("lt", "le", "eq") and c.text.startswith(TRUTH)
    condition = c.text.removeprefix(TRUTH) if asked else f"({c.within(SUM)} != 0)"
    return Words(f"{condition} ? {a.within(COMPARED)} : {b.within(CHOICE)}", CHOICE)


def _power(node: Node) -> int | None:
    """Of which power of two a constant is."""
    bits = node.value.bit_length() - 1
    return bits if node.op == "const" and node.value == 1 << bits else None


def _div(node: Node, a: Words, b: Words) -> Words:
    number, divisor = node.args
    if (bits := _power(divisor)) is not None:
        return _shifted(a, bits, number.low >= 0)
    return infix(a, "/", b, PRODUCT) if number.low >= 0 else call("kernel_floor", a, b)


def _mod(node: Node, a: Words, b: Words) -> Words:
    number, divisor = node.args
    if _power(divisor) is not None and number.low >= 0:
        return infix(a, "&", Words(str(divisor.value - 1)), BITS)
    if _power(divisor) is not None:
        return Words(f"(int32_t)((uint32_t){a.within(UNARY)} & {divisor.value - 1}u)", UNARY)
    return infix(a, "%", b, PRODUCT) if number.low >= 0 else call("kernel_rest", a, b)


def _unsigned(a: Words, sign: str, b: Words, c: Words) -> Words:
    """A product that fits 32 bits without a sign, divided."""
    one, other, by = (f"{words.text}u" if words.text.isdigit() else f"(uint32_t){words.within(UNARY)}"
                      for words in (a, b, c))  # fmt: skip
    return Words(f"(int32_t)({one} * {other} {sign} {by})", UNARY)


def _muldiv(node: Node, a: Words, b: Words, c: Words) -> Words:
    ends = _ends(*node.args[:2])
    if _fits(ends) and ends[0] >= 0:
        return infix(infix(a, "*", b, PRODUCT), "/", c, PRODUCT)
    if _fits(ends):
        return call("kernel_floor", infix(a, "*", b, PRODUCT), c)
    if _fits(ends, within=UNSIGNED) and node.args[0].low >= 0 and ends[1] // node.args[2].low <= SIGNED[1]:
        return _unsigned(a, "/", b, c)
    return call("kernel_part", a, b, c)


def _mulmod(node: Node, a: Words, b: Words, c: Words) -> Words:
    ends = _ends(*node.args[:2])
    if _fits(ends) and ends[0] >= 0:
        return infix(infix(a, "*", b, PRODUCT), "%", c, PRODUCT)
    if _fits(ends, within=UNSIGNED) and node.args[0].low >= 0:
        return _unsigned(a, "%", b, c)
    return call("kernel_left", a, b, c)


def _turn(node: Node, a: Words, b: Words, c: Words) -> Words:
    ends, by = _ends(*node.args[:2]), node.args[2]
    if ends[0] < 0 or not _fits(ends) or by.high > SIGNED[1] // ONE or not c.text.isidentifier():
        return call("kernel_turn", a, b, c)
    rest = infix(infix(a, "*", b, PRODUCT), "%", c, PRODUCT)
    return infix(infix(rest, "*", Words(str(ONE)), PRODUCT), "/", c, PRODUCT)


def _cast(node: Node, a: Words) -> Words:
    if C_TYPES[node.type] == C_TYPES[node.args[0].type]:
        return a
    return Words(f"({C_TYPES[node.type]}){a.within(UNARY)}", UNARY)


def _item(node: Node, items: Words, at: Words) -> Words:
    low, high = node.args[1].low, node.args[1].high
    if low < 0:
        at = call("kernel_most", at, "0")
    if high > 0:
        at = call("kernel_least", at, f"{items.text}_count - 1")
    return Words(f"(int32_t){items.text}[{at.text}]", UNARY)


_WAYS: dict[str, Callable[..., Words]] = {
    "add": _infix("+", SUM),
    "sub": _infix("-", SUM),
    "mul": _mul,
    "mulq": _mulq,
    "shl": _shl,
    "shr": lambda node, a: _shifted(a, node.value, node.args[0].low >= 0),
    "lt": _compared("<"),
    "le": _compared("<="),
    "eq": _compared("=="),
    "min": _held("least"),
    "max": _held("most"),
    "select": _select,
    "div": _div,
    "mod": _mod,
    "muldiv": _muldiv,
    "mulmod": _mulmod,
    "turn": _turn,
    "cast": _cast,
    "table": lambda node, at: call(f"kernel_{node.name}", at),
    "item": _item,
    "hash": lambda node, a, b, c: call("kernel_hash", a, b, c),
}
