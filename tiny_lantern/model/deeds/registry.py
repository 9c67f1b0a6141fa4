"""All that a rule can do: whatever file of this folder defines a class of it with a ``kind`` of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import deeds
from tiny_lantern.model.deed import Deed
from tiny_lantern.model.discovery import kinds_in

DEED_TYPES: dict[str, type[Deed]] = dict(sorted(kinds_in(deeds, Deed).items(), key=lambda known: known[1].rank))
if TYPE_CHECKING:
    AnyDeed = Deed
else:
    AnyDeed = Annotated[Union[tuple(DEED_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
