"""All kinds of part: whatever file of this folder defines a class of parts with a ``kind`` of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import parts
from tiny_lantern.model.discovery import kinds_in
from tiny_lantern.model.parts.part import Part

PART_TYPES: dict[str, type[Part]] = kinds_in(parts, Part)
if TYPE_CHECKING:
    AnyPart = Part
else:
    AnyPart = Annotated[Union[tuple(PART_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
