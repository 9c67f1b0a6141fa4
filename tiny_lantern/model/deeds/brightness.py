"""How bright lights are, or one of their colours."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.deed import Names, Valued


class Brightness(Valued):
    """The light of all colours, or of one, times a share."""

    kind: Literal["brightness"] = "brightness"
    word: ClassVar[str] = "brightness"
    rank: ClassVar[int] = 10
    colour: Literal["all", "red", "green", "blue"] = "all"
    low: Annotated[float, Field(ge=0, le=1)] = 0.0
    high: Annotated[float, Field(ge=0, le=1)] = 1.0
    even: bool = True

    def told(self, build: Names) -> str:
        """What it does, in words.

        Args:
            build: the build.
        """
        what = "the brightness" if self.colour == "all" else f"the {self.colour}"
        return f"{what} of {self.lights(build)} goes from {self.low:.0%} to {self.high:.0%}"
