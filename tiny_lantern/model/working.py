"""A number's working: the formula, the same with the values put in, and the result."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Step:
    """One line of working: symbol and formula, values put in, result with its unit."""

    formula: str
    values: str
    result: str

    def line(self) -> str:
        """The step on one line."""
        return f"{self.formula} = {self.values} = {self.result}" if self.values else f"{self.formula} = {self.result}"


@dataclass(frozen=True)
class Working:
    """How a figure came about, with the source of the formula."""

    title: str
    steps: tuple[Step, ...]
    source: str = ""

    def followed_by(self, other: Working) -> Working:
        """One working after the other under the first one's title, both sources named."""
        sources = dict.fromkeys(source for source in (self.source, other.source) if source)
        return Working(self.title, (*self.steps, *other.steps), "; ".join(sources))

    def text(self) -> str:
        """The whole working as plain text."""
        lines = [self.title, *(step.line() for step in self.steps)]
        return "\n".join([*lines, f"Source: {self.source}"] if self.source else lines)
