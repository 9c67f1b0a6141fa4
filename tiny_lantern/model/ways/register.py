"""Latch registers."""

from __future__ import annotations

from typing import ClassVar, Literal

from tiny_lantern.model.drive import Fed
from tiny_lantern.model.ways.chain import Chain


class RegisterChain(Chain, Fed):
    """Latch registers, a lamp behind a resistor on each output; ``sink`` when lamps lie between supply and output."""

    kind: Literal["register"] = "register"
    word: ClassVar[str] = "latch registers"
    at: ClassVar[str] = "on a register"
    wins: ClassVar[str] = "many lamps that stay lit, on three pins"
    rank: ClassVar[int] = 40
    sink: bool = False
