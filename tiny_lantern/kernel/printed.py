"""How expressions are put into words: what is used once stands where it is used, the rest gets a line and a name."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from tiny_lantern.kernel.nodes import Node, Type
from tiny_lantern.kernel.program import Program

CHOICE, COMPARED, BITS, SHIFT, SUM, PRODUCT, UNARY, ATOM = range(8)
LONGEST = 56
STEP = "step"


@dataclass(frozen=True)
class Words:
    """An expression as text, and how tightly its outermost operation binds."""

    text: str
    binds: int = ATOM

    def within(self, binds: int) -> str:
        """The text, in brackets unless it binds so tightly."""
        return self.text if self.binds >= binds else f"({self.text})"


Print = Callable[..., Words]


def infix(a: Words, sign: str, b: Words, binds: int) -> Words:
    """Two expressions with a sign between them, of which the second is the one to be put in brackets where both bind
    alike.

    Args:
        a: the first.
        sign: the sign.
        b: the second.
        binds: how tightly the sign binds.
    """
    least = UNARY if binds in (SHIFT, BITS, COMPARED) else binds
    return Words(f"{a.within(least)} {sign} {b.within(least + 1 if least == binds else least)}", binds)


def call(name: str, *args: Words | str) -> Words:
    """A function called."""
    return Words(f"{name}({', '.join(arg if isinstance(arg, str) else arg.text for arg in args)})")


def printed(
    program: Program,
    ways: Mapping[str, Print],
    leaf: Callable[[Node], Words],
    line: Callable[[Node, str, str], str],
    reserved: Iterable[str] = (),
) -> tuple[list[str], list[Words]]:
    """The lines that work out what is used more than once or is called something, and the words for the results.

    Args:
        program: the program.
        ways: how each operation is put, given its node and the words for what it takes.
        leaf: how what is given is put.
        line: a line that gives a node's words a name: the node, the name, the words.
        reserved: names that stand for something else.

    Raises:
        KeyError: an operation that there are no words for.
    """
    uses = Counter(id(_meant(arg)) for node in program.steps if node is _meant(node) for arg in node.args)
    uses.update(id(_meant(node)) for node in program.results)
    taken = Counter([*reserved, *(node.name for node in (*program.inputs, *program.lists))])
    lines: list[str] = []
    words: dict[int, Words] = {}
    for node in program.steps:
        if not node.args:
            words[id(node)] = leaf(node)
            continue
        args = [words[id(arg)] for arg in node.args]
        made = ways[node.op](node, *args)
        label = "" if node.op == "table" else node.name
        if node is _meant(node) and (label or uses[id(node)] > 1 or len(made.text) > LONGEST):
            name = _free(label or STEP, taken)
            lines.append(line(node, name, made.text))
            made = Words(name)
        words[id(node)] = made
    return lines, [words[id(node)] for node in program.results]


def _meant(node: Node) -> Node:
    """What a number seen as another type with a sign stands for: itself."""
    while node.op == "cast" and Type.U32 not in (node.type, node.args[0].type):
        node = node.args[0]
    return node


def _free(label: str, taken: Counter[str]) -> str:
    """A name that nothing else has: the label, or the label and a number."""
    taken[label] += 1
    if taken[label] == 1 and label != STEP:
        return label
    name = f"{label}{taken[label]}"
    return _free(label, taken) if taken[name] else name
