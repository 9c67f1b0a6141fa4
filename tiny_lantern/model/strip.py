"""Runs of addressable pixels on copper of their own: strips and panels."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING, Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Id, Metres, revise
from tiny_lantern.model.layouts import AlongLine, AsGrid, Layout
from tiny_lantern.model.piece import DataBoardId, Piece
from tiny_lantern.model.refers import Refers

MAX_PIXELS = 50_000
Corner = Literal["top_left", "top_right", "bottom_left", "bottom_right"]


class PixelRun(Piece):
    """Pixels one after another on two rails. ``cuts`` open the positive rail before the pixels named; ``reach_m`` are
    the spans in which a feed can be soldered, everywhere when None. ``board_id`` is the board whose data line it hangs
    on, the first one when None."""

    if TYPE_CHECKING:

        @property
        def pixel_count(self) -> int:
            """How many pixels it has. [-]"""

    part_id: Annotated[Id, Refers("parts.strip")]
    pitch_m: Annotated[float, Field(ge=1e-4, le=10)]
    colour_order: Annotated[str, Field(pattern=r"^[RGBW]{1,4}$")]
    cuts: Annotated[tuple[int, ...], Field(max_length=5000)] = ()
    rail_pos_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)] | None = None
    rail_neg_ohm_per_m: Annotated[float, Field(ge=1e-6, le=1e4)] | None = None
    reach_m: Annotated[tuple[tuple[Metres, Metres], ...], Field(max_length=200)] | None = None
    board_id: DataBoardId | None = None

    def without(self, ids: Collection[str]) -> PixelRun | None:
        """The run on the first board's line when its own board is gone."""
        return None if self.part_id in ids else revise(self, board_id=None)

    @property
    def length_m(self) -> float:
        """Copper from the first end to the last. [m]"""
        return self.pixel_count * self.pitch_m

    @property
    def slot_count(self) -> int:
        """How many lights it has. [-]"""
        return self.pixel_count

    @property
    def axis_pitch_m(self) -> float:
        """The width of a pixel on the Line, which is its real one. [m]"""
        return self.pitch_m


class Strip(PixelRun):
    """One length of strip."""

    kind: Literal["strip"] = "strip"
    pixel_count: Annotated[int, Field(ge=1, le=MAX_PIXELS)]
    layout: Layout = AlongLine()


class Panel(PixelRun):
    """A run laid in rows and columns: from a corner, rows or columns first, turning back at each end where
    ``serpentine``. ``pitch_m`` is from pixel to pixel along it, ``cross_pitch_m`` from one row to the next."""

    kind: Literal["panel"] = "panel"
    rows: Annotated[int, Field(ge=1, le=1000)]
    columns: Annotated[int, Field(ge=1, le=1000)]
    columns_first: bool = False
    serpentine: bool = True
    corner: Corner = "top_left"
    cross_pitch_m: Annotated[float, Field(ge=1e-4, le=10)]
    layout: AsGrid = AsGrid()

    @property
    def pixel_count(self) -> int:
        """How many pixels it has. [-]"""
        return self.rows * self.columns
