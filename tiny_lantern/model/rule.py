"""Rules: when something is done to an input, what follows."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Self

from pydantic import model_validator

from tiny_lantern.model.base import Frozen, Id, revise
from tiny_lantern.model.deed import Names, of_id
from tiny_lantern.model.deeds.registry import AnyDeed
from tiny_lantern.model.input import When
from tiny_lantern.model.refers import Refers

VALUED: tuple[When, ...] = ("turned", "held", "pressed")
MOMENTS: tuple[When, ...] = ("pressed", "released")


class Rule(Frozen):
    """When … then …: a value follows an input as it is ``turned``, is at its high end while the input is ``held`` and
    else at its low one, or goes a step further with each press and round; a moment is a press or its end.

    Several rules on one thing: their values multiply; of several moments in one frame the last in the list counts.
    """

    id: Id
    input_id: Annotated[Id, Refers("inputs")]
    when: When = "turned"
    does: AnyDeed

    @model_validator(mode="after")
    def _fits(self) -> Rule:
        fitting = VALUED if self.does.follows else MOMENTS
        if self.when not in fitting:
            raise ValueError(f"{self.does.word} is for an input that is {' or '.join(fitting)}")
        return self

    def without(self, ids: Collection[str]) -> Self | None:
        """The rule when other things go; None when its input or what it is about does."""
        left = None if self.input_id in ids else self.does.without(ids)
        return None if left is None else revise(self, does=left)

    def told(self, build: Names) -> str:
        """The rule in words.

        Args:
            build: the build.
        """
        one = of_id(build.inputs, self.input_id)
        name = one.name
        begin = {
            "turned": f"as {name} is {one.act}", "held": f"while {name} is {one.states[1] if one.stays else 'held'}",
            "pressed": f"with each press of {name}", "released": f"when {name} is let go",
        }[self.when]  # fmt: skip
        steps = f", in {self.does.steps} steps" if self.when == "pressed" and self.does.follows else ""  # type: ignore[attr-defined]
        return f"{begin[0].upper()}{begin[1:]}, {self.does.told(build)}{steps}"
