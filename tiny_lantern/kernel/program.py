"""A program: some results, the inputs and parameters that they are worked out from, and the order of the steps."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from tiny_lantern.kernel.nodes import Node


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
        """What must be given: inputs and parameters, each name once, by name."""
        named = {node.name: node for node in self.steps if node.op == "given"}
        return tuple(named[name] for name in sorted(named))

    @cached_property
    def lists(self) -> tuple[Node, ...]:
        """What lists must be given, each name once, by name."""
        named = {node.name: node for node in self.steps if node.op == "list"}
        return tuple(named[name] for name in sorted(named))

    @cached_property
    def tables(self) -> tuple[str, ...]:
        """Names of the tables that it looks into."""
        return tuple(sorted({node.name for node in self.steps if node.op == "table"}))
