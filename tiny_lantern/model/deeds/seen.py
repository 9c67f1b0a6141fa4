"""Whether an effect is seen."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

from tiny_lantern.model.base import Id
from tiny_lantern.model.deed import Names, Valued, of_id
from tiny_lantern.model.refers import Refers


class Seen(Valued):
    """An effect is seen while the input is on, or from five tenths of its way; ``otherwise`` while it is not. An effect
    over the whole show is so a look for a state."""

    kind: Literal["seen"] = "seen"
    word: ClassVar[str] = "whether an effect is seen"
    rank: ClassVar[int] = 25
    effect_id: Annotated[Id, Refers("effects")] | None = None
    otherwise: bool = False

    def told(self, build: Names) -> str:
        """What it does, in words.

        Args:
            build: the build.
        """
        if self.effect_id is None:
            return "no effect is seen, as none is chosen"
        effect = of_id(build.effects, self.effect_id)
        what = f"the {effect.look.word} on {build.line.piece(effect.first.piece_id).name}"
        return f"{what} is {'not ' if self.otherwise else ''}seen"
