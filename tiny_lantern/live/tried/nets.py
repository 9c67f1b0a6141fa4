"""Levels on nets: which terminals are joined, and how much of the time each is driven high, and low."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from tiny_lantern.circuit.conductor import Conductor, End

Level = tuple[float, float]
Given = Callable[[], Level]
OPEN, HIGH, LOW = (0.0, 0.0), (1.0, 0.0), (0.0, 1.0)


@dataclass
class Nets:
    """Terminals that wires join, and what drives them. A resistor between two legs of one part pulls and does not
    join."""

    _up: dict[str, str] = field(default_factory=dict)
    _sources: dict[str, list[Given]] = field(default_factory=lambda: defaultdict(list))

    def join(self, rows: Iterable[Conductor]) -> None:
        """Join what some conductors join.

        Args:
            rows: the conductors.
        """
        for row in rows:
            pulls = bool(row.in_line_ohm) and row.start.of == row.end.of
            if not (row.blocks or row.licensed or pulls):
                self._up[self.of(row.start)] = self.of(row.end)

    def of(self, end: End) -> str:
        """The net of a terminal.

        Args:
            end: the terminal.
        """
        node = end.node
        while (up := self._up.get(node, node)) != node:
            node = up
        return node

    def drive(self, end: End, given: Given) -> None:
        """Let something drive a terminal.

        Args:
            end: the terminal.
            given: what it gives there.
        """
        self._sources[self.of(end)].append(given)

    def on(self, end: End) -> Level:
        """How much of the time a terminal is driven high, and low. [-]

        Args:
            end: the terminal.
        """
        high = low = 0.0
        for source in self._sources.get(self.of(end), ()):
            up, down = source()
            high, low = max(high, up), max(low, down)
        return high, low

    def high(self, end: End) -> bool:
        """Whether a terminal reads as high.

        Args:
            end: the terminal.
        """
        return self.on(end)[0] > 0.5
