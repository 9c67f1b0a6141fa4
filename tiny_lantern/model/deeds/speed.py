"""How fast the show, or one of its effects, runs."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from tiny_lantern.model.base import Id
from tiny_lantern.model.deed import Names, Valued, of_id
from tiny_lantern.model.refers import Refers


class Speed(Valued):
    """How many times as fast the whole show runs, or an effect, or the effects that lie on a piece alone or follow a
    group; where it was when the speed changes it goes on from."""

    kind: Literal["speed"] = "speed"
    word: ClassVar[str] = "speed"
    rank: ClassVar[int] = 20
    low: Annotated[float, Field(ge=0, le=15)] = 0.5
    high: Annotated[float, Field(ge=0, le=15)] = 2.0
    effect_id: Annotated[Id, Refers("effects")] | None = None

    def told(self, build: Names) -> str:
        """What it does, in words.

        Args:
            build: the build.
        """
        what = "the show" if self.piece_id is None and self.group_id is None else self.lights(build)
        if self.effect_id is not None:
            effect = of_id(build.effects, self.effect_id)
            what = f"the {effect.look.word} on {build.line.piece(effect.first.piece_id).name}"
        return f"the speed of {what} goes from ×{self.low:g} to ×{self.high:g}"
