"""What a computer tells over the cable: signals by names of the person's own, on or off, and the link itself."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, ClassVar, Literal

from pydantic import Field, StringConstraints

from tiny_lantern.model.drive import PinNeed
from tiny_lantern.model.input import Level, When
from tiny_lantern.model.parts.board import BoardPart

Lost = Literal["off", "on", "stays"]
StateWord = Annotated[str, StringConstraints(min_length=1, max_length=24, pattern=r"^[^=\x00-\x1f\x7f]+$")]


class OverCable(Level):
    """What comes over the cable: no pin, no wire, and nothing that bounces."""

    wired: ClassVar[bool] = False
    act: ClassVar[str] = "on"
    stays: ClassVar[bool] = True
    first: ClassVar[tuple[When, str]] = ("held", "seen")
    deaf_s: Annotated[float, Field(ge=0, le=10)] = 0.0

    def needs(self) -> Iterator[PinNeed]:
        """It takes no pin."""
        yield from ()

    def ends(self, board: BoardPart) -> tuple[int, int]:
        """0 off and 1 on. [-]

        Args:
            board: the part of its board.
        """
        return 0, 1


class ToldInput(OverCable):
    """A signal that a computer tells by its name, with words for off and on; when the link is lost it is off, on, or
    stays as it was told."""

    kind: Literal["told"] = "told"
    word: ClassVar[str] = "named signal from a computer"
    rank: ClassVar[int] = 70
    off_word: StateWord = "off"
    on_word: StateWord = "on"
    lost: Lost = "stays"

    @property
    def states(self) -> tuple[str, str]:
        """The words for off and on."""
        return self.off_word, self.on_word


class LinkInput(OverCable):
    """The link itself: on as long as the computer is heard, off when it is lost."""

    kind: Literal["link"] = "link"
    word: ClassVar[str] = "link to a computer"
    rank: ClassVar[int] = 80

    @property
    def states(self) -> tuple[str, str]:
        """Whether a computer is heard."""
        return "lost", "heard"
