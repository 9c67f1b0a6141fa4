"""A demultiplexer."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.drive import Channel, ChipId, Fed, PinNeed, bits_for
from tiny_lantern.model.parts.chip import ChipPart
from tiny_lantern.model.parts.part import Shelf


class Demux(Fed):
    """A demultiplexer: one lamp lit at a time."""

    kind: Literal["demux"] = "demux"
    word: ClassVar[str] = "a demultiplexer"
    at: ClassVar[str] = "one at a time"
    wins: ClassVar[str] = "one lamp at a time, on few pins"
    rank: ClassVar[int] = 70
    chip_id: ChipId
    dwell_s: Annotated[float, Field(gt=0, le=1)] = 1e-3

    def output_count(self, shelf: Shelf) -> int | None:
        """How many outputs its chip has.

        Args:
            shelf: the parts of its build.
        """
        return shelf.find(ChipPart, self.chip_id).outputs

    def needs(self, channels: Sequence[Channel]) -> Iterator[PinNeed]:
        """Select lines for so many outputs, and one that enables them.

        Args:
            channels: its channels.
        """
        yield from (PinNeed(self.id, f"select {bit}") for bit in range(bits_for(len(channels))))
        yield PinNeed(self.id, "enable")
