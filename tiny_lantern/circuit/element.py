"""What every element of a circuit is: terminals on nodes, a law made of branches, and a reading of it when solved."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, ClassVar, Protocol

import numpy as np
from numpy.typing import NDArray

from tiny_lantern.circuit.shapes import Shape

if TYPE_CHECKING:
    from tiny_lantern.circuit.laws import Laws

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Reading:
    """What a solution says of an element: its current, by the sign of its kind, and the electrical power that flows
    into it over its terminals, which is negative for what delivers. [A], [W]"""

    current_a: float
    power_w: float


@dataclass(frozen=True)
class At:
    """A solution as one element sees it: the voltage of any node, what flows into the element, and of each branch of
    its own, ramps first, the current from its start to its end and the voltage across it, (n_branches,). [A], [V]"""

    volts: Callable[[str], float]
    branch_a: Floats
    power_w: float
    branch_v: Floats

    def across(self, one: str, other: str) -> float:
        """Volts of one node above another. [V]

        Args:
            one: name of a node.
            other: name of a node.
        """
        return self.volts(one) - self.volts(other)


class Element(Protocol):
    """A part of a circuit; ``TERMINALS`` are its fields that name nodes."""

    TERMINALS: ClassVar[tuple[str, ...]]

    @property
    def id(self) -> str:
        """Its name among the elements."""
        ...

    @property
    def shape(self) -> Shape:
        """How it is drawn."""
        ...

    def nodes(self) -> tuple[str, ...]:
        """The nodes that its terminals hang on."""
        ...

    def lay(self, laws: Laws) -> None:
        """Add its law, branch by branch.

        Args:
            laws: what gathers the branches of a circuit.
        """
        ...

    def read(self, at: At) -> Reading:
        """What a solution says of it.

        Args:
            at: the solution.
        """
        ...
