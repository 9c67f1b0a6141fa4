"""A board that listens: to a computer at the other end of the cable that loads its program."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Frozen

Alone = Literal["show", "dark", "hold"]
Rate = Literal[57_600, 115_200, 250_000, 500_000, 1_000_000]
BITS_A_BYTE = 10


class Listening(Frozen):
    """How a board listens: at how many bits a second, after how long without a word it is on its own again, and what it
    does then: its own show, darkness, or the light that came last."""

    bits_per_s: Rate = 115_200
    alone_s: Annotated[float, Field(ge=0.5, le=60)] = 2.0
    alone: Alone = "show"
