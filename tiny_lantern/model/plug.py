"""Connectors between two halves of a build: it comes apart there, every wire that crosses on a contact of its own."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated

from pydantic import Field

from tiny_lantern.model.base import Frozen, Id, Name, revise
from tiny_lantern.model.piece import PieceId
from tiny_lantern.model.refers import Refers


class Plug(Frozen):
    """A connector of several numbered contacts, and the pieces that lie beyond it; boards, chips and supplies are on
    this side."""

    id: Id
    name: Name
    part_id: Annotated[Id, Refers("parts.connector")]
    piece_ids: Annotated[tuple[PieceId, ...], Field(min_length=1, max_length=1000)]

    def without(self, ids: Collection[str]) -> Plug | None:
        """The connector without some pieces; None when nothing is left beyond it, or its part is gone."""
        left = tuple(each for each in self.piece_ids if each not in ids)
        return revise(self, piece_ids=left) if left and self.part_id not in ids else None
