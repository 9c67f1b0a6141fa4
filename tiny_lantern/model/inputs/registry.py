"""All kinds of input: whatever file of this folder defines a class of them with a ``kind`` of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import inputs
from tiny_lantern.model.discovery import kinds_in
from tiny_lantern.model.input import Input

INPUT_TYPES: dict[str, type[Input]] = dict(sorted(kinds_in(inputs, Input).items(), key=lambda known: known[1].rank))
if TYPE_CHECKING:
    AnyInput = Input
else:
    AnyInput = Annotated[Union[tuple(INPUT_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
