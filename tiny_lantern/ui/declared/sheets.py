"""Sheets: what to buy, cut, solder and load."""

from __future__ import annotations

from typing import TYPE_CHECKING

from tiny_lantern.ui.declared.station import Around, Station

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget


def _make(around: Around) -> QWidget:
    from tiny_lantern.ui.stations.sheets import SheetsStation  # loaded when first shown

    sheets = SheetsStation(around.session)
    sheets.render_show.connect(around.asks.render_show)
    return sheets


STATION = Station(number=6, title="Sheets", make=_make, empty="A sheet prints what was planned: begin with a strip.")
