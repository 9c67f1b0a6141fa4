"""All ways to drive: whatever file of this folder defines a class of them with a ``kind`` of its own."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from tiny_lantern.model import ways
from tiny_lantern.model.discovery import kinds_in
from tiny_lantern.model.drive import Driver

DRIVER_TYPES: dict[str, type[Driver]] = dict(sorted(kinds_in(ways, Driver).items(), key=lambda known: known[1].rank))
if TYPE_CHECKING:
    AnyDriver = Driver
else:
    AnyDriver = Annotated[Union[tuple(DRIVER_TYPES.values())], Field(discriminator="kind")]  # noqa: UP007
