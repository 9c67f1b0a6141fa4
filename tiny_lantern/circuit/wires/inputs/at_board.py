"""What an input is wired from: its board's rails and pin, and its own terminals."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

from tiny_lantern.circuit.conductor import CHIPS, COMMONS, CONTROL, Conductor, End, InLine
from tiny_lantern.circuit.elements.conducting import Conducting
from tiny_lantern.circuit.fitted import Fitted
from tiny_lantern.circuit.wires.hookup import resistor
from tiny_lantern.circuit.wires.rails import logic_rail, zero_rail
from tiny_lantern.model.build import Build
from tiny_lantern.model.drive import Board
from tiny_lantern.model.edits import item
from tiny_lantern.model.input import READS, Input

Kind = TypeVar("Kind", bound=Input)
BOARD_PULL_OHM = 35e3  # what boards pull their own pins up with, about


@dataclass(frozen=True)
class AtBoard(Generic[Kind]):
    """An input of a build, about to be wired."""

    build: Build
    input: Kind

    @cached_property
    def board(self) -> Board:
        """The board that reads it."""
        return item(self.build.boards, self.input.board_id, "board")

    @property
    def zero(self) -> End:
        """The rail that all returns meet on."""
        return zero_rail()

    @property
    def logic(self) -> End:
        """The rail of what the board's pins give."""
        return logic_rail(self.build, self.board)

    @property
    def pin(self) -> End:
        """The board's pin that reads it."""
        pin = self.input.pin
        if pin is None:
            return End(self.board.name, f"no pin yet, {self.input.name}", of=f"{self.board.id}/{self.input.id}/{READS}")
        return End(self.board.name, f"pin {pin.pin}", of=self.board.id)

    def end(self, terminal: str) -> End:
        """A terminal of the input.

        Args:
            terminal: which.
        """
        return End(self.input.name, terminal, of=self.input.id)

    def row(self, key: str, start: End, end: End, ohm: float | None = None, role: str = "control") -> Conductor:
        """A conductor of the input.

        Args:
            key: its key within the input.
            start: one end.
            end: the other.
            ohm: a resistor in it, None without. [ohm]
            role: what it is for.
        """
        group = {"return": COMMONS, "logic supply": CHIPS}.get(role, CONTROL)
        in_line: tuple[InLine, ...] = resistor(ohm)
        return Conductor(f"{self.input.id}/{key}", group, start, end, in_line, role)

    def pulled_inside(self) -> Fitted:
        """The board's own resistor, from the pin to what the pins give."""
        ends, name = (self.pin, self.logic), f"{self.input.id} pull inside {self.board.id}"
        return Fitted(
            name, ends, lambda _, at: (Conducting(name, at(ends[0]), at(ends[1]), BOARD_PULL_OHM, "resistor"),)
        )
