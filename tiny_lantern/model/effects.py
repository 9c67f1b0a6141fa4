"""What an effect is: its span of lights, its time, how it is laid on those below, and its parameters."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING, Annotated, Any, Literal, Union

from pydantic import AfterValidator, Field, create_model

from tiny_lantern.effects.kind import ColourParameter, EffectKind, Parameter, TextParameter
from tiny_lantern.effects.registry import effect_kinds
from tiny_lantern.model.base import Colour, Frozen, Id, Seconds, revise
from tiny_lantern.model.piece import PieceId
from tiny_lantern.model.refers import Refers

Layer = Literal["replace", "add", "lighten", "dim"]


class SlotRef(Frozen):
    """One light: a slot of a piece, counted from 0."""

    piece_id: PieceId
    index: Annotated[int, Field(ge=0, le=1_000_000)]


class Look(Frozen):
    """What an effect looks like: a kind and the values of its parameters, which are fields of the class made for it."""

    kind: str

    @property
    def values(self) -> dict[str, Any]:
        """The parameters' values by name."""
        return {name: value for name, value in self if name != "kind"}

    @property
    def word(self) -> str:
        """Its kind as people read it."""
        return self.kind.replace("_", " ")

    def __reduce__(self) -> tuple[Any, ...]:
        """Sent to another process by its kind, since its class has no name in any module."""
        return _made, (self.kind, self.values)


def _made(kind: str, values: dict[str, Any]) -> Look:
    return LOOK_TYPES[kind](**values)


def _field(parameter: Parameter) -> tuple[Any, Any]:
    """The type and the default of a parameter's field."""
    if isinstance(parameter, ColourParameter):
        return Colour, parameter.default
    if isinstance(parameter, TextParameter):
        return _text_type(parameter), parameter.default
    kind = int if parameter.whole else float
    return Annotated[kind, Field(ge=parameter.low, le=parameter.high)], kind(parameter.default)


def _text_type(parameter: TextParameter) -> Any:
    def readable(text: str) -> str:
        parameter.read(text)
        return text

    return Annotated[str, Field(min_length=1, max_length=parameter.most), AfterValidator(readable)]


def _look_type(kind: EffectKind) -> type[Look]:
    """The class of looks of a kind."""
    fields = {parameter.name: _field(parameter) for parameter in kind.parameters}
    own = (Literal[kind.kind], kind.kind)
    made: type[Look] = create_model(
        kind.kind.title().replace("_", ""), __base__=Look, __doc__=kind.help, kind=own, **fields
    )  # type: ignore[call-overload]
    return made


LOOK_TYPES: dict[str, type[Look]] = {name: _look_type(kind) for name, kind in effect_kinds().items()}
LOOKS: tuple[Look, ...] = tuple(made() for made in LOOK_TYPES.values())  # type: ignore[call-arg]
if TYPE_CHECKING:
    AnyLook = Look
else:
    AnyLook = Annotated[Union[tuple(LOOK_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007


def look_of(kind: str, **values: Any) -> Look:
    """A look of a kind with some values, the others as they are by default.

    Args:
        kind: the kind; beside it come parameters' values by name.

    Raises:
        KeyError: there is no such kind.
        ValueError: a value is out of range, or there is no such parameter.
    """
    return _made(kind, values)


class Effect(Frozen):
    """A rectangle on the weave: lights ``first`` to ``last`` inclusive, from ``start_s`` for ``length_s``; ``mirrored``
    on its lights, ``turned`` round them by so many, played ``backward`` in time. One that follows a group has the
    lights of that group, in its order; ``first`` and ``last`` then only say where on the Line they lie."""

    id: Id
    first: SlotRef
    last: SlotRef
    start_s: Seconds
    length_s: Annotated[float, Field(ge=0.025, le=86_400)]
    layer: Layer = "replace"
    mirrored: bool = False
    turned: Annotated[int, Field(ge=-100_000, le=100_000)] = 0
    backward: bool = False
    group_id: Annotated[Id, Refers("groups")] | None = None
    look: AnyLook

    def without(self, ids: Collection[str]) -> Effect | None:
        """The effect on its lights of the Line when the group that it follows is gone; None when its lights are."""
        if self.first.piece_id in ids or self.last.piece_id in ids:
            return None
        return revise(self, group_id=None)
