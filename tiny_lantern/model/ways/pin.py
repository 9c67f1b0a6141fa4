"""Lamps on pins that are on or off."""

from __future__ import annotations

from typing import ClassVar, Literal

from tiny_lantern.model.drive import Driver


class PinDirect(Driver):
    """Each lamp on a pin of the board, on or off; ``sink`` when the lamp lies between the supply and the pin."""

    kind: Literal["pin"] = "pin"
    word: ClassVar[str] = "a pin each"
    at: ClassVar[str] = "on a pin"
    wins: ClassVar[str] = "few lamps, each on or off, within what a pin gives"
    rank: ClassVar[int] = 10
    sink: bool = False
