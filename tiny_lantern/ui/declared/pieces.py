"""Pieces: what is lit, with what, where."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.ui.declared.command import Command
from tiny_lantern.ui.declared.station import Around, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.pieces import PiecesStation  # loaded when first shown

    return PiecesStation(around.session, around.frames)


STATION = Station(
    number=1,
    title="Pieces",
    make=_make,
    empty="Nothing is here yet: add the first strip, then say where it lies and how long it is.",
    commands=(
        Command("add-strip", "Edit", 30, "Add a strip", "Ctrl+T", "Add a strip to the end of the Line",
                lambda s: s.add_strip()),
    ),
)  # fmt: skip
