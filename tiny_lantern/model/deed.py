"""What every deed of a rule has in common: how it is told in words."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Annotated, Any, ClassVar, Protocol, Self

from pydantic import Field

from tiny_lantern.model.base import Frozen, Id
from tiny_lantern.model.line import Line
from tiny_lantern.model.piece import PieceId
from tiny_lantern.model.refers import Refers


def of_id(things: Iterable[Any], identity: str) -> Any:
    """The thing of an id; that it is there is checked when the build is made."""
    return next(thing for thing in things if thing.id == identity)


class Names(Protocol):
    """What a rule may name in its words: a build."""

    @property
    def line(self) -> Line:
        """The Line, with its pieces."""
        ...

    @property
    def groups(self) -> tuple[Any, ...]:
        """Groups of lights."""
        ...

    @property
    def effects(self) -> tuple[Any, ...]:
        """Effects of the show."""
        ...

    @property
    def scenes(self) -> tuple[Any, ...]:
        """Scenes of the show."""
        ...

    @property
    def inputs(self) -> tuple[Any, ...]:
        """What it answers to."""
        ...


class Deed(Frozen):
    """What a rule does; ``word`` is what it is called, ``rank`` its place among the others; ``follows`` says that it
    gives a value, which an input may turn, else it happens at a moment."""

    kind: str
    word: ClassVar[str] = ""
    rank: ClassVar[int] = 100
    follows: ClassVar[bool] = True

    def told(self, build: Names) -> str:
        """What it does, in words.

        Args:
            build: the build.
        """
        raise NotImplementedError

    def without(self, ids: Collection[str]) -> Self | None:
        """The deed when other things go; None when what it is about does."""
        return None if {each.identity for each in self.held} & set(ids) else self


class OnLights(Deed):
    """A deed on the lights of a piece or of a group, or on all of them."""

    piece_id: PieceId | None = None
    group_id: Annotated[Id, Refers("groups")] | None = None

    def lights(self, build: Names) -> str:
        """Which lights, in words.

        Args:
            build: the build.
        """
        if self.piece_id is not None:
            return build.line.piece(self.piece_id).name
        if self.group_id is not None:
            return str(of_id(build.groups, self.group_id).name)
        return "everything"


class Valued(OnLights):
    """A deed that gives a value between two ends, in so many ``steps`` where presses step through it; ``even`` where it
    changes evenly to the eye."""

    low: Annotated[float, Field(ge=0, le=15)] = 0.0
    high: Annotated[float, Field(ge=0, le=15)] = 1.0
    steps: Annotated[int, Field(ge=2, le=100)] = 2
    even: bool = False
