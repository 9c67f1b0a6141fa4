"""What a build's parts are in its circuit: terminals, and elements between them for a still."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from tiny_lantern.circuit.conductor import End
from tiny_lantern.circuit.element import Element

At = Callable[[End], str]


@dataclass(frozen=True)
class Still:
    """A still state: which outputs are lit, each by its driver's id and its number. ``stiff`` sources hold their
    voltage whatever they give; ``held`` are the ids of inputs that are pressed or moved all the way."""

    lit: frozenset[tuple[str, int]]
    stiff: bool = False
    held: frozenset[str] = frozenset()

    def on(self, driver_id: str, output: int) -> bool:
        """Whether an output is lit.

        Args:
            driver_id: the driver.
            output: the number of its output. [-]
        """
        return (driver_id, output) in self.lit


Law = Callable[[Still, At], Iterable[Element]]


@dataclass(frozen=True)
class Fitted:
    """A part: its terminals, and its elements for a still, between the nodes that its terminals are on; ``steered_by``
    are terminals that say what it does and carry nothing of what it switches."""

    name: str
    ends: tuple[End, ...]
    law: Law
    steered_by: tuple[End, ...] = ()


@dataclass(frozen=True)
class Same:
    """Two terminals that are one inside a part."""

    one: End
    other: End
