"""A data input: it draws nothing, and wants its level high against its own supply."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from tiny_lantern.circuit.element import At, Reading
from tiny_lantern.circuit.laws import Laws
from tiny_lantern.circuit.shapes import Shape
from tiny_lantern.electrical.data_level import NEEDED_SHARE


@dataclass(frozen=True)
class DataReading(Reading):
    """The level against its return, its own supply, and the level that it needs. [V]"""

    level_v: float
    supply_v: float
    needed_v: float

    @property
    def margin_v(self) -> float:
        """What the level has to spare. [V]"""
        return self.level_v - self.needed_v

    @property
    def holds(self) -> bool:
        """Whether the level is a high one."""
        return self.margin_v > 0


@dataclass(frozen=True)
class DataIn:
    """The data input of a pixel."""

    TERMINALS: ClassVar[tuple[str, ...]] = ("data", "plus", "minus")
    id: str
    data: str
    plus: str
    minus: str

    @property
    def shape(self) -> Shape:
        """See ``Element``."""
        return Shape("box")

    def nodes(self) -> tuple[str, ...]:
        """See ``Element``."""
        return self.data, self.plus, self.minus

    def lay(self, laws: Laws) -> None:
        """See ``Element``; its terminals are there, and nothing flows."""
        for name in self.nodes():
            laws.node(name)

    def read(self, at: At) -> DataReading:
        """See ``Element``."""
        level_v, supply_v = at.across(self.data, self.minus), at.across(self.plus, self.minus)
        return DataReading(0.0, 0.0, level_v, supply_v, NEEDED_SHARE * supply_v)
