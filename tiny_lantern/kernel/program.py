"""A program: some results, the inputs and parameters that they are worked out from, and the order of the steps."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

from tiny_lantern.kernel.nodes import Node

FIRST = ("slot", "tick")
MOST_PROGRAMS = 1024  # for which something is remembered: a slider that is drawn along makes a new one at every step


@dataclass(frozen=True, eq=False)
class Program:
    """Expressions that are worked out together; what they share is worked out once."""

    name: str
    results: tuple[Node, ...]

    @cached_property
    def steps(self) -> tuple[Node, ...]:
        """Every expression in it, each after those that it needs."""
        found: dict[int, Node] = {}
        waiting: list[tuple[Node, bool]] = [(node, False) for node in reversed(self.results)]
        while waiting:
            node, ready = waiting.pop()
            if id(node) in found:
                continue
            if ready:
                found[id(node)] = node
            else:
                waiting.append((node, True))
                waiting.extend((arg, False) for arg in reversed(node.args))
        return tuple(found.values())

    @cached_property
    def inputs(self) -> tuple[Node, ...]:
        """What must be given: inputs and parameters, each name once; place and time first, the rest by name."""
        named = {node.name: node for node in self.steps if node.op == "given"}
        return tuple(named[name] for name in sorted(named, key=lambda name: (name not in FIRST, name)))

    @cached_property
    def lists(self) -> tuple[Node, ...]:
        """What lists must be given, each name once, by name."""
        named = {node.name: node for node in self.steps if node.op == "list"}
        return tuple(named[name] for name in sorted(named))

    @cached_property
    def switches(self) -> tuple[Node, ...]:
        """Inputs that decide which of two expressions counts, each name once, by name."""
        named = {node.args[0].name: node.args[0] for node in self.steps if node.op == "select"}
        return tuple(named[name] for name in sorted(named) if named[name].op == "given")

    @cached_property
    def tables(self) -> tuple[str, ...]:
        """Names of the tables that it looks into."""
        return tuple(sorted({node.name for node in self.steps if node.op == "table"}))


@lru_cache(maxsize=MOST_PROGRAMS)
def decided(program: Program, known: frozenset[tuple[str, int]]) -> Program:
    """A program without the expressions that do not count, since some of its switches are known.

    Args:
        program: the program.
        known: names of switches, each with its number. [-]
    """
    numbers = dict(known)
    found: dict[int, Node] = {}
    for node in program.steps:
        switch = node.args[0] if node.op == "select" else None
        if switch is not None and switch.op == "given" and switch.name in numbers:
            found[id(node)] = found[id(node.args[1] if numbers[switch.name] else node.args[2])]
            continue
        args = tuple(found[id(arg)] for arg in node.args)
        same = all(one is other for one, other in zip(args, node.args, strict=True))
        found[id(node)] = node if same else replace(node, args=args)
    return Program(program.name, tuple(found[id(node)] for node in program.results))
