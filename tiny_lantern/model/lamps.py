"""Pieces that are no strip: lamps one by one, matrices, indicators, lamps that change by themselves, switched loads."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, ClassVar, Literal

from pydantic import Field, model_validator

from tiny_lantern.model.base import Id, revise
from tiny_lantern.model.fed import FedBy, unfed
from tiny_lantern.model.layouts import AlongLine, AsGrid, LampLayout
from tiny_lantern.model.notes import Order
from tiny_lantern.model.piece import PLACING, DataBoardId, Piece
from tiny_lantern.model.refers import Refers

MAX_LAMPS = 5000
SEGMENTS = 8
Spacing = Annotated[float, Field(ge=1e-4, le=10)]
LampPartId = Annotated[Id, Refers("parts.lamp")]
LampCount = Annotated[int, Field(ge=1, le=MAX_LAMPS)]


class _Lamps(Piece):
    """Lamps of one part, in a row, on a ring, or each at a spot of its own."""

    part_id: LampPartId
    lamp_count: LampCount
    spacing_m: Spacing = 0.1
    layout: LampLayout = AlongLine()
    placing: ClassVar[tuple[str, ...]] = (*PLACING, "spacing_m")

    @property
    def slot_count(self) -> int:
        """How many lights it has. [-]"""
        return self.lamp_count

    @model_validator(mode="after")
    def _a_spot_for_each(self) -> _Lamps:
        if self.layout.shape == "spots" and len(self.layout.points_m) != self.lamp_count:
            raise ValueError(f"there are {len(self.layout.points_m)} spots for {self.lamp_count} lamps")
        return self


class LampGroup(_Lamps):
    """Single lamps or loose addressable ones. Those wired ``apart`` have a channel each; a series string and a parallel
    group have one together, and of ``branches`` each has a resistor of its own besides. ``tie`` says how what their
    leads share is wired: each from the rail, ``along`` from lamp to lamp, or from a ``board`` in their middle.
    ``colour_order`` is that of addressable ones, ``board_id`` the board whose data line they hang on, the first one
    when None, ``fed_by`` what feeds those."""

    kind: Literal["lamps"] = "lamps"
    wired: Literal["apart", "series", "parallel", "branches"] = "apart"
    tie: Literal["star", "along", "board"] = "star"
    colour_order: Order | None = None
    board_id: DataBoardId | None = None
    fed_by: FedBy | None = None

    def without(self, ids: Collection[str]) -> LampGroup | None:
        """The lamps on the first board's line when their own board is gone, on no source when theirs is."""
        kept = None if self.board_id in ids else self.board_id
        return None if self.part_id in ids else revise(self, board_id=kept, **unfed(self, ids))


class HoldGroup(_Lamps):
    """Lamps that change by themselves, on a rail that keeps them alive while they are dark."""

    kind: Literal["hold"] = "hold"


class Matrix(Piece):
    """Lamps in rows and columns that are scanned row by row."""

    kind: Literal["matrix"] = "matrix"
    part_id: LampPartId
    rows: Annotated[int, Field(ge=1, le=64)]
    columns: Annotated[int, Field(ge=1, le=64)]
    pitch_m: Spacing = 0.01
    layout: AsGrid = AsGrid()
    placing: ClassVar[tuple[str, ...]] = (*PLACING, "pitch_m")

    @property
    def part_count(self) -> int:
        """How many of its part it takes: one, with all its lamps. [-]"""
        return 1

    @property
    def slot_count(self) -> int:
        """How many lights it has. [-]"""
        return self.rows * self.columns


class Indicator(Piece):
    """A bar of segments, or figures of seven segments and a point each; ``count`` are the segments or the figures."""

    kind: Literal["indicator"] = "indicator"
    part_id: LampPartId
    form: Literal["bar", "figures"] = "bar"
    count: Annotated[int, Field(ge=1, le=200)] = 10
    pitch_m: Spacing = 0.01
    layout: AsGrid = AsGrid()
    placing: ClassVar[tuple[str, ...]] = (*PLACING, "pitch_m")

    @property
    def slot_count(self) -> int:
        """How many lights it has. [-]"""
        return self.count if self.form == "bar" else self.count * SEGMENTS

    @property
    def part_count(self) -> int:
        """How many of its part it takes: one for each figure, one for a bar. [-]"""
        return 1 if self.form == "bar" else self.count


class SwitchedLoad(Piece):
    """One load that is on or off as a whole."""

    kind: Literal["switched"] = "switched"
    part_id: Annotated[Id, Refers("parts.load")]
    layout: AsGrid = AsGrid()

    @property
    def slot_count(self) -> int:
        """How many lights it has. [-]"""
        return 1
