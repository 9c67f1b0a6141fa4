"""What every input has: a name, the board that reads it, its pin, what it gives at rest and fully moved."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from tiny_lantern.model.base import Frozen, Id, Name
from tiny_lantern.model.drive import BoardId, DriverPin, PinNeed
from tiny_lantern.model.parts.board import BoardPart
from tiny_lantern.model.parts.part import BillLine

When = Literal["turned", "held", "pressed", "released"]
READS: Literal["reads"] = "reads"
DEBOUNCE_S = 0.05


class Input(Frozen):
    """What every input has. ``word`` is what it is called, ``act`` what a person does to it, ``rank`` its place among
    the others, ``caution`` what stands where it is chosen; ``volts`` says that its pin reads volts, else high or low,
    ``stays`` that it stays as it is put, ``wired`` that it has a pin and wires; ``first`` is what a new one does: when,
    and which deed."""

    kind: str
    id: Id
    name: Name
    board_id: BoardId
    pins: Annotated[tuple[DriverPin, ...], Field(max_length=1)] = ()

    word: ClassVar[str] = ""
    act: ClassVar[str] = "pressed"
    rank: ClassVar[int] = 100
    caution: ClassVar[str] = ""
    volts: ClassVar[bool] = False
    stays: ClassVar[bool] = False
    wired: ClassVar[bool] = True
    first: ClassVar[tuple[When, str]] = ("pressed", "scene")

    def without(self, ids: Collection[str]) -> Self | None:
        """The input when other things go; None when its board does."""
        return None if self.board_id in ids else self

    def needs(self) -> Iterator[PinNeed]:
        """The pin that it needs."""
        yield PinNeed(self.id, READS, reads=self.volts, hears=not self.volts)

    def bill(self) -> Iterator[BillLine]:
        """What it takes beside resistors, as lines of the bill; nothing, unless a kind says otherwise."""
        yield from ()

    @property
    def states(self) -> tuple[str, str]:
        """What it is called at rest and fully moved, where it is one of the two."""
        return ("off", "on") if self.stays else ("low", "high")

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """What its pin reads at rest and fully moved: counts where it reads volts, else 0 low and 1 high. [-]

        Args:
            board: the part of its board.
        """
        raise NotImplementedError

    @property
    def pin(self) -> DriverPin | None:
        """Its pin; None as long as it has none."""
        return self.pins[0] if self.pins else None


class Level(Input):
    """An input whose pin reads high or low: deaf for ``deaf_s`` after each change that it told."""

    deaf_s: Annotated[float, Field(ge=0, le=10)] = DEBOUNCE_S


class Volts(Input):
    """An input whose pin reads volts; a reading counts only when it has moved by more than ``dead_band`` of the whole
    way, and so far from each end counts as the end."""

    volts: ClassVar[bool] = True
    act: ClassVar[str] = "turned"
    first: ClassVar[tuple[When, str]] = ("turned", "brightness")
    dead_band: Annotated[float, Field(ge=0, le=0.25)] = 0.01


def counts_of(share: float, board: BoardPart) -> int:
    """The counts that a board reads at a share of its reference. [-]

    Args:
        share: the share, 0 to 1. [-]
        board: the board's part.
    """
    steps = 1 << board.adc_bits
    return min(max(int(share * steps + 1e-9), 0), steps - 1)
