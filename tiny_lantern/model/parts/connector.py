"""Connections in a conductor."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from tiny_lantern.model.base import Money, Ohms
from tiny_lantern.model.parts.part import Part


class ConnectorPart(Part):
    """A connection of so many contacts, one a conductor: the resistance of each and the current it may carry."""

    kind: Literal["connector"] = "connector"
    contact_ohm: Ohms
    limit_a: Annotated[float, Field(gt=0, le=1000)]
    cost: Money = 0.0
    ways: Annotated[int, Field(ge=1, le=200)] = 1
